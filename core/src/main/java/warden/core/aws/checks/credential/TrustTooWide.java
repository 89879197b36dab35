package warden.core.aws.checks.credential;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.aws.permission.TokenTrust;
import warden.core.aws.permission.TokenTrust.Pinning;
import warden.core.checks.CredentialCards;

/** Finds roles for pipelines that other people's pipelines can assume. */
final class TrustTooWide implements TrustCheck {
    private static final CheckCard CARD = CredentialCards.TRUST_TOO_WIDE;

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
                        .flatMap(each -> finding(subject, each).stream())
                        .toList());
    }

    private static Optional<Finding> finding(Subject subject, TokenTrust trust) {
        Pinning pinning = trust.pinning();
        if (pinning == Pinning.REPOSITORIES && trust.pinsAudience()) {
            return Optional.empty();
        }
        String name = subject.role().name();
        String example = trust.subjects().witness().orElse("");
        String says =
                switch (pinning) {
                    case NOBODY -> name + " can be assumed by pipelines of any repository on " + trust.issuer() + ".";
                    case OWNER ->
                        name + " can be assumed by pipelines of any repository of the owner, such as " + example + ".";
                    case REPOSITORIES -> name + " does not ask for whom the token of " + trust.issuer() + " is meant.";
                };
        return Optional.of(subject.finding(CARD, trust.statement(), says));
    }
}
