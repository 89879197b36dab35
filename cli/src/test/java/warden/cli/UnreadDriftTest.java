package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.core.CheckCatalogue;
import warden.core.Providers;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.cloud.Clouds;
import warden.core.drift.Drift;
import warden.core.drift.DriftFinder;
import warden.core.site.SiteFile;
import warden.gather.pipeline.PipelineVariables;
import warden.gather.survey.SurveyFiles;

/** What one side does not know is not compared: it is never lost, and never gained. */
class UnreadDriftTest {
    private static final JsonMapper JSON = JsonMapper.builder().build();
    private static final Instant AT = Instant.parse("2026-11-24T00:00:00Z");

    /** A survey of which the readings that a test picks are refused, or were never asked for. */
    private record Missing(String survey, String what, Predicate<JsonNode> picks, boolean isRefused) {
        String text() {
            return survey.lines()
                    .map(line -> {
                        JsonNode reading = JSON.readTree(line);
                        if (!reading.has("aspect") || !picks.test(reading)) {
                            return line;
                        }
                        return isRefused
                                ? "{\"aspect\":" + reading.get("aspect") + ",\"of\":" + reading.get("of")
                                        + ",\"unread\":{\"code\":\"AccessDenied\"}}"
                                : "";
                    })
                    .filter(line -> !line.isEmpty())
                    .collect(Collectors.joining("\n", "", "\n"));
        }

        @Override
        public String toString() {
            return what + (isRefused ? " refused" : " never asked");
        }
    }

    private static Stream<Missing> aspects(String survey) {
        return survey.lines()
                .map(JSON::readTree)
                .filter(line -> line.has("aspect"))
                .map(line -> line.get("aspect").asString())
                .distinct()
                .flatMap(aspect -> Stream.of(true, false)
                        .map(refused -> new Missing(
                                survey,
                                aspect,
                                line -> line.get("aspect").asString().equals(aspect),
                                refused)));
    }

    /** What is in no list, and is named by nothing else, is not missed when no line speaks of it. */
    static Stream<Missing> aspects() throws IOException {
        return Stream.of(Program.demo(), DemoSurvey.quaysideText())
                .flatMap(UnreadDriftTest::aspects)
                .filter(each -> each.isRefused()
                        || !Set.of("pipeline-file", "certificate").contains(each.what()));
    }

    private static Audit audit(String survey) throws Exception {
        Clouds clouds = Providers.open(
                List.of(SurveyFiles.read(
                        new ByteArrayInputStream(survey.getBytes(StandardCharsets.UTF_8)), "survey.ndjson")),
                SiteFile.empty(),
                Optional.of(AT));
        return Audit.of(
                new AuditContext(
                        clouds, AT, PipelineFiles.read(List.of(), clouds, PipelineVariables.none()), Optional.empty()),
                CheckCatalogue.asked(),
                card -> true,
                check -> {});
    }

    private static List<String> told(Drift drift) {
        List<String> told = new ArrayList<>();
        drift.reach().forEach(each -> told.add("reach " + each.who() + " " + each.ability() + " " + each.stores()));
        drift.visits().forEach(each -> told.add("visit " + each.url()));
        drift.credentials().forEach(each -> told.add("credential " + each));
        drift.names().forEach(each -> told.add("name " + each));
        drift.findings().fresh().forEach(each -> told.add("new " + each.card().id() + " " + each.subject()));
        drift.findings().gone().forEach(each -> told.add("gone " + each.card().id() + " " + each.subject()));
        drift.findings()
                .changed()
                .forEach(each -> told.add("changed " + each.finding().card().id()));
        return told;
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("aspects")
    void whatOneSideDoesNotKnowIsNoChange(Missing missing) throws Exception {
        assertThat(told(DriftFinder.between(audit(missing.survey()), audit(missing.text()))))
                .isEmpty();
    }
}
