package warden.core.survey;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.core.util.JsonRecyclerPools;
import warden.core.document.DisplayText;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.survey.SurveyLine.Outcome;

/**
 * Reads a survey line by line, holding half a megabyte of lines at a time, which are understood side by side where there is more. A line
 * that breaks the format ends the reading with its number; what a reading's document says is not judged here.
 */
public final class SurveyReader {
    private static final int LONGEST_LINE = 256 * 1024 * 1024;
    /** Characters of lines that are held at a time. */
    private static final int BATCH = 512 * 1024;

    private static final JsonFactory FACTORY = JsonFactory.builder()
            .recyclerPool(JsonRecyclerPools.threadLocalPool())
            .streamReadConstraints(StreamReadConstraints.builder()
                    .maxNestingDepth(200)
                    .maxStringLength(LONGEST_LINE)
                    .build())
            .build();

    private final String file;
    private final InputStream in;
    private byte[] buffer = new byte[64 * 1024];
    private int start;
    private int end;
    private int line;
    private boolean ended;
    private @Nullable SurveyException unreadable;

    private SurveyReader(InputStream in, String file) {
        this.in = in;
        this.file = file;
    }

    /**
     * Reads the whole stream and hands each reading on in the order of the file.
     *
     * @param file the name to cite
     * @return the header
     * @throws SurveyException when the header or a line breaks the format; the message names file and line
     * @throws IOException when the stream itself fails
     */
    public static SurveyHeader read(InputStream in, String file, Consumer<SurveyLine> readings)
            throws SurveyException, IOException {
        return readAfterHeader(in, file, header -> readings);
    }

    /**
     * As above, for who has to know the header first.
     *
     * @param readings takes the header and returns what takes the readings
     */
    public static SurveyHeader readAfterHeader(
            InputStream in, String file, Function<SurveyHeader, Consumer<SurveyLine>> readings)
            throws SurveyException, IOException {
        SurveyReader reader = new SurveyReader(in, file);
        String first = reader.nextLine();
        while (first != null && first.isBlank()) {
            first = reader.nextLine();
        }
        if (first == null) {
            throw new SurveyException(
                    file,
                    "the survey is empty; its first line must be a header such as "
                            + "{\"survey\":1,\"provider\":\"aws\",…}");
        }
        SurveyHeader header = reader.header(first);
        Consumer<SurveyLine> taker = readings.apply(header);
        List<Line> batch = reader.nextLines();
        boolean isLarge = !reader.ended;
        if (isLarge) {
            // Loads what reading takes by one thread before several use it: classes that need each other may not be
            // loaded by two.
            understood(batch.get(0));
        }
        for (; !batch.isEmpty(); batch = reader.nextLines()) {
            Stream<Line> lines = isLarge ? batch.parallelStream() : batch.stream();
            for (Understood each : lines.map(SurveyReader::understood).toList()) {
                taker.accept(each.orThrow());
            }
        }
        return header;
    }

    /** A line that is not blank, and its number. */
    private record Line(String file, int number, String text) {
        SurveyException broken(String says) {
            return new SurveyException(file, number, says);
        }
    }

    /** A reading, or what is wrong with its line: the first line that is broken ends the reading, whichever thread came upon it first. */
    private record Understood(
            @Nullable SurveyLine reading, @Nullable SurveyException broken) {
        SurveyLine orThrow() throws SurveyException {
            if (broken != null) {
                throw broken;
            }
            return Objects.requireNonNull(reading);
        }
    }

    private static Understood understood(Line line) {
        try {
            return new Understood(reading(line), null);
        } catch (SurveyException broken) {
            return new Understood(null, broken);
        }
    }

    /** Returns the next lines that are not blank; none after the last. A line that cannot be read is told of when those before it are taken. */
    private List<Line> nextLines() throws SurveyException, IOException {
        List<Line> lines = new ArrayList<>();
        int characters = 0;
        while (characters < BATCH && unreadable == null && !ended) {
            try {
                String text = nextLine();
                if (text == null) {
                    ended = true;
                } else if (!text.isBlank()) {
                    lines.add(new Line(file, line, text));
                    characters += text.length();
                }
            } catch (SurveyException broken) {
                unreadable = broken;
            }
        }
        if (lines.isEmpty() && unreadable != null) {
            throw unreadable;
        }
        return lines;
    }

    private SurveyHeader header(String text) throws SurveyException {
        JsonPart root = JsonReader.read(text).root().orElse(null);
        if (!(root instanceof JsonPart.JsonObject) || root.find("survey").isEmpty()) {
            throw broken("this is not the header of a survey; the first line must be "
                    + "{\"survey\":1,\"provider\":\"aws\",\"account\":…}");
        }
        String version = root.text("survey").orElse("?");
        if (!version.equals(Integer.toString(SurveyHeader.VERSION))) {
            throw broken("the survey has format version " + DisplayText.name(version) + "; this program reads version "
                    + SurveyHeader.VERSION + ", so take the survey again or use the program's matching release");
        }
        String provider = root.text("provider").orElse("");
        if (provider.isEmpty()) {
            throw broken("the header names no provider; it must have one, such as \"provider\":\"aws\"");
        }
        return new SurveyHeader(
                file,
                provider,
                root.text("account").orElse(""),
                root.text("takenAt").orElse(""),
                root.text("takenBy").orElse(""),
                root.texts("scope", "hosts").stream()
                        .map(host -> host.toLowerCase(Locale.ROOT))
                        .toList(),
                root.text("tenant").orElse(""),
                root.text("from").filter(SurveyWriter.TEMPLATE::equals).isPresent());
    }

    private static SurveyLine reading(Line line) throws SurveyException {
        String text = line.text();
        String aspect = null;
        String of = null;
        String call = "";
        Outcome outcome = null;
        String body = "";
        Optional<Place> from = Optional.empty();
        try (JsonParser parser = FACTORY.createParser(ObjectReadContext.empty(), text)) {
            if (parser.nextToken() != JsonToken.START_OBJECT) {
                throw line.broken("a reading must be a JSON object");
            }
            for (String name = parser.nextName(); name != null; name = parser.nextName()) {
                JsonToken value = parser.nextToken();
                switch (name) {
                    // One of a few dozen words, and part of whatever cites the line.
                    case "aspect" -> aspect = text(line, parser, value, name).intern();
                    case "of" -> of = text(line, parser, value, name);
                    case "call" -> call = text(line, parser, value, name);
                    case "found", "absent", "unread" -> {
                        if (outcome != null) {
                            throw line.broken("a reading has exactly one of found, absent and unread; this has two");
                        }
                        outcome = outcome(name);
                        body = body(line, parser, value, outcome);
                    }
                    case "from" -> from = place(line, parser, value);
                    case "survey" ->
                        throw line.broken("a second header stands here; give several surveys as several files");
                    default -> parser.skipChildren();
                }
            }
            if (parser.nextToken() != null) {
                throw line.broken("text follows the reading on the same line; write one reading a line");
            }
        } catch (JacksonException broken) {
            throw line.broken("this is not a JSON object"
                    + (broken.getLocation() == null
                            ? ""
                            : " (it breaks at column " + broken.getLocation().getColumnNr() + ")")
                    + "; mend or remove the line, or take the survey again");
        }
        if (aspect == null || of == null) {
            throw line.broken("a reading needs \"aspect\" and \"of\"; " + (aspect == null ? "aspect" : "of")
                    + " is missing here");
        }
        if (outcome == null) {
            throw line.broken("a reading has exactly one of found, absent and unread; this has none");
        }
        return new SurveyLine(line.file(), line.number(), aspect, of, call, outcome, body, from);
    }

    private static Outcome outcome(String name) {
        return switch (name) {
            case "found" -> Outcome.FOUND;
            case "absent" -> Outcome.ABSENT;
            default -> Outcome.UNREAD;
        };
    }

    private static String text(Line line, JsonParser parser, JsonToken value, String name) throws SurveyException {
        if (value != JsonToken.VALUE_STRING) {
            throw line.broken("\"" + name + "\" must be a text");
        }
        return parser.getString();
    }

    private static Optional<Place> place(Line line, JsonParser parser, JsonToken value) throws SurveyException {
        int start = (int) parser.currentTokenLocation().getCharOffset();
        parser.skipChildren();
        JsonPart part = value == JsonToken.START_OBJECT
                ? JsonReader.read(line.text()
                                .substring(start, (int) parser.currentLocation().getCharOffset()))
                        .root()
                        .orElseThrow()
                : null;
        Optional<String> at = Optional.ofNullable(part).flatMap(each -> each.text("file"));
        Optional<String> number = Optional.ofNullable(part)
                .flatMap(each -> each.text("line"))
                .filter(each -> each.matches("[1-9][0-9]{0,8}"));
        if (at.isEmpty() || number.isEmpty()) {
            throw line.broken("\"from\" must say where a description stands, as {\"file\":…,\"line\":…,\"address\":…}");
        }
        return Optional.of(new Place(
                at.get(), Integer.parseInt(number.get()), part.text("address").orElse("")));
    }

    private static String body(Line line, JsonParser parser, JsonToken value, Outcome outcome) throws SurveyException {
        int from = (int) parser.currentTokenLocation().getCharOffset();
        parser.skipChildren();
        if (outcome == Outcome.FOUND) {
            if (value != JsonToken.START_OBJECT && value != JsonToken.START_ARRAY) {
                throw line.broken("\"found\" must hold the document that the account gave, a JSON object");
            }
            return line.text().substring(from, (int) parser.currentLocation().getCharOffset());
        }
        if (outcome == Outcome.ABSENT) {
            if (value != JsonToken.VALUE_STRING) {
                throw line.broken("\"absent\" must be the code with which the account said that there is none, a text");
            }
            return parser.getString();
        }
        if (value != JsonToken.VALUE_STRING && value != JsonToken.START_OBJECT) {
            throw line.broken("\"unread\" must say why, as {\"code\":…,\"message\":…}");
        }
        // A text token is read lazily; asking for it moves the parser to its end.
        if (value == JsonToken.VALUE_STRING) {
            parser.getString();
        }
        return line.text().substring(from, (int) parser.currentLocation().getCharOffset());
    }

    private SurveyException broken(String says) {
        return new SurveyException(file, line, says);
    }

    /** Returns the next line without its end, or null after the last. */
    private @Nullable String nextLine() throws SurveyException, IOException {
        line++;
        int scanned = start;
        // Has the sign bit as soon as one byte had it.
        int signs = 0;
        while (true) {
            for (; scanned < end; scanned++) {
                byte each = buffer[scanned];
                signs |= each;
                if (each == '\n') {
                    String text = decode(start, scanned, signs >= 0);
                    start = scanned + 1;
                    return text;
                }
            }
            scanned -= start;
            if (!fill()) {
                if (start == end) {
                    return null;
                }
                String text = decode(start, end, signs >= 0);
                start = end;
                return text;
            }
            scanned += start;
        }
    }

    private boolean fill() throws SurveyException, IOException {
        if (start > 0) {
            System.arraycopy(buffer, start, buffer, 0, end - start);
            end -= start;
            start = 0;
        }
        if (end == buffer.length) {
            if (buffer.length >= LONGEST_LINE) {
                throw broken("this line is longer than " + LONGEST_LINE / 1024 / 1024 + " MB; it is no reading");
            }
            buffer = Arrays.copyOf(buffer, buffer.length * 2);
        }
        int read = in.read(buffer, end, buffer.length - end);
        if (read <= 0) {
            return false;
        }
        end += read;
        return true;
    }

    private String decode(int from, int to, boolean isAscii) throws SurveyException {
        if (isAscii) {
            // As nearly all lines are; the decoder goes through each character.
            return new String(buffer, from, to - from, StandardCharsets.ISO_8859_1);
        }
        try {
            return StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .onUnmappableCharacter(CodingErrorAction.REPORT)
                    .decode(ByteBuffer.wrap(buffer, from, to - from))
                    .toString();
        } catch (CharacterCodingException notText) {
            throw broken("this line is not UTF-8 text; a survey is JSON Lines in UTF-8, or the same compressed as .gz");
        }
    }
}
