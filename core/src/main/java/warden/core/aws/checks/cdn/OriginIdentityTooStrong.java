package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.policy.Actor;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.reach.Grantee;
import warden.core.aws.site.BucketSite;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds edges that may do more with the bucket than read it. */
final class OriginIdentityTooStrong implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
                    "origin-identity-too-strong",
                    Area.CDN,
                    Severity.MEDIUM,
                    "it may do more than read (high if it may write or delete and the behaviour passes such methods)",
                    "bucket-policy, distribution, origin-identity, origin-control",
                    "Visitors may change the site through the edge as soon as a behaviour passes their methods.",
                    "Grant the distribution s3:GetObject only.",
                    "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"")
            .atWorst(Severity.HIGH);

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Set<String> CHANGING = Set.of("PUT", "POST", "DELETE", "PATCH");

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (BucketSite site : subject.sites()) {
            for (Distribution distribution : site.distributions()) {
                for (Origin origin : distribution.origins()) {
                    boolean signs =
                            origin.identity().isPresent() || origin.control().isPresent();
                    if (signs
                            && origin.isRest()
                            && origin.bucket()
                                    .filter(subject.bucket().name()::equals)
                                    .isPresent()) {
                        verdicts.addAll(judge(subject, distribution, origin));
                    }
                }
            }
        }
        List<Need> unreadEdges = UnreadDistribution.needs(
                subject.cloud().unreadDistributionsAt(subject.bucket().name()));
        if (!unreadEdges.isEmpty() && verdicts.stream().noneMatch(Verdict.Flagged.class::isInstance)) {
            return List.of(subject.unknown(unreadEdges));
        }
        return verdicts;
    }

    private static List<Verdict> judge(Subject subject, Distribution distribution, Origin origin) {
        Grantee edge = BucketMatrix.edge(distribution, origin, subject.account());
        List<String> can = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        boolean mayChange = false;
        Extent shown = null;
        for (Ability ability : List.of(Ability.WRITE, Ability.DELETE, Ability.CHANGE_RULES)) {
            Extent extent = subject.reach().extent(subject.bucket(), edge, ability);
            boolean everybodyToo = extent.isSome()
                    && subject.reach()
                            .strangersExtent(subject.bucket(), new Actor.Anyone(), ability)
                            .isSome();
            if (extent.isSome() && !everybodyToo) {
                can.add(ability.word());
                shown = shown == null ? extent : shown;
            } else if (extent.kind() == Extent.Kind.UNKNOWN) {
                needs.addAll(subject.needs(extent));
                mayChange |= ability != Ability.CHANGE_RULES;
            }
        }
        if (shown == null) {
            return List.of(needs.isEmpty() ? subject.clean() : subject.unknown(needs));
        }
        boolean passes = distribution.behaviors().stream()
                .filter(behavior -> distribution.originsOf(behavior).contains(origin))
                .anyMatch(behavior -> behavior.methods().stream().anyMatch(CHANGING::contains));
        boolean worse = passes && (can.contains("write") || can.contains("delete"));
        String says = "The distribution " + distribution.id() + " may do more with the bucket than read: "
                + String.join(", ", can) + (worse ? ", and it passes visitors' methods that do it." : ".");
        Finding finding = Finding.of(CARD, subject.bucket().arn(), subject.site(), says, shown.because())
                .at(shown.because().stream().findFirst().map(Citation::path).orElse(""))
                .meaning(distribution.arn())
                .with(shown.witness());
        if (worse) {
            return List.of(new Verdict.Flagged(finding.as(Severity.HIGH)));
        }
        return passes && mayChange
                ? Verdict.atLeast(finding, Severity.HIGH, subject.unknown(needs))
                : List.of(new Verdict.Flagged(finding));
    }
}
