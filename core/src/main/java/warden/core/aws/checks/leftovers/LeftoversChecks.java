package warden.core.aws.checks.leftovers;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "leftovers". */
public final class LeftoversChecks {
    private LeftoversChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new LeftoverCertificate(), new LeftoverDistribution(), new LeftoverZone(), new LeftoverPublisher());
    }
}
