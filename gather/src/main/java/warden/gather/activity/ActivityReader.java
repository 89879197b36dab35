package warden.gather.activity;

import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
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
import warden.core.trim.Activity;
import warden.core.trim.Activity.Count;
import warden.core.trim.Activity.Use;

/** Reads log files and folders of them. Source: CloudTrail User Guide, "CloudTrail log file examples" and "CloudTrail record contents". */
public final class ActivityReader {
    private static final int MOST_REASONS = 50;
    private static final JsonFactory FACTORY = JsonFactory.builder().build();

    private final Map<String, Map<Use, Count>> uses = new HashMap<>();
    private final List<String> problems = new ArrayList<>();
    /** Why events are not taken over: how many. */
    private final Map<String, Integer> passedOver = new TreeMap<>();
    /** Events that are not taken over for reasons beyond the most that are told. */
    private int further;

    private long events;
    private long refused;

    private ActivityReader() {}

    /**
     * Reads files, JSON or JSON in gzip, and all such files in folders.
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
        if (!names.isEmpty() && reader.events == 0 && reader.problems.isEmpty()) {
            throw new IOException(names.get(0)
                    + ": this holds no event of the account's log; a log file is JSON with a list \"Records\"");
        }
        List<String> problems = new ArrayList<>(reader.problems);
        reader.passedOver.forEach((why, count) -> problems.add(passedOver(count, why)));
        if (reader.further > 0) {
            problems.add(passedOver(reader.further, "for further reasons of these kinds"));
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
            return all.filter(file -> file.toString().matches(".*\\.json(\\.gz)?"))
                    .filter(file -> Files.isRegularFile(file, java.nio.file.LinkOption.NOFOLLOW_LINKS))
                    .sorted()
                    .toList();
        }
    }

    private void file(Path file) throws IOException {
        long before = events;
        try (InputStream in = open(file);
                JsonParser parser = FACTORY.createParser(in)) {
            document(parser);
        } catch (EOFException | ZipException cutOff) {
            problem(file, before, "is cut off in the middle");
        } catch (IOException unreadable) {
            throw new IOException(file + ": this log file cannot be read; make it readable, or leave it out");
        } catch (JacksonException broken) {
            boolean cut = String.valueOf(broken.getMessage()).contains("end-of-input")
                    || broken.getCause() instanceof EOFException;
            problem(file, before, cut ? "is cut off in the middle" : "is not JSON throughout");
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
        boolean isEvent = false;
        while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
            String name = parser.currentName();
            JsonToken value = parser.nextToken();
            if (name.equals("Records") && value == JsonToken.START_ARRAY) {
                while (parser.nextToken() == JsonToken.START_OBJECT) {
                    Event each = new Event();
                    each.read(parser);
                    count(each);
                }
            } else if (event.member(name, value, parser)) {
                isEvent = true;
            }
        }
        if (isEvent) {
            count(event);
        }
    }

    private void count(Event event) {
        events++;
        if (event.isRefused()) {
            refused++;
            return;
        }
        Optional<String> principal = event.principal();
        if (principal.isEmpty()) {
            return;
        }
        Optional<Use> use = event.use();
        if (use.isPresent()) {
            uses.computeIfAbsent(principal.get(), key -> new HashMap<>())
                    .merge(use.get(), new Count(1, event.time()), Count::plus);
        } else {
            event.obstacle().ifPresent(this::passOver);
        }
    }

    private void passOver(String why) {
        if (passedOver.size() < MOST_REASONS || passedOver.containsKey(why)) {
            passedOver.merge(why, 1, Integer::sum);
        } else {
            further++;
        }
    }

    private static String passedOver(int count, String why) {
        return count + (count == 1 ? " event" : " events") + " of the log " + why + "; nothing is taken over from "
                + (count == 1 ? "it" : "them");
    }
}
