package warden.core.aws.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck.Subject;
import warden.core.aws.policy.Actor;
import warden.core.survey.Need;

/** What strangers can do: unsigned callers first, then principals of any other account. */
final class Strangers {
    private static final Map<Class<?>, String> CALLED =
            Map.of(Actor.Anyone.class, "Anyone", Actor.AnyAccount.class, "Anybody with credentials of any account");

    private Strangers() {}

    /** Returns a verdict on one ability; {@code what} completes "Anyone can …" and names no objects. */
    static Verdict judge(Subject subject, CheckCard card, Severity severity, Ability ability, String what) {
        List<Need> needs = new ArrayList<>();
        for (Actor who : List.of(new Actor.Anyone(), new Actor.AnyAccount())) {
            Extent extent = subject.reach().strangersExtent(subject.bucket(), who, ability);
            if (extent.isSome()) {
                String says = CALLED.get(who.getClass()) + " can " + what + scope(extent) + ".";
                return new Verdict.Flagged(
                        Finding.of(card, subject.bucket().arn(), subject.site(), says, extent.because())
                                .as(severity)
                                .with(extent.witness()));
            }
            needs.addAll(subject.needs(extent));
        }
        return needs.isEmpty() ? subject.clean() : subject.unknown(needs);
    }

    /** Returns " (which …)" for a part, nothing for all. */
    static String scope(Extent extent) {
        return extent.kind() == Extent.Kind.ALL ? "" : " (" + String.join("; ", extent.which()) + ")";
    }
}
