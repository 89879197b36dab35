package warden.core.aws.checks.credential;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "credential". */
public final class CredentialChecks {
    private CredentialChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new PublisherIsAdmin(),
                new PublisherCanEscalate(),
                new PublisherCanChangeRules(),
                new PublisherBeyondItsSites(),
                new PublisherExcessServices(),
                new PublisherExcessActions(),
                new PublisherCannotPublish(),
                new PublisherCanLoseVersions(),
                new PublisherLongLivedKey(),
                new KeyOld(),
                new KeyUnused(),
                new KeysTwoActive(),
                new PublisherConsoleLogin(),
                new PublisherShared(),
                new RootKey(),
                new TrustTooWide(),
                new TrustAnyPrincipal(),
                new TrustPullRequests(),
                new TrustOutsideAccount());
    }
}
