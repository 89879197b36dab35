package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.cli.Program.Run;

class TrimCommandTest {
    private static final String TIMETABLES = "arn:aws:iam::210987654321:role/timetables-publisher";
    private static final JsonMapper MAPPER = JsonMapper.builder().build();

    @TempDir
    private Path folder;

    private static Run trim(String... more) {
        List<String> arguments = new ArrayList<>(List.of("trim", "--survey", Program.DEMO.toString()));
        arguments.addAll(List.of(more));
        return Program.run(arguments.toArray(new String[0]));
    }

    @Test
    void comparesTheDemosCredentialsWithTheirPipelines() {
        Run run = trim();
        assertThat(run.code()).isZero();
        assertThat(run.out().replaceAll("[ \\n]+", " "))
                .contains("book-deployer publishes book.heronferry.example")
                .contains("every service, with 896 actions in the catalogued ones → 1 action in 1 service")
                .contains("4 actions in 2 services → 4 actions in 2 services")
                .contains("can make itself a new key for any user")
                .contains("pipeline timetables/.github/workflows/publish.yml:17 uploads")
                .contains("the proposal allows every request that is needed, and no other.");
        assertThat(Program.onTerminal(100, "trim", "--survey", Program.DEMO.toString())
                        .out()
                        .lines())
                .allMatch(line -> line.codePointCount(0, line.length()) <= 100);
        assertThat(trim().out()).isEqualTo(run.out());
    }

    /** A pipeline that works with the other provider's tools needs nothing of this one's accounts. */
    @Test
    void trimsAccountsOfBothProvidersTogether() {
        Run both = Program.run(
                "trim", "--survey", Program.DEMO.getParent().toString(), "--at=2026-11-24", "--format=json");
        assertThat(both.code()).as(both.err()).isZero();
        Program.assertValid("trim", both.out());
        assertThat(both.out()).contains("timetables-publisher").doesNotContain("the credential of ");
        Run one = Program.run("trim", "--survey", Program.DEMO.toString(), "--at=2026-11-24", "--format=json");
        MAPPER.readTree(one.out()).get("credentials").forEach(credential -> assertThat(both.out())
                .contains(credential.get("credential").asString()));
    }

    @Test
    void writesJsonAfterItsSchema() {
        Run run = trim("--format", "json");
        Program.assertValid("trim", run.out());
        JsonNode credentials = MAPPER.readTree(run.out()).get("credentials");
        assertThat(credentials.size()).isEqualTo(4);
        credentials.forEach(each -> {
            assertThat(each.at("/proof/coversNeeded").booleanValue()).isTrue();
            assertThat(each.at("/proof/withinNeeded").booleanValue()).isTrue();
        });
    }

    /** The proposal, put in the place of what the role holds, allows what is needed and refuses the rest; reach says so. */
    @Test
    void theProposalPassesReachForExactlyWhatIsNeeded() throws IOException {
        JsonNode trimmed = MAPPER.readTree(
                        trim("--credential", TIMETABLES, "--format", "json").out())
                .at("/credentials/0");
        List<String> lines = new ArrayList<>();
        for (String line : Program.demo().lines().toList()) {
            boolean own = line.contains("\"aspect\":\"iam-role\",\"of\":\"" + TIMETABLES + "\"");
            lines.add(own ? withPolicy(line, trimmed.get("policy").toString()) : line);
        }
        Path survey = Files.write(folder.resolve("survey.ndjson"), lines);
        StringBuilder questions = new StringBuilder();
        trimmed.get("needed")
                .forEach(need -> questions.append(question(
                        need.get("action").asString(), need.get("on").asString().replace("/*", "/a/b.html"))));
        String bucket = "arn:aws:s3:::timetables.heronferry.example";
        for (String other : List.of(
                "s3:DeleteBucket", "s3:PutBucketPolicy", "s3:GetBucketPolicy", "s3:PutLifecycleConfiguration")) {
            questions.append(question(other, bucket));
        }
        questions.append(question("s3:DeleteObject", bucket + "/index.html"));
        questions.append(question("s3:PutObject", "arn:aws:s3:::heronferry-www-content/index.html"));
        questions.append(question(
                "cloudfront:CreateInvalidation", "arn:aws:cloudfront::210987654321:distribution/E2WQ7HERONWWW"));
        Run reach = Program.runOn(questions.toString(), "reach", "--survey", survey.toString(), "--questions", "-");
        assertThat(reach.out()
                        .lines()
                        .map(line -> MAPPER.readTree(line).get("decision").asString()))
                .containsExactly("allow", "allow", "allow", "deny", "deny", "deny", "deny", "deny", "deny", "deny");
    }

    static String withPolicy(String line, String policy) {
        int from = line.indexOf("\"RolePolicyList\":[");
        int to = line.indexOf("],\"AttachedManagedPolicies\"", from);
        return line.substring(0, from) + "\"RolePolicyList\":[{\"PolicyName\":\"proposed\",\"PolicyDocument\":" + policy
                + "}" + line.substring(to);
    }

    private static String question(String action, String on) {
        return "{\"id\":1,\"who\":\"" + TIMETABLES + "\",\"action\":\"" + action + "\",\"on\":\"" + on
                + "\",\"context\":{\"aws:SecureTransport\":\"true\"}}\n";
    }

    @Test
    void writesPolicyAndTrustFiles() throws IOException {
        Path out = folder.resolve("policies");
        assertThat(trim("--policy-out", out.toString()).code()).isZero();
        try (Stream<Path> files = Files.list(out)) {
            assertThat(files.map(file -> file.getFileName().toString()))
                    .containsExactlyInAnyOrder(
                            "book-deployer.policy.json",
                            "notices-publisher.policy.json",
                            "timetables-publisher.policy.json",
                            "timetables-publisher.trust.json",
                            "www-publisher.policy.json",
                            "www-publisher.trust.json");
        }
        assertThat(Files.readString(out.resolve("www-publisher.trust.json")))
                .contains("repo:heron-sound-ferries/www:ref:refs/heads/main");
        assertThat(Files.readString(out.resolve("timetables-publisher.policy.json")))
                .contains("\"s3:ListBucket\"")
                .doesNotContain("s3:*");
    }

    @Test
    void takesPipelineFilesAndTheScriptsThatTheyRun() throws IOException {
        Path pipeline = Files.writeString(folder.resolve("publish.yml"), """
                on: push
                jobs:
                  publish:
                    steps:
                      - uses: aws-actions/configure-aws-credentials@v4
                        with: {role-to-assume: arn:aws:iam::210987654321:role/notices-publisher, aws-region: eu-west-1}
                      - run: ./deploy.sh
                      - run: ./missing.sh
                """);
        Path script = Files.writeString(
                folder.resolve("deploy.sh"), "aws s3 sync site s3://notices.heronferry.example/today --delete");
        Run run = trim(
                "--site",
                "notices.heronferry.example",
                "--pipeline",
                pipeline.toString(),
                "--pipeline",
                script.toString());
        assertThat(run.out().replaceAll("\\s+", " "))
                .contains("arn:aws:s3:::notices.heronferry.example/")
                .contains("publish.yml:7 uploads")
                .contains("missing.sh does is not in this file")
                .contains("It may need more than what is proposed.");
    }

    @Test
    void takesTheLog() throws IOException {
        Path log = Files.writeString(
                folder.resolve("log.json"),
                "{\"Records\":[{\"eventSource\":\"s3.amazonaws.com\",\"eventName\":\"PutObject\",\"eventTime\":\"2026-11-10T07:59:50Z\","
                        + "\"userIdentity\":{\"arn\":\"arn:aws:iam::210987654321:role/notices-publisher\"},"
                        + "\"requestParameters\":{\"bucketName\":\"notices.heronferry.example\",\"key\":\"a\"}},{\"eventSource\":\"x");
        Run run = trim("--site", "notices.heronferry.example", "--activity", log.toString());
        assertThat(run.code()).isZero();
        assertThat(run.out())
                .contains("s3:PutObject: used 1 time, last 2026-11-10")
                .contains("1 action in 1 service");
        assertThat(run.err()).contains("is cut off in the middle").contains("1 events of the log read");
    }

    @Test
    void printsTheQueryAndReadsItsResult() throws IOException {
        Run query = trim("--activity-query", "--at", "2026-11-24", "--partitioned-by", "year,month,day");
        assertThat(query.code()).isZero();
        assertThat(query.out())
                .contains("from 2026-08-26 to 2026-11-24")
                .contains("FROM \"cloudtrail_logs\"")
                .contains("concat(\"year\", '/', \"month\", '/', \"day\") BETWEEN '2026/08/26' AND '2026/11/25'");
        Path result = Files.writeString(
                folder.resolve("result.csv"),
                "\"credential\",\"action\",\"resource\",\"outcome\",\"uses\",\"first_used\",\"last_used\"\n"
                        + "\"arn:aws:iam::210987654321:role/notices-publisher\",\"s3:PutObject\","
                        + "\"arn:aws:s3:::notices.heronferry.example/*\",\"used\",\"41\",\"2026-09-01T07:59:50Z\",\"2026-11-10T07:59:50Z\"\n");
        Run run = trim("--site", "notices.heronferry.example", "--activity", result.toString());
        assertThat(run.code()).isZero();
        assertThat(run.out()).contains("s3:PutObject: used 41 times, last 2026-11-10");
        assertThat(run.err()).contains("41 events of the log read, 0 of them refused");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "--table | logs;drop | 2 | up to three names",
                "--from | yesterday | 2 | give a day",
                "--partitioned-by | year,month | 2 | name one column"
            })
    void saysWhatIsWrongWithTheQuery(String option, String value, int code, String says) {
        Run early = trim("--activity-query", "--from", "2026-01-01", "--to", "2025-12-31");
        assertThat(early.code()).isEqualTo(code);
        assertThat(early.err()).contains("the last day is before the first");
        assertThat(trim(option, value).err()).contains("go with --activity-query");
        Run run = trim("--activity-query", "--at", "2026-11-24", option, value);
        assertThat(run.code()).isEqualTo(code);
        assertThat(run.err()).contains(says);
        assertThat(run.out()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "--credential | arn:aws:iam::210987654321:role/nobody | 2 | describes no user or role",
                "--site | nowhere.example | 2 | the survey shows no site",
                "--pipeline | nowhere.yml | 3 | no such pipeline file",
                "--activity | nowhere.json | 3 | no such log file"
            })
    void saysWhatIsWrong(String option, String value, int code, String says) {
        Run run = trim(option, value);
        assertThat(run.code()).isEqualTo(code);
        assertThat(run.err().lines()).singleElement().asString().contains(says);
        assertThat(run.out()).isEmpty();
    }

    @Test
    void trimsAnyCredentialThatIsNamed() {
        Run run = trim("--credential", "arn:aws:iam::210987654321:role/ticket-mailer");
        assertThat(run.code()).isZero();
        assertThat(run.out()).contains("ticket-mailer").contains("0 actions in 0 services");
    }

    private static final String WORKFLOW = """
            on: push
            jobs:
              publish:
                steps:
                  - uses: actions/checkout@v4
                  - uses: aws-actions/configure-aws-credentials@v4
                    with: {role-to-assume: "arn:aws:iam::210987654321:role/new-publisher", aws-region: eu-west-1}
                  - run: aws s3 sync public s3://${{ vars.BUCKET }} --delete
                  - run: aws cloudfront create-invalidation --distribution-id ${{ secrets.EDGE }} --paths '/*'
            """;

    /** The commonest question of all: what does this pipeline need? */
    @Test
    void tellsWhatAPipelineNeedsWithoutUsersAndRolesAndWithoutASurvey() throws IOException {
        Path file = Files.writeString(folder.resolve("publish.yml"), WORKFLOW);
        Path empty = Files.writeString(
                folder.resolve("empty.ndjson"), "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\"}\n");
        Path policies = folder.resolve("policies");
        String[] set = {"--set", "BUCKET=b.heronferry.example", "--set", "secrets.EDGE=E2EXAMPLE"};
        for (String survey : new String[] {"", empty.toString()}) {
            List<String> words = new ArrayList<>(List.of("trim", "--pipeline", file.toString()));
            words.addAll(List.of(set));
            words.addAll(survey.isEmpty() ? List.of() : List.of("--survey", survey));
            words.addAll(List.of("--policy-out", policies.toString()));
            Run run = Program.run(words.toArray(String[]::new));
            assertThat(run.code()).as(run.err()).isZero();
            assertThat(run.out())
                    .startsWith(
                            "new-publisher\n  arn:aws:iam::210987654321:role/new-publisher\n  what it may do is not known")
                    .contains("\"Resource\": \"arn:aws:s3:::b.heronferry.example/*\"")
                    .contains("\"Resource\": \"arn:aws:cloudfront::210987654321:distribution/E2EXAMPLE\"")
                    .contains("whether the bucket b.heronferry.example encrypts under a key of its own is not known")
                    .contains("the proposal allows every request that is needed, and no other.");
            assertThat(Program.read(policies.resolve("new-publisher.policy.json")))
                    .contains("s3:DeleteObject", "cloudfront:CreateInvalidation")
                    .doesNotContain("s3:*");
            words.addAll(List.of("--format", "json"));
            Program.assertValid(
                    "trim", Program.run(words.toArray(String[]::new)).out());
        }
    }

    @Test
    void namesTheVariablesThatNobodyTold() throws IOException {
        Path file = Files.writeString(folder.resolve("publish.yml"), WORKFLOW);
        Run run = Program.run("trim", "--pipeline", file.toString(), "--survey", folder + "/none.ndjson");
        assertThat(run.code()).isEqualTo(3);
        Run open = Program.run("trim", "--pipeline", file.toString(), "--survey", Program.DEMO.toString());
        assertThat(open.out())
                .contains("publish.yml:8", "(vars.BUCKET); --set tells it", "publish.yml:9", "(secrets.EDGE)")
                .contains("there is nothing to prove");
        String[] words = {
            "audit", "--pipeline", file.toString(), "--survey", Program.DEMO.toString(), "--format", "json"
        };
        assertThat(Program.run(words).out())
                .contains("the bucket of line 8 is the variable ${{ vars.BUCKET }}; --set vars.BUCKET=VALUE tells it");
        Run wrong = Program.run("trim", "--pipeline", file.toString(), "--set", "BUKET=x");
        assertThat(wrong.code()).isEqualTo(2);
        assertThat(wrong.err()).contains("perhaps BUCKET was meant");
    }
}
