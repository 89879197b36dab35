package warden.core.checks.credential;

import java.util.List;
import warden.core.check.EachCheck;
import warden.core.check.Setup;
import warden.core.check.Verdict;

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
