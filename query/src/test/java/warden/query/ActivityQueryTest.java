package warden.query;

import static org.assertj.core.api.Assertions.assertThat;

import io.trino.Session;
import io.trino.plugin.memory.MemoryConnectorFactory;
import io.trino.testing.LocalQueryRunner;
import io.trino.testing.MaterializedResult;
import io.trino.testing.MaterializedRow;
import io.trino.testing.TestingSession;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.core.trim.Activity;
import warden.gather.aws.activity.ActivityQuery;
import warden.gather.aws.activity.ActivityReader;

/** The query's answers, by the engine itself, against those of the raw events. */
class ActivityQueryTest {
    private static final int EVENTS = 100_000;
    private static final int BATCH = 10_000;
    private static final List<String> COLUMNS =
            List.of("credential", "action", "resource", "outcome", "uses", "first_used", "last_used");

    /** As services lay such logs down: a column for each member, parameters as the text of their JSON. */
    private static final String COLUMNS_OF_LOG = """
            SELECT
              json_extract_scalar(e, '$.eventTime') AS eventtime,
              json_extract_scalar(e, '$.eventSource') AS eventsource,
              json_extract_scalar(e, '$.eventName') AS eventname,
              json_extract_scalar(e, '$.errorCode') AS errorcode,
              json_format(json_extract(e, '$.requestParameters')) AS requestparameters,
              json_extract_scalar(e, '$.recipientAccountId') AS recipientaccountid,
              transform(
                CAST(json_extract(e, '$.resources') AS array(json)),
                r -> CAST(ROW(json_extract_scalar(r, '$.ARN'), NULL) AS row(arn varchar, accountid varchar))) AS resources,
              CAST(
                ROW(
                  json_extract_scalar(e, '$.userIdentity.arn'),
                  ROW(ROW(json_extract_scalar(e, '$.userIdentity.sessionContext.sessionIssuer.arn'))))
                AS row(arn varchar, sessioncontext row(sessionissuer row(arn varchar)))) AS useridentity,
              replace(substr(json_extract_scalar(e, '$.eventTime'), 1, 10), '-', '/') AS day
            FROM UNNEST(CAST(json_parse('%s') AS array(json))) AS t(e)
            """;

    @TempDir
    private static Path folder;

    private static LocalQueryRunner engine;
    private static Path raw;

    @BeforeAll
    static void fillsTheTable() throws IOException {
        Session session = TestingSession.testSessionBuilder()
                .setCatalog("memory")
                .setSchema("default")
                .build();
        engine = LocalQueryRunner.create(session);
        engine.createCatalog("memory", new MemoryConnectorFactory(), Map.of());
        Random random = new Random(20_261_124);
        StringBuilder records = new StringBuilder();
        for (int done = 0; done < EVENTS; done += BATCH) {
            String events = IntStream.range(0, BATCH)
                    .mapToObj(i -> GeneratedEvent.of(random).json())
                    .collect(Collectors.joining(",\n"));
            records.append(done == 0 ? "" : ",\n").append(events);
            // The local engine makes a table only of a query's result.
            engine.execute((done == 0 ? "CREATE TABLE cloudtrail_logs AS " : "INSERT INTO cloudtrail_logs ")
                    + COLUMNS_OF_LOG.formatted("[" + events.replace("'", "''") + "]"));
        }
        raw = Files.writeString(folder.resolve("log.json"), "{\"Records\":[" + records + "]}");
    }

    @AfterAll
    static void stops() {
        engine.close();
    }

    private static MaterializedResult answers(ActivityQuery query) {
        return engine.execute(query.spelled());
    }

    private static ActivityQuery wholeTime() {
        return new ActivityQuery(
                "memory.default.cloudtrail_logs",
                LocalDate.parse("2026-01-01"),
                LocalDate.parse("2026-12-31"),
                List.of());
    }

    private static String quoted(Object value) {
        return "\"" + String.valueOf(value).replace("\"", "\"\"") + "\"";
    }

    private static Path csv(MaterializedResult result) throws IOException {
        List<String> lines = new ArrayList<>();
        lines.add(COLUMNS.stream().map(ActivityQueryTest::quoted).collect(Collectors.joining(",")));
        for (MaterializedRow row : result.getMaterializedRows()) {
            lines.add(row.getFields().stream().map(ActivityQueryTest::quoted).collect(Collectors.joining(",")));
        }
        return Files.write(folder.resolve("result.csv"), lines);
    }

    private static Path jsonLines(MaterializedResult result) throws IOException {
        List<String> lines = new ArrayList<>();
        for (MaterializedRow row : result.getMaterializedRows()) {
            List<String> members = new ArrayList<>();
            for (int i = 0; i < COLUMNS.size(); i++) {
                Object value = row.getField(i);
                members.add("\"" + COLUMNS.get(i) + "\":"
                        + (value instanceof Long ? value.toString() : GeneratedEvent.json((String) value)));
            }
            lines.add("{" + String.join(",", members) + "}");
        }
        return Files.write(folder.resolve("result.jsonl"), lines);
    }

    @Test
    void givesTheSameAnswersAsTheRawEvents() throws IOException {
        Activity ofEvents = ActivityReader.read(List.of(raw.toString()));
        MaterializedResult result = answers(wholeTime());
        Activity ofTable = ActivityReader.read(List.of(csv(result).toString()));
        Activity ofLines = ActivityReader.read(List.of(jsonLines(result).toString()));

        assertThat(ofEvents.events()).isEqualTo(EVENTS);
        assertThat(ofEvents.uses()).hasSize(3);
        assertThat(ofEvents.problems()).isNotEmpty();
        assertThat(result.getRowCount()).isBetween(50, 5_000);
        for (Activity ofResult : List.of(ofTable, ofLines)) {
            assertThat(ofResult.uses()).isEqualTo(ofEvents.uses());
            assertThat(ofResult.events()).isEqualTo(ofEvents.events());
            assertThat(ofResult.refused()).isEqualTo(ofEvents.refused());
            assertThat(ofResult.problems()).isEqualTo(ofEvents.problems());
        }
    }

    @Test
    void foldsSessionsToRolesAndKeysToPatterns() {
        for (MaterializedRow row : answers(wholeTime()).getMaterializedRows()) {
            assertThat((String) row.getField(0)).doesNotContain("assumed-role");
            assertThat((String) row.getField(2)).doesNotContain(".html");
        }
    }

    @Test
    void countsOnlyTheDaysThatAreAskedFor() {
        LocalDate day = LocalDate.parse("2026-11-10");
        for (List<String> partitions : List.of(List.<String>of(), List.of("day"))) {
            MaterializedResult result = answers(new ActivityQuery("cloudtrail_logs", day, day, partitions));
            assertThat(result.getRowCount()).isPositive();
            assertThat(result.getMaterializedRows())
                    .allSatisfy(row -> assertThat((String) row.getField(6)).startsWith("2026-11-10T"));
        }
        long byDay = sum(answers(new ActivityQuery("cloudtrail_logs", day, day, List.of("day"))));
        long byTime = sum(answers(new ActivityQuery("cloudtrail_logs", day, day, List.of())));
        assertThat(byDay).isEqualTo(byTime);
    }

    private static long sum(MaterializedResult result) {
        return result.getMaterializedRows().stream()
                .mapToLong(row -> (Long) row.getField(4))
                .sum();
    }
}
