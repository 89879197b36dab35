package warden.standin;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/**
 * A request as it came over the wire.
 *
 * @param host in lower case, without a port
 * @param rawPath with its escapes
 * @param query its pairs, unescaped
 * @param headers by lower-case name; those that come twice are joined with commas
 * @param isSecure whether it came over TLS
 * @param from the address of the caller
 */
public record WireRequest(
        String method,
        String host,
        String rawPath,
        Map<String, String> query,
        Map<String, String> headers,
        byte[] body,
        boolean isSecure,
        String from) {
    static WireRequest of(HttpExchange exchange, boolean isSecure) throws IOException {
        Map<String, String> headers = new LinkedHashMap<>();
        exchange.getRequestHeaders()
                .forEach((name, values) -> headers.put(name.toLowerCase(Locale.ROOT), String.join(",", values)));
        String target = exchange.getRequestURI().toString();
        int mark = target.indexOf('?');
        return new WireRequest(
                exchange.getRequestMethod(),
                headers.getOrDefault("host", "").replaceFirst(":[0-9]+$", "").toLowerCase(Locale.ROOT),
                String.valueOf(exchange.getRequestURI().getRawPath()),
                mark < 0 ? Map.of() : UrlText.form(target.substring(mark + 1)),
                headers,
                exchange.getRequestBody().readAllBytes(),
                isSecure,
                exchange.getRemoteAddress().getAddress().getHostAddress());
    }

    public String header(String lowerCaseName) {
        return headers.getOrDefault(lowerCaseName, "");
    }

    /** True where the host is this machine, and not a name that somebody made lead here. */
    public boolean isToLoopback() {
        return host.equals("localhost")
                || host.matches("127(\\.[0-9]+){3}")
                || host.equals("[::1]")
                || host.endsWith(".127.0.0.1");
    }
}
