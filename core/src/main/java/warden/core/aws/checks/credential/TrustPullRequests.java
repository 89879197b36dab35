package warden.core.aws.checks.credential;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.aws.permission.TokenTrust;
import warden.core.checks.CredentialCards;

/** Finds roles for pipelines that let in pull requests or any branch. */
final class TrustPullRequests implements TrustCheck {
    private static final CheckCard CARD = CredentialCards.TRUST_PULL_REQUESTS;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public Optional<List<Finding>> judge(Subject subject) {
        List<TokenTrust> trusts = TokenTrust.of(subject.trust());
        return trusts.isEmpty()
                ? Optional.empty()
                : Optional.of(trusts.stream()
                        .filter(trust -> !trust.admits().isEmpty())
                        .map(trust -> subject.finding(
                                CARD,
                                trust.statement(),
                                subject.role().name() + " can be assumed from " + String.join(" and ", trust.admits())
                                        + ", before anybody looked at the code."))
                        .toList());
    }
}
