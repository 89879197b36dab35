package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Queue;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import warden.core.audit.Area;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.survey.AwsAspects;
import warden.core.fixture.Audited;
import warden.core.fixture.GeneratedSurveys;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;

/** Laws of the audit as a whole: what is lost is never taken for good, and what means the same is told the same. */
class NothingIsSilentlySafeTest {
    private static final int ACCOUNTS = 12;
    private static final Path DEMO = Path.of("../demo/heron-sound-ferries.ndjson");
    /** What is in no list of the survey, and is named by nothing else, cannot be missed when no line speaks of it. */
    private static final Set<String> NAMED_BY_NOTHING_ELSE = Set.of(
            "pipeline-file", "certificate", "iam-role", "iam-user", "key-policy", "organization-policy", "object-acl");

    private static Audit audit(List<String> lines) {
        Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
        try {
            byte[] bytes = String.join("\n", lines).concat("\n").getBytes(StandardCharsets.UTF_8);
            SurveyHeader header = SurveyReader.read(new ByteArrayInputStream(bytes), "s.ndjson", collector::add);
            return Audited.audit(new AwsCloud(List.of(new Account(collector.toSurvey(header))), SiteFile.empty()));
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

    /** Returns findings that are neither there any more nor open, for the check and the subject; or for what the lost line would say. */
    private static Set<String> silent(Audit whole, Audit partly, SurveyLine lost) {
        Set<String> found =
                partly.findings().stream().map(NothingIsSilentlySafeTest::key).collect(Collectors.toSet());
        Set<String> silent = new TreeSet<>();
        for (Finding finding : whole.findings()) {
            boolean open = partly.unknowns().stream()
                    .filter(unknown -> unknown.card() == finding.card())
                    .anyMatch(unknown -> unknown.verdict().subject().equals(finding.subject())
                            || unknown.verdict().needs().stream().anyMatch(need -> isOf(need, lost)));
            if (!found.contains(key(finding)) && !open) {
                silent.add(key(finding));
            }
        }
        return silent;
    }

    private static boolean isOf(Need need, SurveyLine lost) {
        return need.of().equals(lost.of()) && need.aspect().equals(lost.aspect());
    }

    private static String key(Finding finding) {
        return finding.card().id() + " of " + finding.subject();
    }

    private static void loosesNothing(String name, List<String> lines, Queue<String> silent) {
        Audit whole = audit(lines);
        IntStream.range(1, lines.size()).parallel().forEach(i -> {
            SurveyLine lost = line(lines.get(i));
            List<String> unread = new ArrayList<>(lines);
            unread.set(
                    i,
                    SurveyBuilder.json("{'aspect':'" + lost.aspect() + "','of':'" + lost.of()
                            + "','unread':{'code':'AccessDenied'}}"));
            silent(whole, audit(unread), lost)
                    .forEach(each ->
                            silent.add(name + ": unread " + lost.aspect() + " of " + lost.of() + " hides " + each));
            if (!NAMED_BY_NOTHING_ELSE.contains(lost.aspect())) {
                List<String> dropped = new ArrayList<>(lines);
                dropped.remove(i);
                silent(whole, audit(dropped), lost)
                        .forEach(each -> silent.add(
                                name + ": without " + lost.aspect() + " of " + lost.of() + " hides " + each));
            }
        });
    }

    private static SurveyLine line(String text) {
        List<SurveyLine> lines = new ArrayList<>();
        try {
            String header = "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\"}\n";
            SurveyReader.read(
                    new ByteArrayInputStream((header + text + "\n").getBytes(StandardCharsets.UTF_8)),
                    "s.ndjson",
                    lines::add);
            return lines.get(0);
        } catch (SurveyException | IOException broken) {
            throw new IllegalArgumentException(broken);
        }
    }

    @Test
    void noLineOfTheDemoIsLostSilently() {
        Queue<String> silent = new ConcurrentLinkedQueue<>();
        loosesNothing("demo", demo(), silent);
        assertThat(new TreeSet<>(silent)).isEmpty();
    }

    @Test
    void noLineOfAnAccountIsLostSilently() {
        Queue<String> silent = new ConcurrentLinkedQueue<>();
        for (long seed = 0; seed < ACCOUNTS; seed++) {
            loosesNothing(
                    "seed " + seed, GeneratedSurveys.of(seed).text().lines().toList(), silent);
        }
        assertThat(new TreeSet<>(silent)).isEmpty();
    }

    private static List<String> told(Audit audit) {
        return audit.findings().stream()
                .map(finding -> key(finding) + " " + finding.severity() + " " + finding.fingerprint())
                .sorted()
                .toList();
    }

    private static List<String> open(Audit audit) {
        return audit.unknowns().stream()
                .map(unknown -> unknown.card().id() + " of " + unknown.verdict().subject())
                .sorted()
                .toList();
    }

    @Test
    void shuffledLinesSayTheSame() {
        LongStream.range(0, 10).parallel().forEach(seed -> {
            for (List<String> lines :
                    List.of(demo(), GeneratedSurveys.of(seed).text().lines().toList())) {
                List<String> shuffled = new ArrayList<>(lines.subList(1, lines.size()));
                Collections.shuffle(shuffled, new Random(seed));
                shuffled.add(0, lines.get(0));
                assertThat(told(audit(shuffled))).as("seed " + seed).isEqualTo(told(audit(lines)));
                assertThat(open(audit(shuffled))).as("seed " + seed).isEqualTo(open(audit(lines)));
            }
        });
    }

    /** Policies spelled otherwise and statements split: the fingerprints of what concerns one statement may change where it is now two. */
    @Test
    void whatMeansTheSameIsToldTheSame() {
        LongStream.range(0, 80).parallel().forEach(seed -> {
            List<String> plain =
                    keys(audit(GeneratedSurveys.of(seed).text().lines().toList()));
            for (long way = 1; way < 4; way++) {
                List<String> lines =
                        GeneratedSurveys.respelled(seed, way).text().lines().toList();
                assertThat(keys(audit(lines)))
                        .as("seed %d, way %d\n%s", seed, way, String.join("\n", lines))
                        .isEqualTo(plain);
            }
        });
    }

    private static List<String> keys(Audit audit) {
        return audit.findings().stream()
                .filter(finding -> !finding.card().area().equals(Area.POLICY))
                .map(finding -> key(finding) + " " + finding.severity())
                .distinct()
                .sorted()
                .toList();
    }

    @Test
    void anUnrelatedBucketChangesNothing() {
        LongStream.range(0, 40).parallel().forEach(seed -> {
            SurveyBuilder more = GeneratedSurveys.of(seed).bucket("unrelated-ledger", bucket -> bucket.guard(true));
            List<String> there =
                    told(audit(GeneratedSurveys.of(seed).text().lines().toList()));
            List<String> after = told(audit(more.text().lines().toList())).stream()
                    .filter(finding -> !finding.contains("unrelated-ledger"))
                    .toList();
            assertThat(after).as("seed " + seed).isEqualTo(there);
        });
    }
}
