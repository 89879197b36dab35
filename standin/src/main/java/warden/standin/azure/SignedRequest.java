package warden.standin.azure;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import warden.core.azure.account.StorageAccount;
import warden.standin.Refusal;

/** Checks the signature of a request by an account's key. Source: Storage REST API, "Authorize with Shared Key". */
final class SignedRequest {
    private static final String SCHEME = "SharedKey ";
    private static final List<String> HEADERS = List.of(
            "content-encoding",
            "content-language",
            "content-length",
            "content-md5",
            "content-type",
            "date",
            "if-modified-since",
            "if-match",
            "if-none-match",
            "if-unmodified-since",
            "range");

    private SignedRequest() {}

    /** True for a request that says it is signed by a key. */
    static boolean isSigned(Map<String, String> headers) {
        return headers.getOrDefault("authorization", "").startsWith(SCHEME);
    }

    /**
     * Refuses a request whose signature is not the account's.
     *
     * @param rawPath as it was sent, escapes and all
     */
    static void verify(BlobApi.Request request, StorageAccount account) {
        String value = request.headers().getOrDefault("authorization", "").substring(SCHEME.length());
        int colon = value.indexOf(':');
        String name = colon < 0 ? "" : value.substring(0, colon);
        boolean isRight = name.equals(account.name())
                && AccountKeys.isSigned(account.id(), toSign(request, name), value.substring(colon + 1));
        if (!isRight) {
            throw new Refusal(
                    403,
                    "AuthenticationFailed",
                    "Server failed to authenticate the request. Make sure the value of Authorization header is formed"
                            + " correctly including the signature.");
        }
    }

    private static String toSign(BlobApi.Request request, String account) {
        Map<String, String> headers = request.headers();
        StringBuilder out = new StringBuilder(request.method()).append('\n');
        for (String name : HEADERS) {
            String value = headers.getOrDefault(name, "");
            boolean isLeftOut = name.equals("content-length") && value.equals("0")
                    || name.equals("date") && headers.containsKey("x-ms-date");
            out.append(isLeftOut ? "" : value).append('\n');
        }
        new TreeMap<>(headers).forEach((name, value) -> {
            if (name.startsWith("x-ms-")) {
                out.append(name).append(':').append(value.strip()).append('\n');
            }
        });
        out.append('/').append(account).append(request.rawPath());
        Map<String, String> query = new TreeMap<>();
        request.query().forEach((name, value) -> query.put(name.toLowerCase(Locale.ROOT), value));
        out.append(query.entrySet().stream()
                .map(entry -> "\n" + entry.getKey() + ":" + entry.getValue())
                .collect(Collectors.joining()));
        return out.toString();
    }
}
