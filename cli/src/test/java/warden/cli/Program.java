package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.InputFormat;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Optional;
import warden.core.survey.SurveyException;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** Runs the program's commands inside the test's own process, and makes simulated accounts for them. */
final class Program {
    static final Path DEMO = Path.of("..", "demo", "heron-sound-ferries.ndjson");
    static final Path QUAYSIDE = Path.of("..", "demo", "heron-sound-quayside.ndjson");
    static final Clock CLOCK = Clock.fixed(Instant.parse("2026-11-24T00:00:00Z"), ZoneOffset.UTC);

    private Program() {}

    /** What one run gave. */
    record Run(int code, String out, String err) {}

    static Run run(String... arguments) {
        return runOn("", arguments);
    }

    static Run runOn(String input, String... arguments) {
        return runIn(
                new World(new ByteArrayInputStream(input.getBytes(StandardCharsets.UTF_8)), CLOCK, false, false),
                arguments);
    }

    /** Runs a command as on a terminal that is so wide, without colours. */
    static Run onTerminal(int columns, String... arguments) {
        return runIn(new World(InputStream.nullInputStream(), CLOCK, true, columns, true), arguments);
    }

    private static Run runIn(World world, String... arguments) {
        StringWriter out = new StringWriter();
        StringWriter err = new StringWriter();
        int code = Main.run(world, new PrintWriter(out), new PrintWriter(err), arguments);
        return new Run(code, out.toString(), err.toString());
    }

    static void assertValid(String schema, String document) {
        try {
            String text = Files.readString(Path.of("..", "docs", "schema", schema + ".schema.json"));
            assertThat(SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
                            .getSchema(text)
                            .validate(document, InputFormat.JSON))
                    .isEmpty();
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    static String demo() {
        return read(DEMO);
    }

    static String read(Path file) {
        try {
            return Files.readString(file);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    static StandIn standIn(String survey, Faults faults) throws SurveyException, IOException {
        // The provider's clients sign with the time that it is.
        return standIn(survey, faults, Clock.systemUTC());
    }

    static StandIn standIn(String survey, Faults faults, Clock clock) throws SurveyException, IOException {
        return StandIn.start(survey, "test.ndjson", (bucket, key) -> Optional.empty(), faults, 0, clock);
    }
}
