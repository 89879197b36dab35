package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.cdn.Distribution;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.decision.Decision;
import warden.core.decision.Evaluator;
import warden.core.decision.Request;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SitePattern;
import warden.core.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds publishing credentials that lack what a deployment of their site takes. */
final class PublisherCannotPublish implements Check {
    private static final CheckCard CARD = new CheckCard(
            "publisher-cannot-publish",
            Area.CREDENTIAL,
            Severity.HIGH,
            "something the deployment needs is not allowed (each one named)",
            "iam-user, iam-group, iam-role, iam-policy, bucket-policy, key-policy",
            "The next deployment stops half-way, or the new version is not what visitors get.",
            "Allow what is named, on the site's own bucket and distribution.",
            "AWS CLI User Guide, \"Using high-level (s3) commands\"; CloudFront Developer Guide, \"Invalidate files to remove"
                    + " content\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Publisher publisher : setup.publishers()) {
            for (Site site : publisher.sites()) {
                if (site.account() == publisher.account() && !isServedElsewhere(site)) {
                    verdicts.add(judge(setup, publisher, site));
                }
            }
        }
        return verdicts;
    }

    private static boolean isServedElsewhere(Site site) {
        return site.buckets().isEmpty()
                || site.pattern().filter(SitePattern.REDIRECT_ONLY::equals).isPresent();
    }

    private static Verdict judge(Setup setup, Publisher publisher, Site site) {
        Evaluator evaluator = setup.estate().reach(publisher.account()).evaluator();
        List<String> missing = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        List<Citation> because = new ArrayList<>(List.of(publisher.principal().at()));
        needed(site).forEach((action, resource) -> {
            Context context = Context.given(Map.of("aws:SecureTransport", ContextValue.Known.of("true")));
            Decision decision = evaluator.decide(new Request(publisher.actor(), action, resource, context));
            if (decision.outcome() == Decision.Outcome.DENY) {
                missing.add(action);
                because.addAll(decision.because());
            } else if (decision.outcome() == Decision.Outcome.UNKNOWN) {
                needs.addAll(decision.needs());
            }
        });
        Optional<String> name = Optional.of(site.name());
        if (!missing.isEmpty()) {
            String says = publisher.principal().name() + " publishes " + site.name() + " and is not allowed "
                    + String.join(", ", missing) + ".";
            return new Verdict.Flagged(
                    Finding.of(CARD, publisher.arn(), name, says, because).at(site.name()));
        }
        return needs.isEmpty()
                ? new Verdict.Clean(publisher.arn(), name)
                : new Verdict.Unknown(publisher.arn(), name, needs);
    }

    /** Returns what the site's pattern implies: list, put and delete in its bucket, and invalidate its distribution. */
    private static Map<String, String> needed(Site site) {
        Map<String, String> needed = new LinkedHashMap<>();
        Bucket bucket = site.buckets().get(0);
        needed.put("s3:ListBucket", bucket.arn());
        needed.put("s3:PutObject", bucket.object("index.html"));
        needed.put("s3:DeleteObject", bucket.object("index.html"));
        for (Distribution distribution : site.distributions()) {
            needed.put("cloudfront:CreateInvalidation", distribution.arn());
        }
        return needed;
    }
}
