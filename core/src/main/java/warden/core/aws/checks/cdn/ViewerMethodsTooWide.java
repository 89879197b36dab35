package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;

/** Finds behaviours in front of a bucket that pass methods which change things. */
final class ViewerMethodsTooWide implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "viewer-methods-too-wide",
            Area.CDN,
            Severity.MEDIUM,
            "a storage behaviour passes methods that change things",
            "distribution",
            "What keeps visitors from changing the bucket is its policy alone.",
            "Allow GET and HEAD (and OPTIONS where scripts of other origins need it).",
            "CloudFront Developer Guide, \"Cache behavior settings\", section \"Allowed HTTP methods\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Set<String> CHANGING = Set.of("PUT", "POST", "DELETE", "PATCH");

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Behavior behavior : subject.distribution().behaviors()) {
            if (subject.storageOrigin(behavior).isEmpty()) {
                continue;
            }
            List<String> passed = behavior.methods().stream()
                    .filter(CHANGING::contains)
                    .sorted()
                    .toList();
            String says = "In front of a bucket, " + behavior.called() + " passes " + String.join(", ", passed) + ".";
            verdicts.add(
                    passed.isEmpty()
                            ? subject.clean()
                            : new Verdict.Flagged(Finding.of(
                                            CARD,
                                            subject.distribution().arn(),
                                            subject.site(),
                                            says,
                                            List.of(subject.distribution().cite(behavior)))
                                    .at(behavior.pathPattern().orElse("*"))));
        }
        return verdicts;
    }
}
