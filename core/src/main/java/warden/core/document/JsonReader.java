package warden.core.document;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.TokenStreamLocation;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.core.util.JsonRecyclerPools;
import warden.core.document.JsonPart.JsonArray;
import warden.core.document.JsonPart.JsonNull;
import warden.core.document.JsonPart.JsonNumber;
import warden.core.document.JsonPart.JsonObject;
import warden.core.document.JsonPart.JsonText;
import warden.core.document.JsonPart.JsonTruth;

/** Reads JSON text into parts. Never throws for bad text: what is wrong comes back as problems. */
public final class JsonReader {
    /** Deep enough for any answer of a provider, shallow enough for the stack. */
    private static final int DEEPEST = 200;

    private static final JsonFactory FACTORY = JsonFactory.builder()
            .recyclerPool(JsonRecyclerPools.threadLocalPool())
            .streamReadConstraints(StreamReadConstraints.builder()
                    .maxNestingDepth(DEEPEST)
                    .maxStringLength(Integer.MAX_VALUE)
                    .maxNumberLength(10_000)
                    .build())
            .build();

    /**
     * What reading gave: the root, absent when the text is not JSON, and what is wrong with the text.
     * A duplicate member is a problem, though there is a root.
     */
    public record Result(Optional<JsonPart> root, List<JsonProblem> problems) {
        public Result {
            problems = List.copyOf(problems);
        }
    }

    /** One thing wrong with a text: at which part, and a phrase that says what. */
    public record JsonProblem(Pointer at, String says) {}

    private final List<JsonProblem> problems = new ArrayList<>();

    /** Says which members of objects are passed over. */
    public interface Skipped {
        /**
         * True for a member that nobody asks for.
         *
         * @param of the object
         */
        boolean test(Pointer of, String name);
    }

    private final Skipped skipped;

    private JsonReader(Skipped skipped) {
        this.skipped = skipped;
    }

    /** Reads {@code text}, whose root is to be named {@code base} in pointers. */
    public static Result read(String text, Pointer base) {
        return read(text, base, (of, name) -> false);
    }

    /** Reads {@code text} without some members, as if they did not stand there. */
    public static Result read(String text, Skipped skipped) {
        return read(text, Pointer.ROOT, skipped);
    }

    private static Result read(String text, Pointer base, Skipped skipped) {
        JsonReader reader = new JsonReader(skipped);
        if (text.isBlank()) {
            return new Result(Optional.empty(), List.of(new JsonProblem(base, "is empty")));
        }
        try (JsonParser parser = FACTORY.createParser(ObjectReadContext.empty(), text)) {
            JsonPart root = reader.value(parser, parser.nextToken(), base);
            if (parser.nextToken() != null) {
                TokenStreamLocation where = parser.currentTokenLocation();
                reader.problems.add(new JsonProblem(
                        base,
                        "has text after its end, at line " + where.getLineNr() + ", column " + where.getColumnNr()));
            }
            return new Result(Optional.of(root), reader.problems);
        } catch (JacksonException broken) {
            return new Result(Optional.empty(), List.of(new JsonProblem(base, complaint(broken))));
        }
    }

    /** Reads {@code text} with the root as base. */
    public static Result read(String text) {
        return read(text, Pointer.ROOT);
    }

    private JsonPart value(JsonParser parser, JsonToken token, Pointer at) {
        return switch (token) {
            case START_OBJECT -> object(parser, at);
            case START_ARRAY -> array(parser, at);
            case VALUE_STRING -> new JsonText(at, parser.getString());
            case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT -> new JsonNumber(at, parser.getString());
            case VALUE_TRUE -> new JsonTruth(at, true);
            case VALUE_FALSE -> new JsonTruth(at, false);
            default -> new JsonNull(at);
        };
    }

    private JsonObject object(JsonParser parser, Pointer at) {
        Members.Collector members = new Members.Collector();
        for (String name = parser.nextName(); name != null; name = parser.nextName()) {
            if (skipped.test(at, name)) {
                parser.nextToken();
                parser.skipChildren();
                continue;
            }
            JsonPart value = value(parser, parser.nextToken(), at.member(name));
            if (members.add(name, value)) {
                problems.add(new JsonProblem(at.member(name), "stands twice in the same object"));
            }
        }
        return new JsonObject(at, members.members());
    }

    private JsonArray array(JsonParser parser, Pointer at) {
        List<JsonPart> items = new ArrayList<>();
        for (JsonToken token = parser.nextToken(); token != JsonToken.END_ARRAY; token = parser.nextToken()) {
            items.add(value(parser, token, at.item(items.size())));
        }
        return new JsonArray(at, items);
    }

    /** Says where the text broke; the parser's own words may quote the text, so they are not used. */
    private static String complaint(JacksonException broken) {
        TokenStreamLocation where = broken.getLocation();
        String place = where == null ? "" : " (line " + where.getLineNr() + ", column " + where.getColumnNr() + ")";
        boolean deep = broken instanceof tools.jackson.core.exc.StreamConstraintsException;
        return (deep ? "is nested deeper than " + DEEPEST + " levels, or too large" : "is not valid JSON") + place;
    }
}
