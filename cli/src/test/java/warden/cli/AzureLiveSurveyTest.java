package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.FutureTask;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.azure.survey.AzureAspects;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.core.survey.SurveyReader;
import warden.gather.azure.AzureSettings;
import warden.gather.azure.AzureSurvey;
import warden.gather.live.LiveException;
import warden.gather.live.ReadingLog;
import warden.standin.Faults;
import warden.standin.azure.AzureStandIn;

/** A live survey of the second provider, over TLS against the simulated subscription. */
class AzureLiveSurveyTest {
    private static final String SURVEYOR = "33333333-4444-4555-8666-777777777777";
    private static final String STRANGER = "99999999-4444-4555-8666-777777777777";
    private static final Faults NONE = Faults.none();

    /** The simulated subscription's keys; made by the first start, and taken again by the others. */
    @TempDir
    private static Path keys;

    private record Taken(SurveyHeader header, List<SurveyLine> lines, long calls) {
        /** Returns what each question was answered, by question; pages in order. */
        TreeMap<String, String> answers() {
            TreeMap<String, String> all = new TreeMap<>();
            lines.forEach(line -> all.merge(
                    line.aspect() + " " + line.of(),
                    line.outcome() + " " + line.body(),
                    (one, other) -> one + " | " + other));
            return all;
        }
    }

    private static Taken read(String text) throws SurveyException, IOException {
        List<SurveyLine> lines = new ArrayList<>();
        SurveyHeader header = SurveyReader.read(
                new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "survey.ndjson", lines::add);
        return new Taken(header, lines, 0);
    }

    private static Taken demo() throws SurveyException, IOException {
        Taken carried = read(DemoSurvey.quaysideText());
        return new Taken(
                carried.header(),
                carried.lines().stream()
                        .filter(line -> !line.aspect().equals("pipeline-file"))
                        .toList(),
                0);
    }

    private Taken take(Faults faults, String client, Optional<String> host, Set<String> known) throws Exception {
        return take(DemoSurvey.quaysideText(), faults, client, host, known);
    }

    private Taken take(String survey, Faults faults, String client, Optional<String> host, Set<String> known)
            throws Exception {
        try (AzureStandIn standIn = AzureStandIn.start(survey, "survey.ndjson", faults, 0, keys, Clock.systemUTC())) {
            StringWriter out = new StringWriter();
            ReadingLog log = new ReadingLog(out, known, (done, due) -> {});
            AzureSettings settings = new AzureSettings(
                    Optional.empty(),
                    Optional.of(standIn.endpoint()),
                    Optional.of(standIn.authority()),
                    8,
                    1_000,
                    host,
                    Optional.of(new AzureSettings.SimulatedClient(client, "heron-sound")));
            try (AzureSurvey live = new AzureSurvey(settings, log)) {
                log.header(live.begin("survey.ndjson", "2026-11-24T00:00:00Z"));
                live.run();
            }
            Taken taken = read(out.toString());
            return new Taken(taken.header(), taken.lines(), standIn.calls());
        }
    }

    @Test
    void givesTheDemosReadingsBackWordForWord() throws Exception {
        Taken taken = take(NONE, SURVEYOR, Optional.empty(), Set.of());
        assertThat(taken.answers()).isEqualTo(demo().answers());
        assertThat(taken.header().account()).isEqualTo("0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90");
        assertThat(taken.header().takenBy()).isEqualTo("servicePrincipals/90ab5d11-7c1e-4c6e-8f7a-2a6a0f3b9d10");
        assertThat(taken.calls()).isLessThan(70);
    }

    @ParameterizedTest
    @CsvSource({"20,0,0", "0,15,0", "0,0,15"})
    void comesToTheSameUnderMisfortunes(int throttle, int reset, int truncate) throws Exception {
        Taken taken = take(new Faults(0, throttle, reset, truncate, Set.of()), SURVEYOR, Optional.empty(), Set.of());
        assertThat(taken.answers()).isEqualTo(demo().answers());
    }

    @Test
    void goesOnWithWhatIsMissing() throws Exception {
        TreeMap<String, String> whole = demo().answers();
        Set<String> known = whole.keySet().stream()
                .filter(question -> question.hashCode() % 2 == 0)
                .collect(Collectors.toSet());
        TreeMap<String, String> rest =
                take(NONE, SURVEYOR, Optional.empty(), known).answers();
        Set<String> all = new TreeSet<>(known);
        all.addAll(rest.keySet());
        assertThat(rest.keySet()).doesNotContainAnyElementsOf(known);
        assertThat(all).isEqualTo(whole.keySet());
    }

    static Stream<String> permissions() {
        return AzureAspects.TABLE.permissions().stream()
                // Without groups no list of a group's resources answers; the simulated provider lists by the
                // subscription.
                .filter(permission -> !permission.endsWith("/resourceGroups/read"));
    }

    @Test
    void eachPermissionTakenAwayLeavesItsReadingsUnreadAndNoOthers() throws Exception {
        TreeMap<String, String> whole = demo().answers();
        for (String permission : permissions().toList()) {
            String lower = permission.toLowerCase(java.util.Locale.ROOT);
            Taken taken = take(new Faults(0, 0, 0, 0, Set.of(lower)), SURVEYOR, Optional.empty(), Set.of());
            List<SurveyLine> unread = taken.lines().stream()
                    .filter(line -> line.outcome() == Outcome.UNREAD)
                    .toList();
            assertThat(unread).as(permission).allSatisfy(line -> assertThat(AzureAspects.TABLE.permission(line))
                    .isEqualToIgnoringCase(permission));
            taken.answers().forEach((question, answer) -> {
                if (!answer.startsWith("UNREAD")) {
                    assertThat(answer).as(permission + ": " + question).isEqualTo(whole.get(question));
                }
            });
            boolean isAsked = demo().lines().stream()
                    .anyMatch(line -> AzureAspects.TABLE.permission(line).equalsIgnoreCase(permission));
            assertThat(!unread.isEmpty()).as(permission).isEqualTo(isAsked);
        }
    }

    @Test
    void followsOneHostOnly() throws Exception {
        Taken taken = take(NONE, SURVEYOR, Optional.of("menu.quayside.example"), Set.of());
        assertThat(taken.header().hosts()).containsExactly("menu.quayside.example");
        assertThat(taken.lines())
                .anyMatch(line -> line.of().contains("storageAccounts/harbourmenu/"))
                .noneMatch(line ->
                        line.aspect().equals("container-list") && line.of().contains("storageAccounts/quaysidewifi/"));
    }

    @Test
    void readsListsPageByPage() throws Exception {
        String list = "\"aspect\":\"dns-zone-list\"";
        String more = DemoSurvey.quaysideText()
                .lines()
                .map(line ->
                        line.contains(list) ? line + "\n" + line.replace("quayside.example", "second.example") : line)
                .collect(Collectors.joining("\n", "", "\n"));
        Taken taken = take(more, NONE, SURVEYOR, Optional.empty(), Set.of());
        assertThat(taken.lines().stream().filter(line -> line.aspect().equals("dns-zone-list")))
                .hasSize(2)
                .allMatch(line -> line.outcome() == Outcome.FOUND);
        assertThat(taken.answers())
                .containsKey("dns-records " + "/subscriptions/0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90"
                        + "/resourceGroups/quayside-rg/providers/Microsoft.Network/dnszones/second.example");
    }

    @Test
    void authoritiesThatCannotBeReadAreSaidBeforeAnybodyIsAsked() throws Exception {
        AzureSettings settings = new AzureSettings(
                Optional.empty(),
                Optional.of("https://localhost:9"),
                Optional.of(Path.of("nowhere.pem")),
                8,
                1_000,
                Optional.empty(),
                Optional.of(new AzureSettings.SimulatedClient(SURVEYOR, "heron-sound")));
        try (AzureSurvey live =
                new AzureSurvey(settings, new ReadingLog(new StringWriter(), Set.of(), (done, due) -> {}))) {
            assertThatThrownBy(() -> live.begin("survey.ndjson", "2026-11-24T00:00:00Z"))
                    .isInstanceOf(LiveException.class)
                    .hasMessage("nowhere.pem: the certificates of authorities cannot be read (nowhere.pem);"
                            + " check REQUESTS_CA_BUNDLE");
        }
    }

    /** The JVM would wait for one that stands in the system's own code. */
    @Test
    void leavesNoThreadWaitingForTheNetwork() throws Exception {
        ThreadGroup own = new ThreadGroup("of this test");
        FutureTask<Taken> survey = new FutureTask<>(() -> take(NONE, SURVEYOR, Optional.empty(), Set.of()));
        new Thread(own, survey, "survey of this test").start();
        assertThat(survey.get().lines()).isNotEmpty();
        for (int i = 0; i < 250 && !waiting(own).isEmpty(); i++) {
            Thread.sleep(20);
        }
        assertThat(waiting(own)).isEmpty();
    }

    private static List<String> waiting(ThreadGroup own) {
        Thread[] all = new Thread[1_000];
        int count = own.enumerate(all, true);
        return Stream.of(all)
                .limit(count)
                .map(Thread::getName)
                .filter(name -> name.endsWith("-SelectorManager"))
                .toList();
    }

    @Test
    void whoCannotSignInGetsASentence() {
        assertThatThrownBy(() -> take(NONE, STRANGER, Optional.empty(), Set.of()))
                .isInstanceOf(LiveException.class)
                .hasMessageStartingWith("signing in failed")
                .hasMessageContaining("az login");
    }
}
