package warden.core.document;

import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Puts JSON documents together. A value is a text, a number, a flag, a {@link JsonPart}, a map of members, a collection of items, another
 * document's text as {@link Raw}, or null; an empty {@link Optional} leaves its member out.
 */
public final class Json {
    private Json() {}

    /**
     * A value that is JSON text already.
     *
     * @param text taken as it is
     */
    public record Raw(String text) {}

    /**
     * Returns an object's members in the order given.
     *
     * @param namesAndValues a name, its value, the next name, and so on
     */
    public static Map<String, Object> object(@Nullable Object... namesAndValues) {
        Map<String, Object> members = new LinkedHashMap<>();
        for (int i = 0; i + 1 < namesAndValues.length; i += 2) {
            members.put(String.valueOf(namesAndValues[i]), namesAndValues[i + 1]);
        }
        return members;
    }

    /**
     * Spells a value on one line.
     *
     * @throws IllegalArgumentException for a value of another kind
     */
    public static String text(@Nullable Object value) {
        StringBuilder out = new StringBuilder();
        spell(value, out);
        return out.toString();
    }

    private static void spell(@Nullable Object value, StringBuilder out) {
        if (value == null) {
            out.append("null");
        } else if (value instanceof Optional<?> optional) {
            spell(optional.orElse(null), out);
        } else if (value instanceof Map<?, ?> map) {
            members(map, out);
        } else if (value instanceof Collection<?> items) {
            String comma = "[";
            for (Object item : items) {
                out.append(comma);
                spell(item, out);
                comma = ",";
            }
            out.append(items.isEmpty() ? "[]" : "]");
        } else if (value instanceof Raw raw) {
            out.append(raw.text());
        } else if (value instanceof JsonPart part) {
            out.append(JsonSpelling.of(part));
        } else if (value instanceof CharSequence || value instanceof Enum<?>) {
            JsonSpelling.quote(value.toString(), out);
        } else if (value instanceof Number || value instanceof Boolean) {
            out.append(value);
        } else {
            throw new IllegalArgumentException("no JSON for a " + value.getClass());
        }
    }

    private static void members(Map<?, ?> map, StringBuilder out) {
        boolean isFirst = true;
        out.append('{');
        for (Map.Entry<?, ?> member : map.entrySet()) {
            if (member.getValue() instanceof Optional<?> optional && optional.isEmpty()) {
                continue;
            }
            out.append(isFirst ? "" : ",");
            JsonSpelling.quote(String.valueOf(member.getKey()), out);
            out.append(':');
            spell(member.getValue(), out);
            isFirst = false;
        }
        out.append('}');
    }
}
