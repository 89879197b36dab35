package warden.core.access;

import java.io.StringWriter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.ObjectWriteContext;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.json.JsonFactory;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Answers questions, one JSON object a line, each on its own. Safe for use by several threads. */
public final class Questions {
    private static final JsonFactory JSON = JsonFactory.builder()
            .streamReadConstraints(
                    StreamReadConstraints.builder().maxNestingDepth(50).build())
            .build();

    private final Answers answers;

    public Questions(Answers answers) {
        this.answers = answers;
    }

    /** Who decides. */
    public interface Answers {
        /**
         * Decides a question.
         *
         * @throws UnusableQuestionException when it names nobody, or nothing, that can be decided about
         */
        Decision to(Question question) throws UnusableQuestionException;
    }

    /**
     * A question.
     *
     * @param context what the request carries, by name; no values where that is not known
     */
    public record Question(String who, String action, String on, Map<String, Optional<List<String>>> context) {}

    /** Says why a line is no question. */
    public static final class UnusableQuestionException extends Exception {
        private static final long serialVersionUID = 1L;

        public UnusableQuestionException(String says) {
            super(says, null, false, false);
        }
    }

    /** One question while it is being read. */
    private static final class Draft {
        private String id = "null";
        private String who = "";
        private String action = "";
        private String on = "";
        private final Map<String, Optional<List<String>>> context = new HashMap<>();
    }

    /** Returns the answer to one line, without a line end; a malformed question is answered with an error. */
    public String answer(String line) {
        Draft draft = new Draft();
        try {
            read(line, draft);
            return spell(draft.id, answers.to(new Question(draft.who, draft.action, draft.on, draft.context)));
        } catch (UnusableQuestionException malformed) {
            return error(draft.id, malformed.getMessage());
        } catch (JacksonException broken) {
            return error(draft.id, "the line is not a JSON object");
        }
    }

    private static void read(String line, Draft draft) throws UnusableQuestionException {
        try (JsonParser parser = JSON.createParser(ObjectReadContext.empty(), line)) {
            if (parser.nextToken() != JsonToken.START_OBJECT) {
                throw new UnusableQuestionException("the line is not a JSON object");
            }
            for (String name = parser.nextName(); name != null; name = parser.nextName()) {
                JsonToken value = parser.nextToken();
                switch (name) {
                    case "id" -> draft.id = id(parser, value);
                    case "who" -> draft.who = text(parser, value, name);
                    case "action" -> draft.action = text(parser, value, name);
                    case "on" -> draft.on = text(parser, value, name);
                    case "plane" -> draft.context.put(name, Optional.of(List.of(text(parser, value, name))));
                    case "context" -> context(parser, value, draft.context);
                    case "unknownContext" -> {
                        for (String key : texts(parser, value, name)) {
                            draft.context.put(key, Optional.empty());
                        }
                    }
                    default -> parser.skipChildren();
                }
            }
            if (parser.nextToken() != null) {
                throw new UnusableQuestionException("text follows the question on the same line");
            }
        }
    }

    /** Keeps an id as the JSON that it was: a text, a number, true, false or null. */
    private static String id(JsonParser parser, JsonToken value) throws UnusableQuestionException {
        if (value == JsonToken.VALUE_STRING) {
            StringWriter out = new StringWriter();
            try (JsonGenerator generator = JSON.createGenerator(ObjectWriteContext.empty(), out)) {
                generator.writeString(parser.getString());
            }
            return out.toString();
        }
        if (value.isScalarValue()) {
            return parser.getString();
        }
        throw new UnusableQuestionException("\"id\" must be a text or a number");
    }

    private static String text(JsonParser parser, JsonToken value, String name) throws UnusableQuestionException {
        if (value != JsonToken.VALUE_STRING) {
            throw new UnusableQuestionException("\"" + name + "\" must be a text");
        }
        return parser.getString();
    }

    private static void context(JsonParser parser, JsonToken value, Map<String, Optional<List<String>>> context)
            throws UnusableQuestionException {
        if (value != JsonToken.START_OBJECT) {
            throw new UnusableQuestionException("\"context\" must be an object");
        }
        for (String key = parser.nextName(); key != null; key = parser.nextName()) {
            JsonToken token = parser.nextToken();
            if (token == JsonToken.START_ARRAY) {
                context.put(key, Optional.of(texts(parser, token, "context")));
            } else if (token.isScalarValue() && token != JsonToken.VALUE_NULL) {
                context.put(key, Optional.of(List.of(parser.getString())));
            } else {
                throw new UnusableQuestionException("the values in \"context\" must be texts or lists of texts");
            }
        }
    }

    private static List<String> texts(JsonParser parser, JsonToken value, String name)
            throws UnusableQuestionException {
        if (value != JsonToken.START_ARRAY) {
            throw new UnusableQuestionException("\"" + name + "\" must be a list of texts");
        }
        List<String> texts = new ArrayList<>();
        for (JsonToken token = parser.nextToken(); token != JsonToken.END_ARRAY; token = parser.nextToken()) {
            if (token == null || !token.isScalarValue() || token == JsonToken.VALUE_NULL) {
                throw new UnusableQuestionException("\"" + name + "\" must hold texts only");
            }
            texts.add(parser.getString());
        }
        return texts;
    }

    private static String error(String id, String says) {
        StringWriter out = new StringWriter();
        try (JsonGenerator json = JSON.createGenerator(ObjectWriteContext.empty(), out)) {
            json.writeStartObject();
            json.writeName("id");
            json.writeRawValue(id);
            json.writeStringProperty("error", says);
            json.writeEndObject();
        }
        return out.toString();
    }

    private static String spell(String id, Decision decision) {
        StringWriter out = new StringWriter(256);
        try (JsonGenerator json = JSON.createGenerator(ObjectWriteContext.empty(), out)) {
            json.writeStartObject();
            json.writeName("id");
            json.writeRawValue(id);
            json.writeStringProperty("decision", decision.outcome().word());
            json.writeBooleanProperty("explicit", decision.explicit());
            json.writeStringProperty("says", decision.says());
            json.writeArrayPropertyStart("because");
            for (Citation citation : decision.because()) {
                json.writeStartObject();
                json.writeStringProperty("file", citation.file());
                json.writeNumberProperty("line", citation.line());
                json.writeStringProperty("aspect", citation.aspect());
                json.writeStringProperty("path", citation.path());
                json.writeEndObject();
            }
            json.writeEndArray();
            needs(json, decision.needs());
            texts(json, "assumes", decision.assumes());
            texts(json, "steps", decision.steps());
            json.writeEndObject();
        }
        return out.toString();
    }

    private static void needs(JsonGenerator json, List<Need> needs) {
        if (needs.isEmpty()) {
            return;
        }
        json.writeArrayPropertyStart("needs");
        for (Need need : needs) {
            json.writeStartObject();
            json.writeStringProperty("aspect", need.aspect());
            json.writeStringProperty("of", need.of());
            json.writeStringProperty("why", need.why());
            json.writeEndObject();
        }
        json.writeEndArray();
    }

    private static void texts(JsonGenerator json, String name, List<String> texts) {
        if (!texts.isEmpty()) {
            json.writeArrayPropertyStart(name);
            texts.forEach(json::writeString);
            json.writeEndArray();
        }
    }
}
