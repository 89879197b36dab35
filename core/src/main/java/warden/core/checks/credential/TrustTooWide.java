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
import warden.core.power.TokenTrust.Pinning;
import warden.core.site.Site;
import warden.core.survey.Citation;

/** Finds roles for pipelines that other people's pipelines can assume. */
final class TrustTooWide implements Check {
    private static final CheckCard CARD = new CheckCard(
            "trust-too-wide",
            Area.CREDENTIAL,
            Severity.CRITICAL,
            "a role that a pipeline assumes by token does not pin repository and audience, or pins them by a pattern that others can match",
            "iam-role",
            "Anyone with a repository on the same host can publish the site, and do whatever else the role may.",
            "Let the subject be one repository and one branch, and the audience the one that the pipeline asks for: StringEquals on both.",
            "IAM User Guide, \"Create a role for OpenID Connect federation\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Principal role : account.directory().principals()) {
                role.trust().ifPresent(trust -> {
                    List<TokenTrust> trusts = TokenTrust.of(trust);
                    List<Verdict> found = trusts.stream()
                            .flatMap(each -> judge(setup, role, each).stream())
                            .toList();
                    verdicts.addAll(found);
                    if (found.isEmpty() && !trusts.isEmpty()) {
                        verdicts.add(new Verdict.Clean(role.arn().toString(), site(setup, role)));
                    }
                });
            }
        }
        return verdicts;
    }

    private static Optional<Verdict> judge(Setup setup, Principal role, TokenTrust trust) {
        Pinning pinning = trust.pinning();
        if (pinning == Pinning.REPOSITORIES && trust.pinsAudience()) {
            return Optional.empty();
        }
        String example = trust.subjects().witness().orElse("");
        String says =
                switch (pinning) {
                    case NOBODY ->
                        role.name() + " can be assumed by pipelines of any repository on " + trust.issuer() + ".";
                    case OWNER ->
                        role.name() + " can be assumed by pipelines of any repository of the owner in "
                                + example.substring(0, example.indexOf('/') + 1) + "….";
                    case REPOSITORIES ->
                        role.name() + " does not ask for whom the token of " + trust.issuer() + " is meant.";
                };
        Citation at = role.at()
                .at(trust.statement().at().toString(), trust.statement().text());
        Finding finding = Finding.of(CARD, role.arn().toString(), site(setup, role), says, List.of(at))
                .at(trust.statement().at().toString());
        // Whoever may make a repository for the owner is not just anybody.
        return Optional.of(new Verdict.Flagged(pinning == Pinning.NOBODY ? finding : finding.as(Severity.HIGH)));
    }

    private static Optional<String> site(Setup setup, Principal role) {
        return setup.publishers().stream()
                .filter(publisher -> publisher.principal().arn().equals(role.arn()))
                .flatMap(publisher -> publisher.sites().stream())
                .findFirst()
                .map(Site::name);
    }
}
