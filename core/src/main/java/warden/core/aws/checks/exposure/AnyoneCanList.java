package warden.core.aws.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.checks.ExposureCards;

/** Finds buckets whose object names strangers can list. */
final class AnyoneCanList implements BucketCheck {
    private static final CheckCard CARD = ExposureCards.ANYONE_CAN_LIST;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        boolean sealed = !subject.sites().isEmpty() && subject.isMeantSealed();
        Severity severity = sealed ? Severity.HIGH : CARD.severity();
        return List.of(
                Strangers.judge(subject, CARD, severity, Ability.LIST, "list the names of the objects in the bucket"));
    }
}
