package warden.core.azure.checks.credential;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.principal.Principal;
import warden.core.checks.CredentialCards;
import warden.core.survey.Need;

/** Finds publishers that take tokens of any repository. */
final class TrustTooWide implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.TRUST_TOO_WIDE.told(
            "federated-credential-list",
            "A stranger's repository can publish the site.",
            "Name one repository and branch, or environment, as the subject.",
            "Microsoft Entra documentation, \"Workload identity federation\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        for (Principal.Federated federated : subject.publisher().principal().federated()) {
            if (federated.expression().isEmpty()) {
                continue;
            }
            String expression = federated.expression().get();
            boolean names = expression.matches("(?s).*repo:[A-Za-z0-9_.-]+/[A-Za-z0-9_.-]+.*")
                    && !expression.matches("(?s).*repo:[^:'*]*\\*[^:']*'.*/.*");
            if (names) {
                return subject.open(new Need(
                        "federated-credential-list",
                        subject.publisher().principal().application().orElse(subject.id()),
                        "which tokens an expression takes is not certain",
                        ""));
            }
            return subject.flagged(
                    CARD,
                    subject.called() + " takes tokens by the expression " + expression
                            + ", which names no one repository.",
                    List.of(federated.at()));
        }
        return subject.open(subject.publisher().principal().unread());
    }
}
