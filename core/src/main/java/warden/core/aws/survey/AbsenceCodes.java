package warden.core.aws.survey;

import java.util.Map;
import java.util.Set;

/** The codes with which the provider says that there is none of something. Source: the API Reference of each call. */
public final class AbsenceCodes {
    private static final Map<String, Set<String>> BY_ASPECT = Map.ofEntries(
            Map.entry("account-public-access", Set.of("NoSuchPublicAccessBlockConfiguration")),
            Map.entry("organization-policy", Set.of("AWSOrganizationsNotInUseException")),
            Map.entry("bucket-policy", Set.of("NoSuchBucketPolicy")),
            Map.entry("bucket-public-access", Set.of("NoSuchPublicAccessBlockConfiguration")),
            Map.entry("bucket-ownership", Set.of("OwnershipControlsNotFoundError")),
            Map.entry("bucket-website", Set.of("NoSuchWebsiteConfiguration")),
            Map.entry("bucket-encryption", Set.of("ServerSideEncryptionConfigurationNotFoundError")),
            Map.entry("bucket-lifecycle", Set.of("NoSuchLifecycleConfiguration")),
            Map.entry("bucket-cors", Set.of("NoSuchCORSConfiguration")),
            Map.entry("object", Set.of("NoSuchKey", "NotFound", "404")),
            Map.entry("object-acl", Set.of("NoSuchKey", "NotFound", "404")),
            Map.entry("iam-login", Set.of("NoSuchEntity")),
            Map.entry("domain", Set.of("DomainNotFound")));

    private AbsenceCodes() {}

    /** True when the code, given to a question about this aspect, means that there is none. */
    public static boolean means(String aspect, String code) {
        return BY_ASPECT.getOrDefault(aspect, Set.of()).contains(code);
    }
}
