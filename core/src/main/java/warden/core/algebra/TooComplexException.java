package warden.core.algebra;

/** Says that a set grew past what is worth computing. Whoever asked answers "unknown", never a guess. */
public final class TooComplexException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    public TooComplexException(String what) {
        super(what, null, false, false);
    }
}
