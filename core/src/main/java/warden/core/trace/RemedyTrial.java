package warden.core.trace;

import java.util.ArrayList;
import java.util.List;
import warden.core.site.Estate;
import warden.core.trace.Tracer.Followed;

/** Makes a remedy on a copy of what was surveyed, and follows the same visit there: it is told with what then still is in the way. */
final class RemedyTrial {
    /** A visit that still fails after so many remedies wants more than a sentence. */
    private static final int MOST = 4;

    private final Estate estate;
    private final Visit visit;

    RemedyTrial(Estate estate, Visit visit) {
        this.estate = estate;
        this.visit = visit;
    }

    private static boolean isGiven(Trace trace) {
        return trace.surely(outcome -> !outcome.isError());
    }

    /** Returns all that is to be done until the page is given, in order; or how far that goes. */
    String told(Followed first) {
        List<String> told = new ArrayList<>();
        Estate copy = estate;
        Followed reached = first;
        while (told.size() < MOST) {
            Remedy next = reached.remedy();
            if (next.says().isEmpty() || told.contains(next.says())) {
                break;
            }
            told.add(next.says());
            if (next.changes().isEmpty()) {
                return joined(told);
            }
            copy = copy.with(next::appliedTo);
            reached = new Tracer(copy, true).follow(visit);
            if (isGiven(reached.trace())) {
                return joined(told);
            }
        }
        return told.isEmpty()
                ? ""
                : joined(told) + " That alone does not surely give the page: "
                        + reached.trace().why();
    }

    private static String joined(List<String> told) {
        return String.join(" Then: ", told);
    }
}
