package warden.report;

import java.io.StringWriter;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Consumer;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.ObjectWriteContext;
import tools.jackson.core.PrettyPrinter;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.core.util.DefaultIndenter;
import tools.jackson.core.util.DefaultPrettyPrinter;
import warden.core.access.Witness;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;

/** Writes JSON documents for people and programs: indented, in a fixed order, lines ended by {@code \n}. */
public final class Json {
    private static final JsonFactory FACTORY = new JsonFactory();

    /** Gives every document the same layout on every system. */
    private static final class Layout extends ObjectWriteContext.Base {
        @Override
        public PrettyPrinter getPrettyPrinter() {
            DefaultIndenter indenter = new DefaultIndenter(" ", "\n");
            DefaultPrettyPrinter printer = new DefaultPrettyPrinter();
            printer.indentObjectsWith(indenter);
            printer.indentArraysWith(indenter);
            return printer;
        }

        @Override
        public boolean hasPrettyPrinter() {
            return true;
        }
    }

    private final JsonGenerator generator;

    private Json(JsonGenerator generator) {
        this.generator = generator;
    }

    /** Returns the document whose root object {@code body} fills, with a line end. */
    static String document(Consumer<Json> body) {
        StringWriter out = new StringWriter();
        try (JsonGenerator generator = FACTORY.createGenerator(new Layout(), out)) {
            generator.writeStartObject();
            body.accept(new Json(generator));
            generator.writeEndObject();
        }
        return out + "\n";
    }

    /** Returns the document on one line, without a line end. */
    static String line(Consumer<Json> body) {
        StringWriter out = new StringWriter();
        try (JsonGenerator generator = FACTORY.createGenerator(ObjectWriteContext.empty(), out)) {
            generator.writeStartObject();
            body.accept(new Json(generator));
            generator.writeEndObject();
        }
        return out.toString();
    }

    /** Returns a document that is JSON already, laid out, with a line end. */
    public static String part(JsonPart root) {
        StringWriter out = new StringWriter();
        try (JsonGenerator generator = FACTORY.createGenerator(new Layout(), out)) {
            new Json(generator).value(root);
        }
        return out + "\n";
    }

    Json text(String name, String value) {
        generator.writeStringProperty(name, value);
        return this;
    }

    /** Writes a text, or null when there is none. */
    Json text(String name, Optional<String> value) {
        if (value.isPresent()) {
            return text(name, value.get());
        }
        generator.writeNullProperty(name);
        return this;
    }

    Json number(String name, long value) {
        generator.writeNumberProperty(name, value);
        return this;
    }

    /** Writes a number, or null when there is none. */
    Json number(String name, OptionalInt value) {
        if (value.isPresent()) {
            return number(name, value.getAsInt());
        }
        generator.writeNullProperty(name);
        return this;
    }

    Json truth(String name, boolean value) {
        generator.writeBooleanProperty(name, value);
        return this;
    }

    Json texts(String name, List<String> values) {
        generator.writeArrayPropertyStart(name);
        values.forEach(generator::writeString);
        generator.writeEndArray();
        return this;
    }

    Json numbers(String name, List<Integer> values) {
        generator.writeArrayPropertyStart(name);
        values.forEach(generator::writeNumber);
        generator.writeEndArray();
        return this;
    }

    /** Writes a document that is JSON already. */
    Json part(String name, JsonPart part) {
        generator.writeName(name);
        value(part);
        return this;
    }

    private void value(JsonPart part) {
        if (part instanceof JsonPart.JsonObject object) {
            generator.writeStartObject();
            object.members().forEach(this::part);
            generator.writeEndObject();
        } else if (part instanceof JsonPart.JsonArray array) {
            generator.writeStartArray();
            array.items().forEach(this::value);
            generator.writeEndArray();
        } else if (part instanceof JsonPart.JsonText text) {
            generator.writeString(text.value());
        } else if (part instanceof JsonPart.JsonTruth truth) {
            generator.writeBoolean(truth.value());
        } else if (part instanceof JsonPart.JsonNumber number) {
            generator.writeNumber(number.literal());
        } else {
            generator.writeNull();
        }
    }

    Json object(String name, Runnable body) {
        generator.writeObjectPropertyStart(name);
        body.run();
        generator.writeEndObject();
        return this;
    }

    <T> Json objects(String name, List<T> items, Consumer<T> body) {
        generator.writeArrayPropertyStart(name);
        for (T item : items) {
            generator.writeStartObject();
            body.accept(item);
            generator.writeEndObject();
        }
        generator.writeEndArray();
        return this;
    }

    /** Writes what a visitor gets: the first of what is possible. */
    Json outcome(Trace trace) {
        Outcome outcome = trace.outcomes().get(0);
        number("status", outcome.status()).text("object", outcome.object());
        outcome.location().ifPresent(to -> text("location", to));
        outcome.failure().ifPresent(failure -> text("failure", failure.word()));
        return this;
    }

    Json because(List<Citation> citations) {
        return objects("because", citations, citation -> {
            text("file", citation.file())
                    .number("line", citation.line())
                    .text("aspect", citation.aspect())
                    .text("path", citation.path())
                    .text("quote", citation.quote());
            citation.from()
                    .ifPresent(from -> object("from", () -> text("file", from.file())
                            .number("line", from.line())
                            .text("address", from.address())));
        });
    }

    Json witness(Optional<Witness> witness) {
        witness.ifPresent(request -> object("witness", () -> text("who", request.who())
                .text("action", request.action())
                .text("on", request.on())
                .object("context", () -> request.context().forEach(this::text))));
        return this;
    }

    Json needs(List<Need> needs) {
        return objects("needs", needs, need -> text("aspect", need.aspect()).text("of", need.of()));
    }
}
