package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.identity.Principal;
import warden.core.power.TokenTrust;
import warden.core.site.Site;
import warden.core.survey.Citation;

/** Finds roles for pipelines that let in pull requests or any branch. */
final class TrustPullRequests implements Check {
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
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Principal role : account.directory().principals()) {
                role.trust().ifPresent(trust -> TokenTrust.of(trust)
                        .forEach(each -> verdicts.add(judge(setup, role, each))));
            }
        }
        return verdicts;
    }

    private static Verdict judge(Setup setup, Principal role, TokenTrust trust) {
        List<String> admits = trust.admits();
        if (admits.isEmpty()) {
            return new Verdict.Clean(role.arn().toString(), site(setup, role));
        }
        Citation at = role.at()
                .at(trust.statement().at().toString(), trust.statement().text());
        String says = role.name() + " can be assumed from " + String.join(" and ", admits)
                + ", before anybody looked at the code.";
        return new Verdict.Flagged(Finding.of(CARD, role.arn().toString(), site(setup, role), says, List.of(at))
                .at(trust.statement().at().toString()));
    }

    private static Optional<String> site(Setup setup, Principal role) {
        return setup.publishers().stream()
                .filter(publisher -> publisher.principal().arn().equals(role.arn()))
                .flatMap(publisher -> publisher.sites().stream())
                .findFirst()
                .map(Site::name);
    }
}
