package warden.gather.aws.activity;

import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipException;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.MappingIterator;
import tools.jackson.databind.ObjectReader;
import tools.jackson.dataformat.csv.CsvMapper;
import tools.jackson.dataformat.csv.CsvReadFeature;
import warden.core.trim.Activity;
import warden.core.trim.Activity.Count;
import warden.core.trim.Activity.Use;

/**
 * Reads log files and folders of them, and the results of {@link ActivityQuery} over such logs, which give the same answers.
 *
 * <p>Source: CloudTrail User Guide, "CloudTrail log file examples" and "CloudTrail record contents".
 */
public final class ActivityReader {
    private static final int MOST_REASONS = 50;
    private static final int MOST_DAYS = 10_000;
    private static final int LOOKED_AT = 32;
    private static final JsonFactory FACTORY = JsonFactory.builder().build();
    private static final ObjectReader TABLES =
            CsvMapper.builder().build().readerFor(String[].class).with(CsvReadFeature.WRAP_AS_ARRAY);

    private final Map<String, Map<String, Map<String, Count>>> uses = new HashMap<>();
    private final List<String> problems = new ArrayList<>();
    private final Map<String, String> days = new HashMap<>();
    /** Why events are not taken over: how many. */
    private final Map<String, Long> passedOver = new TreeMap<>();
    /** The same of rows of results. */
    private final Map<String, Long> rowsPassedOver = new TreeMap<>();
    /** Events that are not taken over for reasons beyond the most that are told. */
    private long further;

    private long events;
    /** Rows of the result that is being read. */
    private long rows;

    private long refused;

    private ActivityReader() {}

    /**
     * Reads files, JSON or CSV, in gzip or not, and all such files in folders.
     *
     * @param names as the user gave them
     * @throws IOException when one is missing, or none holds an event, with a sentence for the user
     */
    public static Activity read(List<String> names) throws IOException {
        ActivityReader reader = new ActivityReader();
        for (String name : names) {
            for (Path file : reader.files(name)) {
                reader.file(file);
            }
        }
        if (!names.isEmpty() && reader.events == 0 && reader.rowsPassedOver.isEmpty() && reader.problems.isEmpty()) {
            throw new IOException(
                    names.get(0)
                            + ": this holds no event of the account's log; a log file is JSON with a list \"Records\", a result of the query CSV or JSON Lines");
        }
        List<String> problems = new ArrayList<>(reader.problems);
        reader.passedOver.forEach((why, count) -> problems.add(passedOver(count, "event", "of the log " + why)));
        reader.rowsPassedOver.forEach((why, count) -> problems.add(passedOver(count, "row", "of a result " + why)));
        if (reader.further > 0) {
            problems.add(passedOver(reader.further, "event", "of the log for further reasons of these kinds"));
        }
        return new Activity(reader.uses, reader.events, reader.refused, problems);
    }

    private List<Path> files(String name) throws IOException {
        Path path = Path.of(name);
        if (Files.isRegularFile(path)) {
            return List.of(path);
        }
        if (!Files.isDirectory(path)) {
            throw new IOException(name + ": there is no such log file or folder; give one with --activity FILE");
        }
        try (Stream<Path> all = Files.walk(path)) {
            return all.filter(file -> file.toString().matches(".*\\.(json|jsonl|ndjson|csv)(\\.gz)?"))
                    .filter(file -> Files.isRegularFile(file, java.nio.file.LinkOption.NOFOLLOW_LINKS))
                    .sorted()
                    .toList();
        }
    }

    private void file(Path file) throws IOException {
        long before = events;
        rows = 0;
        boolean isTable = isTable(file);
        try (InputStream in = open(file)) {
            if (isTable) {
                table(file, in);
            } else {
                try (JsonParser parser = FACTORY.createParser(in)) {
                    document(parser);
                }
            }
        } catch (EOFException | ZipException cutOff) {
            problem(file, before, "is cut off in the middle");
        } catch (NotReadableException said) {
            throw said;
        } catch (IOException unreadable) {
            throw new IOException(file + ": this log file cannot be read; make it readable, or leave it out");
        } catch (JacksonException broken) {
            boolean cut = String.valueOf(broken.getMessage()).contains("end-of-input")
                    || broken.getCause() instanceof EOFException;
            String form = isTable ? "CSV" : "JSON";
            problem(file, before, cut ? "is cut off in the middle" : "is not " + form + " throughout");
        }
        if (rows > ActivityQuery.MOST_ROWS) {
            problems.add(
                    file + ": this result has more than " + ActivityQuery.MOST_ROWS
                            + " rows, and what stands beyond them is not read; ask for fewer days at a time, by --from and --to, and give all results");
        }
    }

    /** What is wrong with a file, as a sentence for the user. */
    private static final class NotReadableException extends IOException {
        NotReadableException(String message) {
            super(message);
        }
    }

    /** A table begins with the names of its columns, JSON with a brace or bracket. */
    private static boolean isTable(Path file) {
        try (InputStream in = open(file)) {
            String text = new String(in.readNBytes(LOOKED_AT), StandardCharsets.UTF_8)
                    .replace("\uFEFF", "")
                    .stripLeading();
            return text.startsWith("\"") || ResultRow.COLUMNS.stream().anyMatch(text::startsWith);
        } catch (IOException unreadable) {
            // Said by who reads it.
            return false;
        }
    }

    private void table(Path file, InputStream in) throws IOException {
        try (MappingIterator<String[]> lines = TABLES.readValues(in)) {
            List<String> columns = new ArrayList<>();
            for (String column : lines.hasNextValue() ? lines.nextValue() : new String[0]) {
                columns.add(column.replace("\uFEFF", "").strip());
            }
            if (!columns.containsAll(ResultRow.COLUMNS)) {
                throw new NotReadableException(file + ": this table has not the columns of the query's result ("
                        + String.join(", ", ResultRow.COLUMNS)
                        + "); run the query of --activity-query, and give its result");
            }
            int[] places = columns.stream().mapToInt(ResultRow.COLUMNS::indexOf).toArray();
            while (lines.hasNextValue()) {
                String[] values = lines.nextValue();
                ResultRow row = new ResultRow();
                for (int i = 0; i < Math.min(places.length, values.length); i++) {
                    if (places[i] >= 0) {
                        row.take(places[i], values[i]);
                    }
                }
                count(row);
            }
        }
    }

    private void problem(Path file, long before, String what) throws IOException {
        long read = events - before;
        if (read == 0) {
            throw new IOException(file + ": this log file " + what + ", and holds no event before that; leave it out");
        }
        problems.add(file + ": this log file " + what + "; the " + read + (read == 1 ? " event" : " events")
                + " before that " + (read == 1 ? "is" : "are") + " counted");
    }

    private static InputStream open(Path file) throws IOException {
        InputStream in = new BufferedInputStream(Files.newInputStream(file), 1 << 16);
        in.mark(2);
        int first = in.read();
        int second = in.read();
        in.reset();
        return first == 0x1f && second == 0x8b ? new GZIPInputStream(in, 1 << 16) : in;
    }

    /** Reads {@code {"Records":[…]}}, or one event after the other. */
    private void document(JsonParser parser) {
        while (parser.nextToken() != null) {
            if (parser.currentToken() == JsonToken.START_OBJECT) {
                object(parser);
            }
        }
    }

    private void object(JsonParser parser) {
        Event event = new Event();
        ResultRow row = new ResultRow();
        boolean isEvent = false;
        while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
            String name = parser.currentName();
            JsonToken value = parser.nextToken();
            if (name.equals("Records") && value == JsonToken.START_ARRAY) {
                while (parser.nextToken() == JsonToken.START_OBJECT) {
                    Event each = new Event();
                    each.read(parser);
                    count(each, 1);
                }
            } else if (value.isScalarValue() && row.take(name, parser.getValueAsString(""))) {
                continue;
            } else if (event.member(name, value, parser)) {
                isEvent = true;
            }
        }
        if (isEvent) {
            count(event, 1);
        } else if (!row.isEmpty()) {
            count(row);
        }
    }

    private void count(ResultRow row) {
        rows++;
        if (rows > ActivityQuery.MOST_ROWS) {
            return;
        }
        Optional<String> obstacle = row.obstacle();
        if (obstacle.isPresent()) {
            rowsPassedOver.merge(obstacle.get(), 1L, Long::sum);
        } else if (row.isRefused()) {
            events += row.uses();
            refused += row.uses();
        } else {
            count(row.event(), row.uses());
        }
    }

    private void count(Event event, long times) {
        events += times;
        if (event.isRefused()) {
            refused += times;
            return;
        }
        Optional<String> principal = event.principal();
        if (principal.isEmpty()) {
            return;
        }
        Optional<Use> use = event.use();
        if (use.isPresent()) {
            uses.computeIfAbsent(principal.get(), key -> new HashMap<>())
                    .computeIfAbsent(use.get().action(), key -> new HashMap<>())
                    .merge(use.get().on(), new Count(times, day(event.time())), Count::plus);
        } else {
            event.obstacle().ifPresent(why -> passOver(why, times));
        }
    }

    /** Of millions of uses only the day is kept, each day once. */
    private String day(String time) {
        int end = time.indexOf('T');
        String day = end < 0 ? time : time.substring(0, end);
        String known = days.get(day);
        if (known != null) {
            return known;
        }
        if (days.size() < MOST_DAYS) {
            days.put(day, day);
        }
        return day;
    }

    private void passOver(String why, long times) {
        if (passedOver.size() < MOST_REASONS || passedOver.containsKey(why)) {
            passedOver.merge(why, times, Long::sum);
        } else {
            further += times;
        }
    }

    private static String passedOver(long count, String what, String why) {
        return count + " " + what + (count == 1 ? " " : "s ") + why + "; nothing is taken over from "
                + (count == 1 ? "it" : "them");
    }
}
