package warden.core.check;

import java.util.List;

/** One question to a set-up. An implementation reads what was surveyed and nothing else. */
public interface Check {
    /** Returns the check's entry in the catalogue. */
    CheckCard card();

    /** Returns a verdict for each subject that the question applies to. */
    List<Verdict> examine(Setup setup);
}
