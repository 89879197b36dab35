package warden.core.audit;

/** What can be said of a site as a whole. */
public enum Standing {
    /** Every check was asked, each answered that nothing is wrong, and nothing was agreed to be left. */
    HEALTHY("healthy"),
    /** What serves it is not modelled, such as a managed front: checks say nothing about that. */
    NOT_JUDGED("not judged"),
    /** Something is wrong or not known, or not every check was asked. */
    OPEN("");

    private final String word;

    Standing(String word) {
        this.word = word;
    }

    /** Returns the word that reports use; empty where counts say it all. */
    public String word() {
        return word;
    }
}
