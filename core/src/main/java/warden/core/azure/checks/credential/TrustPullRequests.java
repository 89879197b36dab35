package warden.core.azure.checks.credential;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.principal.Principal;
import warden.core.checks.CredentialCards;

/** Finds publishers that take tokens of pull requests. */
final class TrustPullRequests implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.TRUST_PULL_REQUESTS.told(
            "federated-credential-list",
            "Who may open a pull request can publish the site.",
            "Take tokens of one branch or environment only.",
            "Microsoft Entra documentation, \"Workload identity federation\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        for (Principal.Federated federated : subject.publisher().principal().federated()) {
            if (federated
                    .subject()
                    .filter(text -> text.endsWith(":pull_request"))
                    .isPresent()) {
                return subject.flagged(
                        CARD,
                        subject.called() + " takes the tokens of pull requests ("
                                + federated.subject().get() + ").",
                        List.of(federated.at()));
            }
        }
        return subject.open(subject.publisher().principal().unread());
    }
}
