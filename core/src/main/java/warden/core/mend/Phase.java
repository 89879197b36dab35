package warden.core.mend;

/** When a change is made: the new way in is opened before the old one is closed, and nothing is guarded that still has to be changed. */
public enum Phase {
    /** Lets somebody in who is needed later. */
    LET_IN,
    /** Changes the way that visitors or publishers go. */
    SWITCH,
    /** Takes away the way that nobody needs any more. */
    SHUT_OUT,
    /** Keeps it from being opened again, or from being lost. */
    GUARD,
    /** Takes away what is left over. */
    TIDY
}
