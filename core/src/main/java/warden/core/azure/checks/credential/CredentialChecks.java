package warden.core.azure.checks.credential;

import java.util.List;
import warden.core.audit.Check;

/** The checks of this area. */
public final class CredentialChecks {
    private CredentialChecks() {}

    /** Returns the area's checks. */
    public static List<Check> all() {
        return List.of(
                new PublisherIsAdmin(),
                new AssignmentTooWide(),
                new PublisherCanEscalate(),
                new PublisherCanChangeRules(),
                new PublisherCanLoseVersions(),
                new PublisherBeyondItsSites(),
                new PublisherExcessActions(),
                new PublisherExcessServices(),
                new PublisherCannotPublish(),
                new PublisherLongLivedKey(),
                new KeyOld(),
                new PublisherShared(),
                new PrincipalSecretLong(),
                new PrincipalSecretExpiring(),
                new TrustTooWide(),
                new TrustPullRequests());
    }
}
