package warden.core.trace;

/**
 * An address that tells much about a host.
 *
 * @param what what it stands for, in a few words
 */
public record Case(String what, WebAddress address) {
    /** What stands for a way around the edge begins so. */
    private static final String DIRECT = "bucket";

    /** True for the ways straight to the store that an edge does not see. */
    public boolean isAroundEdge() {
        return what.startsWith(DIRECT) || what.equals("website endpoint") || what.equals("blob endpoint");
    }
}
