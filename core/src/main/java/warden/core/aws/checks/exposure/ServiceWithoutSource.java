package warden.core.aws.checks.exposure;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.survey.Need;

/** Finds buckets that a service may use on behalf of anybody. */
final class ServiceWithoutSource implements BucketCheck {
    private static final String CDN = "cloudfront.amazonaws.com";
    private static final CheckCard CARD = new CheckCard(
            "service-without-source",
            Area.EXPOSURE,
            Severity.HIGH,
            "a service principal is let in without naming the source that may use it",
            "bucket-policy",
            "Any customer of the service can have it act on the bucket for them (the confused deputy).",
            "Add a condition on aws:SourceArn or aws:SourceAccount that names your own distribution, app or account.",
            "IAM User Guide, \"The confused deputy problem\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (String service : services(subject)) {
            judge(subject, service).ifPresent(verdicts::add);
        }
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }

    private static Optional<Verdict> judge(Subject subject, String service) {
        Actor actor = new Actor.Service(service);
        List<Need> needs = new ArrayList<>();
        for (Ability ability : Ability.values()) {
            Extent extent = subject.reach().strangersExtent(subject.bucket(), actor, ability);
            boolean everybodyToo = subject.reach()
                    .strangersExtent(subject.bucket(), new Actor.Anyone(), ability)
                    .isSome();
            if (extent.isSome() && !everybodyToo) {
                String says = "The service " + service + " may " + ability.word() + " on behalf of anybody.";
                return Optional.of(new Verdict.Flagged(
                        Finding.of(CARD, subject.bucket().arn(), subject.site(), says, extent.because())
                                .at(service)
                                .with(extent.witness())));
            }
            needs.addAll(subject.needs(extent));
        }
        return needs.isEmpty() ? Optional.empty() : Optional.of(subject.unknown(needs));
    }

    /** Returns the services that the policy names; the CDN's has a check of its own, which says more. */
    private static Set<String> services(Subject subject) {
        Set<String> names = new LinkedHashSet<>();
        subject.bucket().policy().found().ifPresent(policy -> policy.statements().stream()
                .filter(Statement::mayAllow)
                .flatMap(statement -> statement.principals().stream())
                .flatMap(clause -> clause.elements().stream())
                .forEach(element -> {
                    if (element instanceof PrincipalElement.ServiceName named
                            && !named.name().equals(CDN)) {
                        names.add(named.name());
                    }
                }));
        return names;
    }
}
