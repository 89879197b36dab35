package warden.standin;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;

/** An answer: status, headers and body. */
record Reply(int status, Map<String, String> headers, byte[] body) {
    static Reply empty(int status) {
        return new Reply(status, new LinkedHashMap<>(), new byte[0]);
    }

    static Reply xml(int status, String body) {
        Map<String, String> headers = new LinkedHashMap<>();
        headers.put("Content-Type", "application/xml");
        return new Reply(
                status,
                headers,
                ("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + body).getBytes(StandardCharsets.UTF_8));
    }

    static Reply of(int status, String type, String body) {
        Map<String, String> headers = new LinkedHashMap<>();
        headers.put("Content-Type", type);
        return new Reply(status, headers, body.getBytes(StandardCharsets.UTF_8));
    }
}
