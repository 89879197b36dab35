package warden.core.document;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.core.JsonPointer;
import warden.core.document.JsonPart.JsonArray;
import warden.core.document.JsonPart.JsonNull;
import warden.core.document.JsonPart.JsonObject;

/** Changes one place of a JSON document, and spells the rest as it was. */
public final class JsonEdit {
    private JsonEdit() {}

    /**
     * Returns the document with another value at one place. Objects on the way that are missing are made.
     *
     * @param document JSON text
     * @param pointer JSON Pointer of a member or an existing item; {@code -} as its last token adds an item
     * @param value JSON text
     * @throws IllegalArgumentException when something else than an object or an array is in the way, or an item is missing
     */
    public static String set(String document, String pointer, String value) {
        return set(read(document), tokens(pointer), JsonSpelling.of(read(value)));
    }

    /** Returns the document without one of its members or items; unchanged where there is none. */
    public static String remove(String document, String pointer) {
        return remove(read(document), tokens(pointer));
    }

    private static JsonPart read(String document) {
        return JsonReader.read(document)
                .root()
                .orElseThrow(() -> new IllegalArgumentException("this is no JSON document"));
    }

    private static List<String> tokens(String pointer) {
        List<String> tokens = new ArrayList<>();
        for (JsonPointer rest = JsonPointer.compile(pointer); !rest.matches(); rest = rest.tail()) {
            tokens.add(rest.getMatchingProperty());
        }
        return tokens;
    }

    private static String set(JsonPart part, List<String> tokens, String value) {
        if (tokens.isEmpty()) {
            return value;
        }
        String first = tokens.get(0);
        List<String> rest = tokens.subList(1, tokens.size());
        if (part instanceof JsonObject object) {
            Map<String, String> members = spelled(object);
            JsonPart there = object.members().get(first);
            members.put(
                    first, there == null || there instanceof JsonNull ? made(rest, value) : set(there, rest, value));
            return object(members);
        }
        if (part instanceof JsonArray array) {
            List<String> items = spelled(array);
            if (first.equals("-")) {
                items.add(made(rest, value));
                return array(items);
            }
            int index = index(first, items.size());
            if (index >= 0) {
                items.set(index, set(array.items().get(index), rest, value));
                return array(items);
            }
        }
        throw new IllegalArgumentException("no object or array at " + first);
    }

    private static String made(List<String> tokens, String value) {
        String made = value;
        for (int i = tokens.size() - 1; i >= 0; i--) {
            made = object(Map.of(tokens.get(i), made));
        }
        return made;
    }

    private static String remove(JsonPart part, List<String> tokens) {
        if (tokens.isEmpty()) {
            return JsonSpelling.of(part);
        }
        String first = tokens.get(0);
        boolean isLast = tokens.size() == 1;
        List<String> rest = tokens.subList(1, tokens.size());
        if (part instanceof JsonObject object && object.members().containsKey(first)) {
            Map<String, String> members = spelled(object);
            if (isLast) {
                members.remove(first);
            } else {
                members.put(first, remove(object.members().get(first), rest));
            }
            return object(members);
        }
        if (part instanceof JsonArray array && index(first, array.items().size()) >= 0) {
            int index = index(first, array.items().size());
            List<String> items = spelled(array);
            if (isLast) {
                items.remove(index);
            } else {
                items.set(index, remove(array.items().get(index), rest));
            }
            return array(items);
        }
        return JsonSpelling.of(part);
    }

    private static int index(String token, int size) {
        return token.matches("[0-9]{1,9}") && Integer.parseInt(token) < size ? Integer.parseInt(token) : -1;
    }

    private static Map<String, String> spelled(JsonObject object) {
        Map<String, String> members = new LinkedHashMap<>();
        object.members().forEach((name, member) -> members.put(name, JsonSpelling.of(member)));
        return members;
    }

    private static List<String> spelled(JsonArray array) {
        List<String> items = new ArrayList<>();
        array.items().forEach(item -> items.add(JsonSpelling.of(item)));
        return items;
    }

    private static String object(Map<String, String> members) {
        List<String> all = new ArrayList<>();
        members.forEach((name, value) -> all.add(JsonSpelling.quoted(name) + ":" + value));
        return "{" + String.join(",", all) + "}";
    }

    private static String array(List<String> items) {
        return "[" + String.join(",", items) + "]";
    }
}
