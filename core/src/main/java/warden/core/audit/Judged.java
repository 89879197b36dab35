package warden.core.audit;

import java.util.List;
import warden.core.survey.Need;

/** What a check asks its question of: one thing of the set-up, with its surroundings. */
public interface Judged {
    /** Returns the verdict that, about this thing, it cannot be told. */
    Verdict unknown(List<Need> needs);

    /** Lets go of what was worked out for this thing alone: all checks have asked. */
    default void letGo() {}
}
