package warden.gather.rehearsal;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.rehearse.RehearsalRecord;
import warden.core.rehearse.RehearsedCall;
import warden.core.rehearse.RehearsedUses;

/** Reads the record of a rehearsal. */
public final class RehearsalReader {
    private RehearsalReader() {}

    /**
     * What a record tells.
     *
     * @param as the ARN of who was rehearsed
     * @param hasEnd false for the record of a rehearsal that was interrupted
     */
    public record Record(String as, RehearsedUses uses, boolean hasEnd) {
        /** True where it shows all that the deployment needs: it came to its end, and all that it asked is simulated. */
        public boolean isWhole() {
            return hasEnd && uses.notSimulated().isEmpty();
        }
    }

    /**
     * Reads one.
     *
     * @param storeOf as {@link RehearsedUses} asks for it
     * @throws IOException with one sentence that says what is wrong, and where
     */
    public static Record read(String file, Function<String, Optional<String>> storeOf) throws IOException {
        try (BufferedReader in = Files.newBufferedReader(Path.of(file), StandardCharsets.UTF_8)) {
            String first = in.readLine();
            JsonPart header =
                    first == null ? null : JsonReader.read(first).root().orElse(null);
            if (header == null
                    || header.text("rehearsal").isEmpty()
                    || header.text("as").isEmpty()) {
                throw new IOException(
                        file + ": is not the record of a rehearsal; \"rehearse --record FILE\" writes one");
            }
            if (!header.text("rehearsal")
                    .filter(Integer.toString(RehearsalRecord.VERSION)::equals)
                    .isPresent()) {
                throw new IOException(file + ": is a record of another version; rehearse again");
            }
            String as = header.text("as").orElseThrow();
            RehearsedUses uses = new RehearsedUses(as, storeOf);
            boolean hasEnd = false;
            int number = 1;
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                number++;
                JsonPart part = JsonReader.read(line).root().orElse(null);
                if (part == null) {
                    // An interruption may leave half a line, at the end.
                    if (in.readLine() == null) {
                        break;
                    }
                    throw new IOException(file + ": line " + number + " is no JSON");
                }
                if (part.find("calls").isPresent()) {
                    hasEnd = true;
                    continue;
                }
                uses.add(call(part, as, file, number));
            }
            return new Record(as, uses, hasEnd);
        } catch (NoSuchFileException missing) {
            throw new IOException(file + ": there is no such file", missing);
        } catch (CharacterCodingException binary) {
            throw new IOException(file + ": is not a text in UTF-8", binary);
        }
    }

    private static RehearsedCall call(JsonPart line, String as, String file, int number) throws IOException {
        List<RehearsedCall.Need> needs = new ArrayList<>();
        for (JsonPart need : line.list("needs")) {
            String action = need.text("action").orElse("");
            String on = need.text("on").orElse("");
            if (!action.matches("[a-z0-9-]{1,64}:[A-Za-z0-9]{1,128}") || on.isEmpty()) {
                throw new IOException(file + ": line " + number + " names a need without an action or a resource");
            }
            needs.add(new RehearsedCall.Need(
                    action,
                    on,
                    Map.of(),
                    need.flag("allowed").orElse(true),
                    need.text("says").orElse("not said"),
                    List.of()));
        }
        if (line.text("service").isEmpty() || line.text("answer").isEmpty()) {
            throw new IOException(file + ": line " + number + " is no call of a rehearsal");
        }
        return new RehearsedCall(
                Instant.EPOCH,
                line.text("service").orElseThrow(),
                line.text("operation").orElse(""),
                line.text("as").orElse(as),
                needs,
                line.text("answer")
                        .filter(text -> text.matches("[0-9]{3}"))
                        .map(Integer::parseInt)
                        .orElse(0),
                line.flag("simulated").orElse(true),
                line.text("problem").orElse(""));
    }
}
