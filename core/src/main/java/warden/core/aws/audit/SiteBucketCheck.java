package warden.core.aws.audit;

import java.util.List;
import warden.core.audit.Verdict;
import warden.core.survey.Need;

/** A check that asks its question of every bucket that serves a site; of one that may serve one, the answer is open. */
public interface SiteBucketCheck extends BucketCheck {
    /** Returns the verdicts on a bucket that serves a site; none where the question does not apply to it. */
    List<Verdict> judge(Subject subject);

    @Override
    default List<Verdict> examine(Subject subject) {
        if (!subject.sites().isEmpty()) {
            return judge(subject);
        }
        List<Need> open = subject.mayServeSite();
        return open.isEmpty() ? List.of() : List.of(subject.unknown(open));
    }
}
