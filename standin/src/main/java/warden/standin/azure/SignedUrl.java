package warden.standin.azure;

import java.time.Instant;
import java.util.Map;
import warden.core.azure.account.StorageAccount;
import warden.core.document.Instants;
import warden.standin.Refusal;

/**
 * What a signed URL (SAS) of an account's key admits. Source: Storage REST API, "Create an account SAS", "Create a service SAS".
 *
 * @param query the request's parameters
 * @param ofAccount true for one of an account, false for one of a container or a blob
 */
record SignedUrl(Map<String, String> query, boolean ofAccount) {
    private static final String FIRST_WITH_SCOPE = "2020-12-06";

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
        if (query.containsKey("skoid")) {
            throw notSimulated("A signed URL of a user's delegation");
        }
        if (query.containsKey("si")) {
            throw notSimulated("A signed URL by a stored access policy");
        }
        SignedUrl url = new SignedUrl(query, query.containsKey("ss"));
        String toSign = url.ofAccount ? url.accountText(account) : url.serviceText(account, container, blob);
        if (!AccountKeys.isSigned(account.id(), toSign, url.of("sig"))) {
            throw failed("Signature did not match. String to sign used was " + toSign.replace("\n", "\\n"));
        }
        boolean isOver = instant(url.of("se")).isBefore(now);
        boolean isEarly = !url.of("st").isEmpty() && instant(url.of("st")).isAfter(now);
        if (isOver || isEarly) {
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

    private String of(String name) {
        return query.getOrDefault(name, "");
    }

    private static Instant instant(String text) {
        return Instants.parse(text).orElseThrow(() -> failed("A time in the URL cannot be read."));
    }

    private boolean hasScope() {
        return of("sv").compareTo(FIRST_WITH_SCOPE) >= 0;
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
        return of("sp") + "\n" + of("st") + "\n" + of("se") + "\n" + resource + "\n\n" + of("sip") + "\n" + of("spr")
                + "\n" + of("sv") + "\n" + of("sr") + "\n\n" + (hasScope() ? of("ses") + "\n" : "") + of("rscc") + "\n"
                + of("rscd") + "\n" + of("rsce") + "\n" + of("rscl") + "\n" + of("rsct");
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
