package warden.standin;

import java.io.IOException;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.policy.Actor;

/**
 * One request as it came in.
 *
 * @param path as sent, escaped
 * @param query by name, unescaped; a name without a value has an empty one
 * @param headers by lower-case name
 * @param service the service that the signature is for; empty for unsigned requests
 * @param region the region that the signature is for; empty for unsigned requests
 * @param session the session whose credentials signed it; absent for others
 */
record Call(
        String method,
        String host,
        String path,
        Map<String, String> query,
        Map<String, String> headers,
        byte[] body,
        Actor who,
        String service,
        String region,
        Optional<Session> session) {
    Optional<String> header(String name) {
        return Optional.ofNullable(headers.get(name.toLowerCase(Locale.ROOT)));
    }

    Optional<String> parameter(String name) {
        return Optional.ofNullable(query.get(name));
    }

    boolean has(String parameter) {
        return query.containsKey(parameter);
    }

    String text() {
        return new String(body, StandardCharsets.UTF_8);
    }

    /** Parses a query or a form body. */
    static Map<String, String> form(String text) {
        Map<String, String> values = new LinkedHashMap<>();
        for (String pair : text.split("&")) {
            if (!pair.isEmpty()) {
                int equals = pair.indexOf('=');
                String name = equals < 0 ? pair : pair.substring(0, equals);
                values.put(decoded(name), equals < 0 ? "" : decoded(pair.substring(equals + 1)));
            }
        }
        return values;
    }

    private static String decoded(String text) {
        try {
            return URLDecoder.decode(text, StandardCharsets.UTF_8);
        } catch (IllegalArgumentException broken) {
            return text;
        }
    }

    /** Unescapes a path, in which a plus sign is a plus sign. */
    static String unescaped(String path) {
        return decoded(path.replace("+", "%2B"));
    }

    /**
     * Takes the frames off a body that was sent in signed or checked pieces. Source: S3 API Reference, "Signature calculations for
     * the authorization header: transferring payload in multiple chunks".
     */
    static byte[] unframed(byte[] body) throws IOException {
        java.io.ByteArrayOutputStream out = new java.io.ByteArrayOutputStream(body.length);
        int at = 0;
        while (at < body.length) {
            int end = at;
            while (end < body.length && body[end] != '\r') {
                end++;
            }
            String size = new String(body, at, end - at, StandardCharsets.US_ASCII).split(";")[0].strip();
            if (!size.matches("[0-9A-Fa-f]{1,8}")) {
                throw new IOException("a piece of the body does not tell its size");
            }
            long length = Long.parseLong(size, 16);
            if (length == 0) {
                return out.toByteArray();
            }
            if (end + 2 + length > body.length) {
                throw new IOException("the body ends within a piece");
            }
            out.write(body, end + 2, (int) length);
            at = end + 2 + (int) length + 2;
        }
        throw new IOException("the body ends before its last piece");
    }
}
