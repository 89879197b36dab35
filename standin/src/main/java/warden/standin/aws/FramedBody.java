package warden.standin.aws;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/**
 * A body that was sent in signed or checked pieces, and what came behind it. Source: S3 API Reference, "Signature calculations for the authorization
 * header: transferring payload in multiple chunks", and "... including trailing headers".
 *
 * @param content the pieces, joined
 * @param trailers by lower-case name
 */
record FramedBody(byte[] content, Map<String, String> trailers) {
    static FramedBody parse(byte[] body) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream(body.length);
        int at = 0;
        while (at < body.length) {
            int end = lineEnd(body, at);
            String size = new String(body, at, end - at, StandardCharsets.US_ASCII).split(";", 2)[0].strip();
            if (!size.matches("[0-9A-Fa-f]{1,8}")) {
                throw new IOException("a piece of the body does not tell its size");
            }
            long length = Long.parseLong(size, 16);
            if (length == 0) {
                return new FramedBody(out.toByteArray(), trailers(body, end + 2));
            }
            if (end + 2 + length > body.length) {
                throw new IOException("the body ends within a piece");
            }
            out.write(body, end + 2, (int) length);
            at = end + 2 + (int) length + 2;
        }
        throw new IOException("the body ends before its last piece");
    }

    private static int lineEnd(byte[] body, int from) {
        int end = from;
        while (end < body.length && body[end] != '\r') {
            end++;
        }
        return end;
    }

    private static Map<String, String> trailers(byte[] body, int from) {
        Map<String, String> trailers = new LinkedHashMap<>();
        for (int at = from; at < body.length; ) {
            int end = lineEnd(body, at);
            String line = new String(body, at, end - at, StandardCharsets.US_ASCII).strip();
            int colon = line.indexOf(':');
            if (colon > 0) {
                trailers.put(
                        line.substring(0, colon).strip().toLowerCase(Locale.ROOT),
                        line.substring(colon + 1).strip());
            }
            at = end + 2;
        }
        return trailers;
    }
}
