package warden.core.document;

import tools.jackson.core.JsonPointer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Changes one place of a JSON document. */
public final class JsonEdit {
    private static final JsonMapper MAPPER = JsonMapper.builder().build();

    private JsonEdit() {}

    /**
     * Returns the document with another value at one place. Objects on the way that are missing are made.
     *
     * @param document JSON text
     * @param pointer JSON Pointer of a member or an existing item; {@code -} as its last token adds an item
     * @param value JSON text
     * @throws IllegalArgumentException when something else than an object or an array is in the way
     */
    public static String set(String document, String pointer, String value) {
        JsonNode root = MAPPER.readTree(document);
        JsonPointer at = JsonPointer.compile(pointer);
        JsonNode parent = root;
        for (JsonPointer rest = at; !rest.tail().matches(); rest = rest.tail()) {
            JsonNode next =
                    parent.isArray() ? parent.path(rest.getMatchingIndex()) : parent.path(rest.getMatchingProperty());
            if (next.isMissingNode() || next.isNull()) {
                next = MAPPER.createObjectNode();
                put(parent, rest, next);
            }
            parent = next;
        }
        put(parent, at.last(), MAPPER.readTree(value));
        return root.toString();
    }

    /** Returns the document without one of its members or items; unchanged where there is none. */
    public static String remove(String document, String pointer) {
        JsonNode root = MAPPER.readTree(document);
        JsonPointer at = JsonPointer.compile(pointer);
        JsonNode parent = root.at(at.head());
        if (parent instanceof ObjectNode object) {
            object.remove(at.last().getMatchingProperty());
        } else if (parent instanceof ArrayNode array) {
            array.remove(at.last().getMatchingIndex());
        }
        return root.toString();
    }

    private static void put(JsonNode parent, JsonPointer token, JsonNode value) {
        if (parent instanceof ObjectNode object) {
            object.set(token.getMatchingProperty(), value);
        } else if (parent instanceof ArrayNode array
                && token.getMatchingProperty().equals("-")) {
            array.add(value);
        } else if (parent instanceof ArrayNode array) {
            array.set(token.getMatchingIndex(), value);
        } else {
            throw new IllegalArgumentException("no object or array at " + token);
        }
    }
}
