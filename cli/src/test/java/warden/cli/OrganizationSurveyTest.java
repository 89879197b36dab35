package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.cli.Program.Run;
import warden.core.aws.survey.Permissions;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** Surveys of the accounts of a simulated organization, over the network. */
@Isolated("sets the credentials of the whole process")
class OrganizationSurveyTest {
    private static final int ACCOUNTS = 50;

    @TempDir
    private Path folder;

    @BeforeEach
    void asAuditor() {
        ProcessCredentials.as(Organization.AUDITOR);
    }

    @AfterAll
    static void forget() {
        ProcessCredentials.forget();
    }

    private static StandIn standIn(List<Map.Entry<String, String>> surveys, Faults faults) throws Exception {
        return standIn(surveys, faults, Clock.systemUTC());
    }

    private static StandIn standIn(List<Map.Entry<String, String>> surveys, Faults faults, Clock clock)
            throws Exception {
        return StandIn.start(surveys, (bucket, key) -> Optional.empty(), StandIn.Settings.of(faults), 0, clock);
    }

    private Run survey(StandIn standIn, Path into, String... more) {
        List<String> words =
                new ArrayList<>(List.of("survey", "--endpoint", standIn.endpoint(), "-o", into.toString()));
        words.addAll(List.of(more));
        return run(words.toArray(String[]::new));
    }

    private Run ofOrganization(StandIn standIn, Path into, String... more) {
        List<String> words = new ArrayList<>(List.of("--organization", "--role", "audit/survey"));
        words.addAll(List.of(more));
        return survey(standIn, into, words.toArray(String[]::new));
    }

    /** Returns what a folder holds, by file, lines in any order. */
    private static Map<String, List<String>> read(Path into) throws IOException {
        Map<String, List<String>> all = new TreeMap<>();
        try (Stream<Path> files = Files.list(into)) {
            for (Path file : files.toList()) {
                all.put(
                        String.valueOf(file.getFileName()),
                        Files.readAllLines(file).stream().sorted().toList());
            }
        }
        return all;
    }

    /** Throttled, killed and gone on with, it is the same as one that nothing happened to. */
    @Test
    void surveysAnOrganizationThroughWhateverHappens() throws Exception {
        List<Map.Entry<String, String>> surveys = Organization.surveys(ACCOUNTS);
        Path calm = folder.resolve("calm");
        Path rough = folder.resolve("rough");
        try (StandIn standIn = standIn(surveys, Faults.none())) {
            Run run = ofOrganization(standIn, calm);
            assertThat(run.code()).as(run.err()).isZero();
            assertThat(run.out()).isEmpty();
            assertThat(run.err()).contains("50 accounts, 50 read, 0 in part, 0 refused");
        }
        try (StandIn standIn = standIn(surveys, new Faults(0, 20, 5, 0, Set.of()))) {
            Run run = ofOrganization(standIn, rough, "--parallel", "16");
            assertThat(run.code()).as(run.err()).isZero();
            assertThat(read(rough)).isEqualTo(read(calm));
            // What a kill leaves: accounts that are whole, accounts in their middle, and others not begun.
            for (int i = 0; i < ACCOUNTS; i++) {
                Path file = rough.resolve(Organization.number(i) + ".ndjson");
                String whole = Files.readString(file);
                if (i % 3 > 0) {
                    Files.delete(file);
                }
                if (i % 3 == 1) {
                    Files.writeString(
                            rough.resolve(Organization.number(i) + ".ndjson.part"),
                            whole.substring(0, whole.length() * 2 / 3));
                }
            }
            Run audit = run("audit", "--survey", rough.toString(), "--at=2026-11-24", "--only=root-key");
            assertThat(audit.err()).contains("33 of 50 accounts are not surveyed yet");
            assertThat(audit.out()).contains("Not known: 33 questions");
            assertThat(ofOrganization(standIn, rough).err()).contains("--resume goes on with what is missing");
            Run resumed = ofOrganization(standIn, rough, "--resume");
            assertThat(resumed.code()).as(resumed.err()).isZero();
            assertThat(resumed.err()).contains("50 accounts, 50 read");
        }
        assertThat(read(rough)).isEqualTo(read(calm));
        for (Map.Entry<String, String> each : surveys) {
            Path file = calm.resolve(each.getKey());
            Sameness.assertSame(Program.read(file), each.getValue());
        }
        Run audit = run("audit", "--survey", calm.toString(), "--at=2026-11-24", "--gate=never", "--allow-unknown");
        assertThat(audit.code()).as(audit.err()).isZero();
    }

    @Test
    void doesWhatTheGuideShows() throws Exception {
        List<String> words = GuideTest.live("survey --organization");
        words.replaceAll(word -> word.equals("surveys") ? folder.resolve(word).toString() : word);
        try (StandIn standIn = standIn(Organization.surveys(3), Faults.none())) {
            words.addAll(List.of("--endpoint", standIn.endpoint()));
            Run run = run(words.toArray(String[]::new));
            assertThat(run.code()).as(run.err()).isZero();
        }
        assertThat(read(folder.resolve("surveys"))).hasSize(4);
    }

    @Test
    void writesASurveyThatSaysSoOfAnAccountThatRefuses() throws Exception {
        List<Map.Entry<String, String>> surveys = Organization.surveys(4);
        surveys.set(2, Map.entry("2", Organization.member(2, "arn:aws:iam::999999999999:root", "")));
        Path into = folder.resolve("surveys");
        try (StandIn standIn = standIn(surveys, new Faults(0, 0, 0, 0, Set.of("s3:getbucketpolicy")))) {
            Run run = ofOrganization(standIn, into);
            assertThat(run.code()).as(run.err()).isZero();
            assertThat(run.err())
                    .contains(
                            "4 accounts, 0 read, 3 in part, 1 refused",
                            "refused  sts:AssumeRole on " + Organization.role(2) + " (AccessDenied)",
                            "in part  bucket-policy (AccessDenied)");
        }
        for (String line : Files.readAllLines(into.resolve(Organization.number(2) + ".ndjson"))) {
            Program.assertValid("survey-line", line);
        }
        Run audit = run("audit", "--survey", into.toString(), "--at=2026-11-24", "--format=json", "--gate=never");
        JsonPart report = JsonReader.read(audit.out()).root().orElseThrow();
        assertThat(report.list("unknown").stream()
                        .filter(each -> each.toString().contains(Organization.number(2))))
                .hasSizeGreaterThan(5);
    }

    /** The list says how each account is entered: by a role of its own, with an external id, over another account's role. */
    @Test
    void surveysTheAccountsOfAList() throws Exception {
        List<Map.Entry<String, String>> surveys = Organization.surveys(4);
        surveys.set(
                2,
                Map.entry(
                        "2",
                        Organization.member(
                                2,
                                "arn:aws:iam::" + Organization.FIRST + ":root",
                                ",'Condition':{'StringEquals':{'sts:ExternalId':'quay-7'}}")));
        surveys.set(3, Map.entry("3", Organization.member(3, Organization.role(1), "")));
        Path into = folder.resolve("surveys");
        Path list = folder.resolve("accounts.csv");
        try (StandIn standIn = standIn(surveys, Faults.none())) {
            Files.writeString(
                    list,
                    "account,name,role,external-id,via\n" + Organization.number(1) + ",\"Timetables, and fares\",,,\n"
                            + Organization.number(2) + ",Book," + Organization.role(2) + ",quay-7,\n"
                            + Organization.number(3) + ",Notices,,," + Organization.role(1) + "\n");
            Run run = survey(standIn, into, "--accounts", list.toString(), "--role", "audit/survey");
            assertThat(run.code()).as(run.err()).isZero();
            assertThat(run.err()).contains("3 accounts, 3 read");
            Files.writeString(
                    list, Files.readString(list).replace("quay-7", "quay-8").replace(Organization.role(1), ""));
            Run wrong = survey(standIn, into, "--accounts", list.toString(), "--role", "audit/survey", "--force");
            assertThat(wrong.err()).contains("3 accounts, 1 read, 0 in part, 2 refused", "Book", "Notices");
            Run none = survey(standIn, folder.resolve("none"), "--accounts", list.toString(), "--role", "no-such");
            assertThat(none.code()).isEqualTo(4);
            assertThat(none.err()).contains("no account let the role be assumed", "--permissions");
        }
        for (int i = 1; i < 3; i++) {
            assertThat(into.resolve(Organization.number(i) + ".ndjson")).exists();
        }
    }

    @Test
    void saysInOneSentenceWhyNothingCanBeRead() throws Exception {
        Path into = folder.resolve("surveys");
        try (StandIn standIn = standIn(Organization.surveys(2), Faults.none())) {
            Run noRole = survey(standIn, into, "--organization", "--role", "no-such-role");
            // The caller's own account needs no role.
            assertThat(noRole.err()).contains("2 accounts, 1 read, 0 in part, 1 refused");
        }
        try (StandIn standIn = Program.standIn(Program.demo(), Faults.none())) {
            ProcessCredentials.as("arn:aws:iam::210987654321:root");
            Run alone = ofOrganization(standIn, folder.resolve("alone"));
            assertThat(alone.code()).isEqualTo(4);
            assertThat(alone.err()).contains("AWSOrganizationsNotInUseException", "--accounts FILE");
            assertThat(folder.resolve("alone")).doesNotExist();
        }
        ProcessCredentials.as(Organization.AUDITOR);
        Clock late = Clock.offset(Clock.systemUTC(), Duration.ofHours(2));
        try (StandIn standIn = standIn(Organization.surveys(2), Faults.none(), late)) {
            Run skewed = ofOrganization(standIn, folder.resolve("skewed"));
            assertThat(skewed.code()).isEqualTo(4);
            assertThat(skewed.err()).contains("clock");
        }
        Faults refused = new Faults(0, 0, 0, 0, Set.of("organizations:listaccounts"));
        try (StandIn standIn = standIn(Organization.surveys(2), refused)) {
            Run unlisted = ofOrganization(standIn, folder.resolve("unlisted"));
            assertThat(unlisted.code()).isEqualTo(4);
            assertThat(unlisted.err()).contains("cannot be listed (AccessDeniedException)");
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "account\\n123456789012\\n123456789012\\n | row 3: the account 123456789012 is there twice",
                "account\\n12345\\n | row 2: an account's number has 12 digits",
                "number\\n123456789012\\n | row 1: there is no column",
                "account,role\\n123456789012,arn:aws:iam::210987654321:role/x\\n | is not of the account",
                "account,via\\n123456789012,survey\\n | via takes ARNs of roles",
                "account,role\\n123456789012,a b\\n | is neither a role's name nor its ARN",
                "account,external-id\\n123456789012,x y\\n | an external id has",
                "account\\n123456789012,x\\n | more values than there are columns",
                "account\\n | names no account",
                "'' | names no account",
                "account\\n\"123 | is not CSV"
            })
    void refusesListsThatCannotBeMeant(String list, String says) throws Exception {
        Path file = Files.writeString(folder.resolve("accounts.csv"), list.replace("\\n", "\n"));
        Run run = run("survey", "--accounts", file.toString(), "--role", "survey", "-o", folder + "/s");
        assertThat(run.code()).as(run.err()).isEqualTo(3);
        assertThat(run.err()).contains("accounts.csv", says);
        assertThat(folder.resolve("s")).doesNotExist();
    }

    @ParameterizedTest
    @CsvSource({
        "--organization -o s, --role",
        "--role x -o s, goes with",
        "--organization --role x, --output DIR",
        "--organization --role x --accounts y -o s, leave one out",
        "--organization --role a:b -o s, not \"a:b\"",
        "--organization --role x --provider azure -o s, first provider",
        "--organization --role x --folder y -o s, without --template"
    })
    void refusesOptionsThatDoNotGoTogether(String options, String says) {
        Run run = run(("survey " + options).split(" "));
        assertThat(run.code()).as(run.err()).isEqualTo(2);
        assertThat(run.err()).contains(says);
    }

    @Test
    void printsTheThreePoliciesThatItNeeds() throws Exception {
        Run run = run("survey", "--permissions", "--organization", "--role", "audit/survey");
        JsonPart all = JsonReader.read(run.out()).root().orElseThrow();
        assertThat(all.list("caller", "Statement").toString())
                .contains("organizations:ListAccounts", "arn:aws:iam::*:role/audit/survey");
        assertThat(all.list("role", "Statement").get(0).texts("Action")).isEqualTo(Permissions.all());
        assertThat(all.list("trust", "Statement").get(0).text("Action")).contains("sts:AssumeRole");
        Path list = Files.writeString(
                folder.resolve("accounts.csv"),
                "account,external-id,via\n123456789012,quay,arn:aws:iam::210987654321:role/hop\n");
        Run ofList = run("survey", "--permissions", "--accounts", list.toString(), "--role", "r");
        assertThat(ofList.out())
                .contains("arn:aws:iam::210987654321:role/hop", "sts:ExternalId")
                .doesNotContain("ListAccounts");
    }
}
