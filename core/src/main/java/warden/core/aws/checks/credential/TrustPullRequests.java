package warden.core.aws.checks.credential;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.aws.power.TokenTrust;

/** Finds roles for pipelines that let in pull requests or any branch. */
final class TrustPullRequests implements TrustCheck {
    private static final CheckCard CARD = new CheckCard(
            "trust-pull-requests",
            Area.CREDENTIAL,
            Severity.HIGH,
            "the trust's subject admits pull requests or any branch",
            "iam-role",
            "Code that nobody has looked at can publish the site.",
            "Let the subject end with the one branch that publishes, such as :ref:refs/heads/main, or with an environment that asks for approval.",
            "GitHub Docs, \"OpenID Connect reference\"; IAM User Guide, \"Create a role for OpenID Connect federation\"");

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
