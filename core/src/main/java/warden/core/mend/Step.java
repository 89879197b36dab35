package warden.core.mend;

import java.util.List;
import java.util.Locale;

/**
 * A change in its place in a plan, and what was proven about the state after it.
 *
 * @param number from 1
 */
public record Step(int number, Change change, Edited edited, StepProof proof) {
    /** Returns the name of its folder. */
    public String folder() {
        return String.format(Locale.ROOT, "%02d-%s", number, change.name());
    }

    /** Returns the names of the files that it needs and that hold what is surveyed and what is to be. */
    public List<String> files() {
        return List.of(folder() + "/before.json", folder() + "/after.json");
    }
}
