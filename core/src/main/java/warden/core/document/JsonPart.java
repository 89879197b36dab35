package warden.core.document;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/** One value of a JSON document, together with the place where it stood. */
public sealed interface JsonPart {

    /** Returns where this value stood, from the root of its document. */
    Pointer at();

    /** An object; members keep the order of the text. Of two members with one name the last is kept. */
    record JsonObject(Pointer at, Map<String, JsonPart> members) implements JsonPart {}

    /** An array. */
    record JsonArray(Pointer at, List<JsonPart> items) implements JsonPart {}

    /** A string, with its escapes resolved. */
    record JsonText(Pointer at, String value) implements JsonPart {}

    /** A number, as it was written. */
    record JsonNumber(Pointer at, String literal) implements JsonPart {}

    /** {@code true} or {@code false}. */
    record JsonTruth(Pointer at, boolean value) implements JsonPart {}

    /** {@code null}. */
    record JsonNull(Pointer at) implements JsonPart {}

    /** Follows member names from here; absent where one is missing, is {@code null}, or does not stand in an object. */
    default Optional<JsonPart> find(String... path) {
        JsonPart here = this;
        for (String name : path) {
            if (!(here instanceof JsonObject object)) {
                return Optional.empty();
            }
            JsonPart next = object.members().get(name);
            if (next == null || next instanceof JsonNull) {
                return Optional.empty();
            }
            here = next;
        }
        return Optional.of(here);
    }

    /** Returns the string, number or truth value at {@code path} as text; absent for anything else. */
    default Optional<String> text(String... path) {
        return find(path).flatMap(JsonPart::scalar);
    }

    /** Returns the items of the array at {@code path}; empty when there is no array. */
    default List<JsonPart> list(String... path) {
        return find(path)
                .map(part -> part instanceof JsonArray array ? array.items() : List.<JsonPart>of())
                .orElse(List.of());
    }

    /** Returns the texts in the array at {@code path}; items that are no scalars are passed over. */
    default List<String> texts(String... path) {
        return list(path).stream().flatMap(item -> item.scalar().stream()).toList();
    }

    /** Returns the truth value at {@code path}, written as JSON truth or as the text "true" or "false". */
    default Optional<Boolean> flag(String... path) {
        return text(path).flatMap(text -> switch (text) {
            case "true" -> Optional.of(true);
            case "false" -> Optional.of(false);
            default -> Optional.empty();
        });
    }

    /** Returns this value as text when it is a string, a number or a truth value. */
    default Optional<String> scalar() {
        if (this instanceof JsonText text) {
            return Optional.of(text.value());
        }
        if (this instanceof JsonNumber number) {
            return Optional.of(number.literal());
        }
        if (this instanceof JsonTruth truth) {
            return Optional.of(Boolean.toString(truth.value()));
        }
        return Optional.empty();
    }

    /** Names the kind of this value as a reader would: "an object", "a text", and so on. */
    default String kind() {
        if (this instanceof JsonObject) {
            return "an object";
        }
        if (this instanceof JsonArray) {
            return "a list";
        }
        if (this instanceof JsonText) {
            return "a text";
        }
        if (this instanceof JsonNumber) {
            return "a number";
        }
        return this instanceof JsonTruth ? "true or false" : "null";
    }
}
