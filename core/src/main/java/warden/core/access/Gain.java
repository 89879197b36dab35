package warden.core.access;

import java.util.List;
import warden.core.survey.Citation;

/**
 * What somebody may do in one of two states and not in the other.
 *
 * @param extent {@code ALL} or {@code SOME}
 * @param which patterns of keys, conditions, or actions
 * @param witness a request that is allowed in the one state and denied in the other: the shortest, then the first in code-point order
 * @param because what decides it in the one state, and in the other where something does
 */
public record Gain(Extent.Kind extent, List<String> which, Witness witness, List<Citation> because) {
    public Gain {
        which = List.copyOf(which);
        because = List.copyOf(because);
    }
}
