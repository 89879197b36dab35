package warden.core.check;

import warden.core.algebra.TooComplexException;
import warden.core.survey.Need;

/** Turns "too complex" into what an unknown verdict says. */
public final class TooComplex {
    private TooComplex() {}

    /** Returns the need for a simpler document. */
    public static Need need(String aspect, String of, TooComplexException tooComplex) {
        return new Need(aspect, of, "too complex: " + tooComplex.getMessage(), "");
    }
}
