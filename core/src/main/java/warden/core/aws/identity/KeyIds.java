package warden.core.aws.identity;

/** Ids of access keys, as outputs may show them. */
public final class KeyIds {
    private static final int SHORTEST = 12;
    private static final int SHOWN = 4;

    private KeyIds() {}

    /** Returns the ends of an id only: in full it names an account's secret half. */
    public static String shortened(String id) {
        return id.length() < SHORTEST ? "…" : id.substring(0, SHOWN) + "…" + id.substring(id.length() - SHOWN);
    }
}
