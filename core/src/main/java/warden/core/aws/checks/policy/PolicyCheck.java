package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;

/** A check that asks its question of every bucket policy, and perhaps of every other policy. */
interface PolicyCheck extends AwsCheck<PolicySubject> {
    /** Returns what is wrong with one policy; empty when nothing is. */
    List<Verdict> judge(PolicySubject subject);

    /** True for checks that look at the policies of keys, users, groups, roles and the organization too. */
    default boolean asksOfAllKinds() {
        return false;
    }

    @Override
    default List<PolicySubject> subjects(AwsContext context) {
        return asksOfAllKinds()
                ? context.subjects(PolicySubject.class, () -> PolicySubject.all(context))
                : context.subjects(PolicyCheck.class, () -> PolicySubject.ofBuckets(context));
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        List<Verdict> verdicts = new ArrayList<>(PolicySubject.otherBuckets(context));
        if (asksOfAllKinds()) {
            verdicts.addAll(PolicySubject.unreadOthers(context));
        }
        return verdicts;
    }

    @Override
    default List<Verdict> examine(PolicySubject subject) {
        List<Verdict> wrong = judge(subject);
        return wrong.isEmpty() ? List.of(subject.clean()) : wrong;
    }
}
