package warden.core.azure.checks.leftovers;

import java.util.List;
import warden.core.audit.Check;

/** The checks of this area. */
public final class LeftoversChecks {
    private LeftoversChecks() {}

    /** Returns the area's checks. */
    public static List<Check> all() {
        return List.of(new LeftoverDistribution(), new LeftoverZone(), new LeftoverPublisher());
    }
}
