package warden.core.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/**
 * Where two documents of one shape differ in a single value.
 *
 * @param member the name of the member that it is, or within whose list it stands
 * @param before as text
 * @param after as text
 */
record Difference(String member, String before, String after) {
    /** What differs between two documents; of another shape where members or items came or went. */
    record Found(List<Difference> values, boolean isOfAnotherShape) {
        boolean isNone() {
            return values.isEmpty() && !isOfAnotherShape;
        }
    }

    /** Compares documents; a text that is a document itself is compared as one. */
    static Found between(JsonPart before, JsonPart after) {
        List<Difference> values = new ArrayList<>();
        boolean isSameShape = compare("", before, after, values);
        return new Found(List.copyOf(values), !isSameShape);
    }

    private static boolean compare(String member, JsonPart before, JsonPart after, List<Difference> values) {
        if (before instanceof JsonPart.JsonObject one && after instanceof JsonPart.JsonObject other) {
            return one.members().keySet().equals(other.members().keySet())
                    && one.members().entrySet().stream()
                            .allMatch(entry -> compare(
                                    entry.getKey(),
                                    entry.getValue(),
                                    other.members().get(entry.getKey()),
                                    values));
        }
        if (before instanceof JsonPart.JsonArray one && after instanceof JsonPart.JsonArray other) {
            boolean isSameShape = one.items().size() == other.items().size();
            for (int i = 0; isSameShape && i < one.items().size(); i++) {
                isSameShape = compare(member, one.items().get(i), other.items().get(i), values);
            }
            return isSameShape;
        }
        Optional<JsonPart> one = document(before);
        Optional<JsonPart> other = document(after);
        if (one.isPresent() && other.isPresent()) {
            return compare(member, one.get(), other.get(), values);
        }
        Optional<String> old = before.scalar();
        Optional<String> fresh = after.scalar();
        if (old.isEmpty() || fresh.isEmpty()) {
            return old.equals(fresh) && before.getClass().equals(after.getClass());
        }
        if (!old.equals(fresh)) {
            values.add(new Difference(member, old.get(), fresh.get()));
        }
        return true;
    }

    /** Returns what a text says that is a document itself. */
    static Optional<JsonPart> document(JsonPart part) {
        return part instanceof JsonPart.JsonText text && text.value().startsWith("{")
                ? JsonReader.read(text.value()).root()
                : Optional.empty();
    }
}
