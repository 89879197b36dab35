package warden.core.checks.credential;

import java.util.List;
import warden.core.check.Check;

/** The checks of the area "credential". */
public final class CredentialChecks {
    private CredentialChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new PublisherIsAdmin(), new PublisherBeyondItsSites(), new PublisherCannotPublish(), new KeyOld());
    }
}
