package warden.core.aws.checks.credential;

import java.util.List;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;

/** A check that asks its question of every active access key. */
interface KeyCheck extends AwsCheck<AccessKey> {
    @Override
    default List<AccessKey> subjects(AwsContext context) {
        return context.subjects(KeyCheck.class, () -> AccessKey.active(context));
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        return AccessKey.unread(context);
    }
}
