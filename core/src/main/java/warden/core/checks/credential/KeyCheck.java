package warden.core.checks.credential;

import java.util.List;
import warden.core.audit.EachCheck;
import warden.core.audit.Setup;
import warden.core.audit.Verdict;

/** A check that asks its question of every active access key. */
interface KeyCheck extends EachCheck<AccessKey> {
    @Override
    default List<AccessKey> subjects(Setup setup) {
        return setup.subjects(KeyCheck.class, () -> AccessKey.active(setup));
    }

    @Override
    default List<Verdict> unread(Setup setup) {
        return AccessKey.unread(setup);
    }
}
