package warden.core.azure.checks;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Queue;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import warden.core.CheckCatalogue;
import warden.core.Providers;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Finding;
import warden.core.azure.fixture.AzureSurvey;
import warden.core.azure.survey.AzureAspects;
import warden.core.cloud.Clouds;
import warden.core.site.SiteFile;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;

/** Laws of the audit of this provider's subscriptions: what is lost is never taken for good, and what means the same is told the same. */
class AzureLawsTest {
    private static final Path DEMO = Path.of("../demo/heron-sound-quayside.ndjson");

    private static Audit audit(List<String> lines) {
        Survey.Collector collector = new Survey.Collector(AzureAspects.TABLE);
        try {
            byte[] bytes = String.join("\n", lines).concat("\n").getBytes(StandardCharsets.UTF_8);
            SurveyHeader header = SurveyReader.read(new ByteArrayInputStream(bytes), "s.ndjson", collector::add);
            Clouds clouds =
                    Providers.open(List.of(collector.toSurvey(header)), SiteFile.empty(), Optional.of(AzureSurvey.NOW));
            return Audit.of(
                    new AuditContext(clouds, AzureSurvey.NOW, List.of(), Optional.empty()),
                    CheckCatalogue.asked(),
                    card -> true);
        } catch (SurveyException | IOException broken) {
            throw new IllegalArgumentException(broken);
        }
    }

    private static List<String> demo() {
        try {
            return Files.readAllLines(DEMO);
        } catch (IOException missing) {
            throw new UncheckedIOException(missing);
        }
    }

    private static SurveyLine line(String header, String text) {
        List<SurveyLine> lines = new ArrayList<>();
        try {
            SurveyReader.read(
                    new ByteArrayInputStream((header + "\n" + text + "\n").getBytes(StandardCharsets.UTF_8)),
                    "s.ndjson",
                    lines::add);
            return lines.get(0);
        } catch (SurveyException | IOException broken) {
            throw new IllegalArgumentException(broken);
        }
    }

    private static String key(Finding finding) {
        return finding.card().id() + " of " + finding.subject();
    }

    /** Returns findings that are neither there any more nor open for the check, be it about the subject, the subscription or the lost line. */
    private static Set<String> silent(Audit whole, Audit partly, SurveyLine lost) {
        Set<String> found = partly.findings().stream().map(AzureLawsTest::key).collect(Collectors.toSet());
        Set<String> silent = new TreeSet<>();
        for (Finding finding : whole.findings()) {
            boolean open = partly.unknowns().stream()
                    .filter(unknown -> unknown.card().id().equals(finding.card().id()))
                    .anyMatch(unknown -> unknown.verdict().subject().equals(finding.subject())
                            || unknown.verdict().needs().stream().anyMatch(need -> isOf(need, lost)));
            if (!found.contains(key(finding)) && !open) {
                silent.add(key(finding));
            }
        }
        return silent;
    }

    private static boolean isOf(Need need, SurveyLine lost) {
        return need.aspect().equals(lost.aspect());
    }

    @Test
    void noLineOfTheDemoIsLostSilently() {
        List<String> lines = demo();
        Audit whole = audit(lines);
        assertThat(whole.findings()).hasSizeGreaterThan(10);
        Queue<String> silent = new ConcurrentLinkedQueue<>();
        IntStream.range(1, lines.size()).parallel().forEach(i -> {
            SurveyLine lost = line(lines.get(0), lines.get(i));
            List<String> unread = new ArrayList<>(lines);
            unread.set(
                    i,
                    "{\"aspect\":\"" + lost.aspect() + "\",\"of\":\"" + lost.of()
                            + "\",\"unread\":{\"code\":\"AuthorizationFailed\"}}");
            silent(whole, audit(unread), lost)
                    .forEach(each -> silent.add("unread " + lost.aspect() + " of " + lost.of() + " hides " + each));
            List<String> dropped = new ArrayList<>(lines);
            dropped.remove(i);
            silent(whole, audit(dropped), lost)
                    .forEach(each -> silent.add("without " + lost.aspect() + " of " + lost.of() + " hides " + each));
        });
        assertThat(new TreeSet<>(silent)).isEmpty();
    }

    @Test
    void theCaseOfIdentifiersTellsNothing() {
        List<String> lines = demo();
        List<String> louder = lines.stream()
                .map(line -> line.replace("/resourceGroups/", "/RESOURCEGROUPS/")
                        .replace("/providers/Microsoft.Cdn/", "/providers/microsoft.cdn/")
                        .replace(
                                "storageAccounts/quaysidewifi/blobServices",
                                "storageaccounts/QuaysideWifi/blobservices"))
                .toList();
        assertThat(keys(audit(louder))).isEqualTo(keys(audit(lines)));
    }

    private static Set<String> keys(Audit audit) {
        return audit.findings().stream()
                .map(finding -> key(finding).toLowerCase(Locale.ROOT))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    @Test
    void membersOfNewerVersionsAndNullsChangeNothing() {
        List<String> lines = demo();
        List<String> newer = lines.stream()
                .map(line -> line.replaceAll(
                        "\"properties\":\\{(?!\\})",
                        "\"properties\":{\"aNewMember\":{\"deep\":[1,null,{}]},\"another\":null,"))
                .toList();
        assertThat(keys(audit(newer))).isEqualTo(keys(audit(lines)));
    }

    @Test
    void whatIsNoObjectWhereOneIsMeantIsNoCrashAndNotSafe() {
        List<String> lines = demo();
        for (int i = 1; i < lines.size(); i++) {
            for (String instead : List.of("{\"value\":null}", "{\"value\":[null,1,\"x\",{}]}", "[]", "{}")) {
                SurveyLine broken = line(lines.get(0), lines.get(i));
                List<String> odd = new ArrayList<>(lines);
                odd.set(
                        i,
                        "{\"aspect\":\"" + broken.aspect() + "\",\"of\":\"" + broken.of() + "\",\"found\":" + instead
                                + "}");
                assertThat(audit(odd).sites()).isNotNull();
            }
        }
    }

    @Test
    void theHealthySiteHasNoFindings() {
        Audit audit = AzureSurvey.healthy().audit();
        assertThat(audit.findings()).extracting(AzureLawsTest::key).isEmpty();
        assertThat(audit.unknowns()).extracting(answer -> answer.card().id()).containsOnly("zone-not-delegated");
        assertThat(audit.sites()).singleElement().satisfies(site -> {
            assertThat(site.hosts()).containsExactly(AzureSurvey.HOST);
            assertThat(site.storeIds()).containsExactly(AzureSurvey.WEB);
            assertThat(site.edgeIds()).containsExactly(AzureSurvey.ENDPOINT);
        });
    }
}
