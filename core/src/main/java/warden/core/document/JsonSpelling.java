package warden.core.document;

import java.util.Map;
import tools.jackson.core.io.JsonStringEncoder;
import warden.core.document.JsonPart.JsonArray;
import warden.core.document.JsonPart.JsonNull;
import warden.core.document.JsonPart.JsonObject;
import warden.core.document.JsonPart.JsonText;

/** Spells parts as JSON text on one line. */
public final class JsonSpelling {
    private JsonSpelling() {}

    /** Returns {@code part} as compact JSON. */
    public static String of(JsonPart part) {
        StringBuilder out = new StringBuilder();
        spell(part, out, Integer.MAX_VALUE);
        return out.toString();
    }

    /** Returns how {@code part} begins as compact JSON: at least so many characters, where it has them, and seldom many more. */
    public static String start(JsonPart part, int characters) {
        StringBuilder out = new StringBuilder();
        spell(part, out, characters);
        return out.toString();
    }

    private static void spell(JsonPart part, StringBuilder out, int enough) {
        if (out.length() >= enough) {
            return;
        }
        if (part instanceof JsonObject object) {
            String comma = "{";
            for (Map.Entry<String, JsonPart> member : object.members().entrySet()) {
                if (out.length() >= enough) {
                    return;
                }
                out.append(comma).append(quoted(member.getKey())).append(':');
                spell(member.getValue(), out, enough);
                comma = ",";
            }
            out.append(object.members().isEmpty() ? "{}" : "}");
        } else if (part instanceof JsonArray array) {
            String comma = "[";
            for (JsonPart item : array.items()) {
                if (out.length() >= enough) {
                    return;
                }
                out.append(comma);
                spell(item, out, enough);
                comma = ",";
            }
            out.append(array.items().isEmpty() ? "[]" : "]");
        } else if (part instanceof JsonText text) {
            quote(text.value(), out);
        } else if (part instanceof JsonNull) {
            out.append("null");
        } else {
            out.append(part.scalar().orElseThrow());
        }
    }

    /** Adds a text as JSON. */
    static void quote(String text, StringBuilder out) {
        out.append('"');
        if (isPlain(text)) {
            out.append(text);
        } else {
            out.append(JsonStringEncoder.getInstance().quoteAsCharArray(text));
        }
        out.append('"');
    }

    /** Returns a text as JSON. */
    public static String quoted(String text) {
        return "\""
                + (isPlain(text)
                        ? text
                        : new String(JsonStringEncoder.getInstance().quoteAsCharArray(text))) + "\"";
    }

    /** True for a text in which nothing has to be written otherwise, as almost all are. */
    private static boolean isPlain(String text) {
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c < ' ' || c == '"' || c == '\\') {
                return false;
            }
        }
        return true;
    }
}
