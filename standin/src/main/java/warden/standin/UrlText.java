package warden.standin;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;

/** Reads what is escaped in addresses and forms. */
public final class UrlText {
    private UrlText() {}

    /** Returns the pairs of a query or a form, in their order; of a name that comes twice the last. */
    public static Map<String, String> form(String text) {
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
    public static String unescaped(String path) {
        return decoded(path.replace("+", "%2B"));
    }
}
