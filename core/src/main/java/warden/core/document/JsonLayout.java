package warden.core.document;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Lays documents out for people who read or copy them: a member or an item to a line, each level indented, lines ended by {@code \n}. Takes
 * the values that {@link Json} takes, and what stays on one line as {@link OneLine}.
 */
public final class JsonLayout {
    private final int step;
    private final StringBuilder out = new StringBuilder();

    private JsonLayout(int step) {
        this.step = step;
    }

    /**
     * A value that stays on one line.
     *
     * @param value an object or a list of values that are neither
     */
    public record OneLine(Object value) {}

    /**
     * Returns a document's text, with a line end.
     *
     * @param step blanks by which each level is indented
     */
    public static String of(Object document, int step) {
        JsonLayout layout = new JsonLayout(step);
        layout.value(document, 0);
        return layout.out.append('\n').toString();
    }

    private void value(@Nullable Object value, int depth) {
        if (value instanceof OneLine line) {
            oneLine(line.value());
        } else if (value instanceof Map<?, ?> map && !members(map).isEmpty()) {
            List<Map.Entry<?, ?>> members = members(map);
            out.append('{');
            for (int i = 0; i < members.size(); i++) {
                newLine(i, depth + 1);
                name(members.get(i));
                value(members.get(i).getValue(), depth + 1);
            }
            end('}', depth);
        } else if (value instanceof Collection<?> items && !items.isEmpty()) {
            out.append('[');
            int i = 0;
            for (Object item : items) {
                newLine(i++, depth + 1);
                value(item, depth + 1);
            }
            end(']', depth);
        } else {
            out.append(Json.text(value));
        }
    }

    private void oneLine(Object value) {
        if (value instanceof Map<?, ?> map) {
            out.append('{');
            String comma = "";
            for (Map.Entry<?, ?> member : members(map)) {
                out.append(comma);
                name(member);
                out.append(Json.text(member.getValue()));
                comma = ", ";
            }
            out.append('}');
        } else if (value instanceof Collection<?> items) {
            out.append('[')
                    .append(String.join(", ", items.stream().map(Json::text).toList()))
                    .append(']');
        } else {
            out.append(Json.text(value));
        }
    }

    /** What is absent is left out. */
    private static List<Map.Entry<?, ?>> members(Map<?, ?> map) {
        List<Map.Entry<?, ?>> members = new ArrayList<>(map.entrySet());
        members.removeIf(member -> member.getValue() instanceof Optional<?> optional && optional.isEmpty());
        return members;
    }

    private void name(Map.Entry<?, ?> member) {
        JsonSpelling.quote(String.valueOf(member.getKey()), out);
        out.append(": ");
    }

    private void newLine(int index, int depth) {
        out.append(index == 0 ? "\n" : ",\n").append(" ".repeat(step * depth));
    }

    private void end(char bracket, int depth) {
        out.append('\n').append(" ".repeat(step * depth)).append(bracket);
    }
}
