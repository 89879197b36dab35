package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.identity.HeldPolicy;
import warden.core.policy.Effect;
import warden.core.policy.Truth;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.survey.Citation;

/** Finds publishing credentials that can do everything. */
final class PublisherIsAdmin implements Check {
    private static final CheckCard CARD = new CheckCard(
            "publisher-is-admin",
            Area.CREDENTIAL,
            Severity.CRITICAL,
            "it can do everything",
            "iam-user, iam-group, iam-role, iam-policy, organization-policy",
            "Whoever gets hold of the pipeline, or of its key, owns the account.",
            "Replace its policies by one that lists, puts and deletes in the site's bucket and invalidates its distribution.",
            "IAM User Guide, \"Security best practices in IAM\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Publisher publisher : setup.publishers()) {
            verdicts.add(judge(publisher));
        }
        verdicts.addAll(CredentialNeeds.unread(setup));
        return verdicts;
    }

    private static Verdict judge(Publisher publisher) {
        Optional<String> site = publisher.sites().stream().findFirst().map(Site::name);
        Truth admin = AdminRights.isAdmin(publisher.principal().holdings());
        if (admin == Truth.FALSE) {
            return new Verdict.Clean(publisher.arn(), site);
        }
        if (admin == Truth.UNKNOWN) {
            return CredentialNeeds.unknown(publisher, site);
        }
        List<Citation> because = new ArrayList<>();
        for (HeldPolicy policy : publisher.principal().holdings().policies()) {
            policy.document().statements().stream()
                    .filter(statement -> !statement.isOpaque() && statement.effect() == Effect.ALLOW)
                    .filter(statement -> statement.actions().language().isEverything())
                    .findFirst()
                    .ifPresent(statement -> because.add(policy.cite(statement)));
        }
        if (because.isEmpty()) {
            because.add(publisher.principal().at());
        }
        String says = publisher.principal().name() + " publishes"
                + site.map(name -> " " + name).orElse("") + " and can do everything in the account.";
        return new Verdict.Flagged(Finding.of(CARD, publisher.arn(), site, says, because));
    }
}
