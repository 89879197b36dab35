package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.access.Decision;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.reach.Possibility;
import warden.core.aws.storage.Bucket;
import warden.core.checks.CredentialCards;
import warden.core.pipeline.Needed;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds publishing credentials that can take away what a bad deployment is undone with. */
final class PublisherCanLoseVersions implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_CAN_LOSE_VERSIONS;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        Set<String> needed =
                subject.needed().needed().stream().map(Needed::action).collect(Collectors.toSet());
        for (Bucket bucket : subject.buckets()) {
            List<String> can = new ArrayList<>();
            List<Citation> because = new ArrayList<>();
            Possibility versions = subject.permissions()
                    .can(
                            "s3:DeleteObjectVersion",
                            () -> objects(bucket),
                            () -> List.of(bucket.object("index.html")),
                            Map.of());
            if (versions instanceof Possibility.Allowed allowed) {
                can.add("s3:DeleteObjectVersion");
                because.addAll(allowed.decision().because());
            } else if (versions instanceof Possibility.Open open && !needed.contains("s3:DeleteObjectVersion")) {
                needs.addAll(open.needs());
            }
            for (String action : List.of("s3:PutBucketVersioning", "s3:PutLifecycleConfiguration")) {
                Decision decision = subject.permissions().asDeployment(action, bucket.arn(), Map.of());
                if (decision.outcome() == Decision.Outcome.ALLOW) {
                    can.add(action);
                    because.addAll(decision.because());
                } else if (!needed.contains(action)) {
                    needs.addAll(decision.needs());
                }
            }
            can.removeAll(needed);
            if (!can.isEmpty()) {
                String says = subject.name() + " can lose old versions in " + bucket.name() + " for good: "
                        + String.join(", ", can) + ".";
                verdicts.add(
                        new Verdict.Flagged(subject.finding(CARD, says, because).at(bucket.name())));
            }
        }
        if (verdicts.isEmpty() && !needs.isEmpty()) {
            return List.of(subject.unknown(needs.stream().distinct().toList()));
        }
        return verdicts.isEmpty() ? List.of(subject.cleanUnlessUnread()) : verdicts;
    }

    private static Language objects(Bucket bucket) {
        return Language.matching(Glob.literal(bucket.arn() + "/").then(Glob.parse("?*")));
    }
}
