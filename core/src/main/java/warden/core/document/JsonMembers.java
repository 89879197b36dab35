package warden.core.document;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * The texts of an object's members, so that a large document can be read part by part. It looks for brackets, quotes and commas alone: whether a part
 * is JSON shows when that part is read.
 */
public final class JsonMembers {
    private final String text;
    private int at;

    private JsonMembers(String text) {
        this.text = text;
    }

    /**
     * Finds the members. Of a name that stands twice the last counts.
     *
     * @return the text of each member by its name; absent when the text is no object, or does not end where it should
     */
    public static Optional<Map<String, String>> of(String text) {
        return new JsonMembers(text).find();
    }

    private Optional<Map<String, String>> find() {
        Map<String, String> members = new LinkedHashMap<>();
        if (!take('{')) {
            return Optional.empty();
        }
        while (!take('}')) {
            if (!members.isEmpty() && !take(',')) {
                return Optional.empty();
            }
            Optional<String> name = name();
            if (name.isEmpty() || !take(':')) {
                return Optional.empty();
            }
            blank();
            int from = at;
            if (!skipValue()) {
                return Optional.empty();
            }
            members.put(name.get(), text.substring(from, at).strip());
        }
        blank();
        return at == text.length() ? Optional.of(members) : Optional.empty();
    }

    private void blank() {
        while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
            at++;
        }
    }

    private boolean take(char sign) {
        blank();
        boolean isThere = at < text.length() && text.charAt(at) == sign;
        at += isThere ? 1 : 0;
        return isThere;
    }

    private Optional<String> name() {
        blank();
        int from = at;
        return at < text.length() && text.charAt(at) == '"' && skipText()
                ? JsonReader.read(text.substring(from, at)).root().flatMap(JsonPart::scalar)
                : Optional.empty();
    }

    /** Goes behind a text; false where it has no end. */
    private boolean skipText() {
        for (at++; at < text.length(); at++) {
            char c = text.charAt(at);
            if (c == '\\') {
                at++;
            } else if (c == '"') {
                at++;
                return true;
            }
        }
        return false;
    }

    /** Goes behind a member's value, up to the comma or the bracket that follows; false where brackets or a text have no end. */
    private boolean skipValue() {
        int depth = 0;
        int from = at;
        while (at < text.length()) {
            char c = text.charAt(at);
            if (c == '"') {
                boolean isBehindValue = depth == 0 && at > from;
                if (isBehindValue || !skipText()) {
                    return false;
                }
                continue;
            }
            boolean opens = c == '{' || c == '[';
            boolean closes = c == '}' || c == ']';
            if (depth == 0 && (closes || c == ',')) {
                return true;
            }
            depth += opens ? 1 : closes ? -1 : 0;
            at++;
        }
        return false;
    }
}
