package warden.standin;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;

/** An answer: status, headers and body. */
public record Reply(int status, Map<String, String> headers, Content body) {
    public Reply(int status, Map<String, String> headers, byte[] body) {
        this(status, headers, new Content.Held(body));
    }

    public static Reply empty(int status) {
        return new Reply(status, new LinkedHashMap<>(), new byte[0]);
    }

    /** Returns an answer in XML; the declaration is put before it. */
    public static Reply xml(int status, String body) {
        return of(status, "application/xml", "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + body);
    }

    /** Returns a page for visitors that says the status and nothing else. */
    public static Reply page(int status) {
        return of(status, "text/html", "<html><body><h1>" + status + "</h1></body></html>\n");
    }

    public static Reply of(int status, String type, String body) {
        Map<String, String> headers = new LinkedHashMap<>();
        headers.put("Content-Type", type);
        return new Reply(status, headers, body.getBytes(StandardCharsets.UTF_8));
    }
}
