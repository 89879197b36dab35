package warden.standin.azure;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.azure.account.StorageAccount;
import warden.core.document.Instants;
import warden.standin.Refusal;

/**
 * What a signed URL (SAS) of an account's key, or of a key that a principal was given, admits. Source: Storage REST API, "Create an account SAS", "Create a service SAS",
 * "Create a user delegation SAS".
 *
 * @param query the request's parameters
 * @param ofAccount true for one of an account, false for one of a container or a blob
 */
record SignedUrl(Map<String, String> query, boolean ofAccount) {
    private static final String FIRST_WITH_SCOPE = "2020-12-06";
    /** Since this version a principal's signature may name who is to use it, and since the other what it is to send. */
    private static final String FIRST_WITH_USER = "2025-07-05";

    private static final String FIRST_WITH_REQUEST = "2026-04-06";
    /** What may be signed of one who uses a delegated URL, or of the request; and what only accounts with folders know. */
    private static final List<String> NOT_SIMULATED =
            List.of("saoid", "suoid", "skdutid", "sduoid", "srh", "srq", "sdd");

    /** True for a request whose URL carries a signature. */
    static boolean isSigned(Map<String, String> query) {
        return query.containsKey("sig");
    }

    private static Refusal failed(String why) {
        return new Refusal(403, "AuthenticationFailed", "Server failed to authenticate the request. " + why);
    }

    private static Refusal notSimulated(String what) {
        return new Refusal(501, "NotImplemented", what + " is not simulated");
    }

    /**
     * Checks signature, times and protocol, and where it is signed for.
     *
     * @param container whose blobs are asked for; empty for the service itself
     * @param blob empty for the container itself
     */
    static SignedUrl verify(
            BlobApi.Request request, StorageAccount account, String container, String blob, Instant now) {
        Map<String, String> query = request.query();
        for (String name : NOT_SIMULATED) {
            if (query.containsKey(name)) {
                throw notSimulated("A signed URL with " + name);
            }
        }
        if (query.containsKey("si")) {
            throw notSimulated("A signed URL by a stored access policy");
        }
        SignedUrl url = new SignedUrl(query, query.containsKey("ss"));
        String toSign = url.ofAccount ? url.accountText(account) : url.serviceText(account, container, blob);
        String key = url.isDelegated() ? DelegationKey.named(query).value(account) : AccountKeys.of(account.id());
        if (!AccountKeys.isSignedBy(key, toSign, url.of("sig"))) {
            throw failed("Signature did not match. String to sign used was " + toSign.replace("\n", "\\n"));
        }
        boolean isOver = instant(url.of("se")).isBefore(now);
        boolean isEarly = !url.of("st").isEmpty() && instant(url.of("st")).isAfter(now);
        boolean isKeyOver = url.isDelegated() && !DelegationKey.named(query).isGood(now);
        if (isOver || isEarly || isKeyOver) {
            throw failed("Signature not valid in the specified time frame.");
        }
        if (url.of("spr").equals("https") && !request.isSecure()) {
            throw new Refusal(
                    403, "AuthorizationProtocolMismatch", "This request is not authorized over this protocol.");
        }
        if (!url.of("sip").isEmpty()) {
            throw notSimulated("A signed URL for certain addresses");
        }
        return url;
    }

    private boolean isDelegated() {
        return query.containsKey("skoid") && !ofAccount;
    }

    /** Returns the object id of the principal by whose rights it holds; absent for a URL that an account's key signed. */
    Optional<String> delegator() {
        return isDelegated() ? Optional.of(of("skoid")) : Optional.empty();
    }

    private String of(String name) {
        return query.getOrDefault(name, "");
    }

    private static Instant instant(String text) {
        return Instants.parse(text).orElseThrow(() -> failed("A time in the URL cannot be read."));
    }

    private boolean hasScope() {
        return isSince(FIRST_WITH_SCOPE);
    }

    private boolean isSince(String version) {
        return of("sv").compareTo(version) >= 0;
    }

    private String accountText(StorageAccount account) {
        return account.name() + "\n" + of("sp") + "\n" + of("ss") + "\n" + of("srt") + "\n" + of("st") + "\n" + of("se")
                + "\n" + of("sip") + "\n" + of("spr") + "\n" + of("sv") + "\n" + (hasScope() ? of("ses") + "\n" : "");
    }

    private String serviceText(StorageAccount account, String container, String blob) {
        String resource = "/blob/" + account.name() + "/" + container;
        if (of("sr").equals("b")) {
            resource += "/" + blob;
        } else if (!of("sr").equals("c")) {
            throw notSimulated("A signed URL of the kind '" + of("sr") + "'");
        }
        return of("sp") + "\n" + of("st") + "\n" + of("se") + "\n" + resource + "\n"
                + (isDelegated() ? delegationText() : "\n") + of("sip") + "\n" + of("spr") + "\n" + of("sv") + "\n"
                + of("sr") + "\n\n" + (hasScope() ? of("ses") + "\n" : "")
                + (isDelegated() && isSince(FIRST_WITH_REQUEST) ? "\n\n" : "") + of("rscc") + "\n" + of("rscd") + "\n"
                + of("rsce") + "\n" + of("rscl") + "\n" + of("rsct");
    }

    /** Whose key it is, and, each on a line, the agents for whom it was signed (none) and the mark by which logs tell it. */
    private String delegationText() {
        if (!hasScope()) {
            throw notSimulated("A delegated URL of a version before " + FIRST_WITH_SCOPE);
        }
        return DelegationKey.named(query).told() + "\n\n" + of("scid") + "\n"
                + (isSince(FIRST_WITH_USER) ? "\n\n" : "");
    }

    /**
     * Refuses what the URL is not signed for.
     *
     * @param permissions letters of which one is needed
     * @param level {@code s}, {@code c} or {@code o}: the service, a container or a blob
     */
    void demand(String permissions, char level) {
        if (ofAccount && of("ss").indexOf('b') < 0) {
            throw new Refusal(
                    403, "AuthorizationServiceMismatch", "This request is not authorized using this service.");
        }
        boolean reachesLevel = ofAccount ? of("srt").indexOf(level) >= 0 : level != 's';
        // A container's URL says nothing of the container itself but what it holds.
        if (!reachesLevel) {
            throw new Refusal(
                    403,
                    "AuthorizationResourceTypeMismatch",
                    "This request is not authorized using this resource type.");
        }
        if (permissions.chars().noneMatch(letter -> of("sp").indexOf(letter) >= 0)) {
            throw new Refusal(
                    403,
                    "AuthorizationPermissionMismatch",
                    "This request is not authorized to perform this operation using this permission.");
        }
    }
}
