package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.assertValid;
import static warden.cli.Program.run;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.cli.Program.Run;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.report.MendFiles;

class MendCommandTest {
    private static final String SURVEY = Program.DEMO.toString();
    private static final String AT = "--at=2026-11-24";

    @TempDir
    private Path folder;

    private static Set<String> findings(String survey) {
        String report = run("audit", "--survey", survey, AT, "--format=json", "--gate=never")
                .out();
        Set<String> all = new TreeSet<>();
        JsonReader.read(report)
                .root()
                .orElseThrow()
                .list("findings")
                .forEach(finding -> all.add(
                        finding.text("id").or(() -> finding.text("check")).orElse("") + " "
                                + finding.text("subject").orElse("")));
        return all;
    }

    private static String read(Path file) throws IOException {
        return Files.readString(file);
    }

    private record Said(int code, String text) {}

    private static Said sh(Path directory, String... words) throws IOException, InterruptedException {
        Process process = new ProcessBuilder(words)
                .directory(directory.toFile())
                .redirectErrorStream(true)
                .start();
        process.getOutputStream().close();
        String text = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return new Said(process.waitFor(), text);
    }

    @Test
    void mendsTheTimetablesAndProvesIt() throws Exception {
        Path mended = folder.resolve("mended");
        Run run = run("mend", "--survey", SURVEY, AT, "--site", "timetables", "-o", mended.toString());
        assertThat(run.code()).as(run.err()).isEqualTo(1);
        assertThat(run.out()).contains("open-around-cdn, steps", "trust-too-wide", mended + "/apply.sh --dry-run");
        String proof = read(mended.resolve("proof.json"));
        assertValid("proof", proof);
        JsonPart root = JsonReader.read(proof).root().orElseThrow();
        assertThat(root.list("steps")).hasSizeGreaterThan(10);
        for (JsonPart step : root.list("steps")) {
            for (String document : Stream.of("before", "after")
                    .flatMap(each -> step.text(each).stream())
                    .toList()) {
                assertThat(JsonReader.read(read(mended.resolve(document))).root())
                        .as(document)
                        .isPresent();
            }
        }
        Set<String> before = findings(SURVEY);
        Set<String> after = findings(mended.resolve("after.ndjson").toString());
        assertThat(before).containsAll(after);
        for (JsonPart each : root.list("mended")) {
            assertThat(after)
                    .doesNotContain(each.text("finding", "check").orElse("") + " "
                            + each.text("finding", "subject").orElse(""));
        }
        for (String script : List.of("apply.sh", "undo.sh")) {
            assertThat(mended.resolve(script)).isExecutable();
            assertThat(sh(mended, "sh", "-n", script)).isEqualTo(new Said(0, ""));
        }
        Said dry = sh(mended, "./apply.sh", "--dry-run");
        assertThat(dry.code()).isZero();
        assertThat(dry.text()).contains("aws cloudfront update-distribution --id=E3KD1TIMETABLE");
        assertThat(read(mended.resolve("README.md")))
                .contains("## What was proven", "## How to take it back", "## What is left to do by hand");
        Run drift = run("drift", SURVEY, mended.resolve("after.ndjson").toString(), AT, "--worse-only");
        assertThat(drift.code()).as(drift.out()).isZero();
        Path again = folder.resolve("again");
        run("mend", "--survey", SURVEY, AT, "--site", "timetables", "-o", again.toString());
        try (Stream<Path> files = Files.walk(mended)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                assertThat(read(again.resolve(mended.relativize(file))))
                        .as(file.toString())
                        .isEqualTo(read(file));
            }
        }
    }

    /** Whether visitors are meant to read the bucket themselves has two right answers: both are whole plans, each with its statement. */
    @Test
    void writesAPlanForEachAnswerWhereNothingIsStated() throws Exception {
        Path mended = folder.resolve("mended");
        Run run = run(
                "mend", "--survey", SURVEY, AT, "--site", "timetables", "--only", "exposure", "-o", mended.toString());
        assertThat(run.out()).contains("To decide", "not stated for 1 site", "if-open");
        assertValid("proof", read(mended.resolve("proof.json")));
        assertThat(read(mended.resolve("README.md")))
                .contains("## What you have to decide", "`pattern: open-bucket-behind-cdn`", "`if-sealed`:");
        for (String answer : List.of("if-open", "if-sealed")) {
            Path plan = mended.resolve(answer);
            assertValid("proof", read(plan.resolve("proof.json")));
            Path work = Files.createDirectory(folder.resolve("work-" + answer));
            assertThat(sh(work, "git", "init", "-q").code()).isZero();
            Said applied = sh(
                    work,
                    "git",
                    "apply",
                    plan.resolve("patches/01-warden.yaml.patch").toString());
            assertThat(applied).isEqualTo(new Said(0, ""));
            Run audit = run(
                    "audit",
                    "--survey",
                    plan.resolve("after.ndjson").toString(),
                    "--site-file",
                    work.resolve("warden.yaml").toString(),
                    AT,
                    "--only=exposure",
                    "--site=timetables",
                    "--format=json",
                    "--gate=never");
            assertThat(audit.code()).as(audit.err()).isZero();
            assertThat(JsonReader.read(audit.out()).root().orElseThrow().list("findings"))
                    .as(answer + audit.out())
                    .isEmpty();
            Run stated = run(
                    "mend",
                    "--survey",
                    SURVEY,
                    "--site-file",
                    work.resolve("warden.yaml").toString(),
                    AT,
                    "--site",
                    "timetables",
                    "--only",
                    "exposure",
                    "-o",
                    folder.resolve("stated-" + answer).toString());
            assertThat(stated.out()).doesNotContain("To decide");
            assertThat(read(folder.resolve("stated-" + answer).resolve("after.ndjson")))
                    .isEqualTo(read(plan.resolve("after.ndjson")));
        }
        String sealed = read(mended.resolve("if-sealed/README.md"));
        assertThat(sealed).contains("Take everybody out of the bucket policy", "Closed by design");
        String open = read(mended.resolve("if-open/README.md"));
        assertThat(open).doesNotContain("Take everybody out of the bucket policy", "Closed by design");
    }

    private static final String EDGE = """
            Resources:
              Edge:
                Type: AWS::CloudFront::Distribution
                Properties:
                  DistributionConfig:
                    Enabled: true
                    Aliases: [www.heronferry.example]
                    Origins:
                      - {Id: site, DomainName: !GetAtt Bucket.RegionalDomainName, S3OriginConfig: {OriginAccessIdentity: ''}}
                    DefaultCacheBehavior:
                      TargetOriginId: site
                      ViewerProtocolPolicy: redirect-to-https
                      Compress: false    # for now
                      CachePolicyId: 658327ea-f89d-4fab-a63d-7e88639e58f6
                    ViewerCertificate:
                      AcmCertificateArn: arn:aws:acm:us-east-1:210987654321:certificate/c1
                      SslSupportMethod: sni-only
                      MinimumProtocolVersion: TLSv1
              Bucket:
                Type: AWS::S3::Bucket
            """;

    private static final String TF_EDGE = """
            resource "aws_s3_bucket" "site" {
              bucket = "heron-www"
            }

            resource "aws_cloudfront_distribution" "edge" {
              enabled = true
              aliases = ["www.heronferry.example"]
              origin {
                origin_id   = "site"
                domain_name = aws_s3_bucket.site.bucket_regional_domain_name
              }
              default_cache_behavior {
                target_origin_id       = "site"
                viewer_protocol_policy = "redirect-to-https"
                allowed_methods        = ["GET", "HEAD"]
                cached_methods         = ["GET", "HEAD"]
                compress               = false # for now
                cache_policy_id        = "658327ea-f89d-4fab-a63d-7e88639e58f6"
              }
              restrictions {
                geo_restriction {
                  restriction_type = "none"
                }
              }
              viewer_certificate {
                acm_certificate_arn      = "arn:aws:acm:us-east-1:210987654321:certificate/c1"
                ssl_support_method       = "sni-only"
                minimum_protocol_version = "TLSv1"
              }
            }
            """;

    /** What is a literal of a description is mended there: the patched text, surveyed again, has the findings no more. */
    @ParameterizedTest
    @ValueSource(strings = {"site.yaml", "main.tf"})
    void mendsADescriptionInItsOwnText(String name) throws Exception {
        Path work = Files.createDirectory(folder.resolve("work"));
        String text = name.endsWith(".tf") ? TF_EDGE : EDGE;
        Path file = Files.writeString(work.resolve(name), text);
        String template = (name.endsWith(".tf") ? work : file).toString();
        String planned = folder.resolve("planned.ndjson").toString();
        String[] values = {"--account=210987654321", "--region=eu-west-1", AT};
        Run survey = run("survey", "--template", template, "-o", planned, values[0], values[1], values[2]);
        assertThat(survey.code()).as(survey.err()).isZero();
        Set<String> before = findings(planned);
        assertThat(before).anyMatch(each -> each.startsWith("viewer-tls-old"));

        Path mended = folder.resolve("mended");
        Run run = run("mend", "--template", template, values[0], values[1], values[2], "-o", mended.toString());
        assertThat(run.out()).as(run.err()).contains("1 patch ends 2 of", "viewer-tls-old", "compression-off");
        assertValid("proof", read(mended.resolve("proof.json")));
        assertThat(mended.resolve("apply.sh")).doesNotExist();
        assertThat(read(mended.resolve("README.md"))).contains("In " + file + ":", "no literal of the description");
        Path ofSurvey = folder.resolve("of-survey");
        run("mend", "--survey", planned, AT, "-o", ofSurvey.toString());
        assertThat(read(ofSurvey.resolve("after.ndjson"))).isEqualTo(read(mended.resolve("after.ndjson")));

        Path patch;
        try (Stream<Path> patches = Files.list(mended.resolve("patches"))) {
            patch = patches.findFirst().orElseThrow();
        }
        assertThat(patch).hasSameTextualContentAs(ofSurvey.resolve("patches").resolve(patch.getFileName()));
        Said applied = sh(Path.of("/"), "git", "apply", patch.toString());
        assertThat(applied.code()).as(applied.text()).isZero();
        assertThat(read(file)).contains("# for now").hasLineCount(text.split("\n").length);
        String again = folder.resolve("again.ndjson").toString();
        run("survey", "--template", template, "-o", again, values[0], values[1], values[2]);
        assertThat(Files.readAllLines(Path.of(again)))
                .containsExactlyInAnyOrderElementsOf(Files.readAllLines(mended.resolve("after.ndjson")));
        assertThat(before).containsAll(findings(again));
        assertThat(findings(again)).noneMatch(each -> each.matches("(viewer-tls-old|compression-off) .*"));
        // The survey is of what stood there before.
        Run stale = run(
                "mend", "--survey", planned, AT, "-o", folder.resolve("stale").toString());
        assertThat(stale.code()).isEqualTo(3);
        assertThat(stale.err()).contains("do not say the same", "--parameters");
    }

    @Test
    void refusesDescriptionsThatItCannotPatch() {
        assertThat(run("mend", "--survey", SURVEY, "--template", "site.yaml").code())
                .isEqualTo(2);
        assertThat(run("mend", "--template", "-").err()).contains("name the file");
    }

    @Test
    void printsTheProofAsJson() {
        Run run = run("mend", "--survey", SURVEY, AT, "--only", "viewer-tls-old", "--format=json");
        assertThat(run.code()).as(run.err()).isZero();
        assertValid("proof", run.out());
        assertThat(JsonReader.read(run.out()).root().orElseThrow().list("mended"))
                .hasSize(2);
    }

    @Test
    void writesNoScriptsWhereThereIsNothingToMend() throws Exception {
        Path mended = folder.resolve("nothing");
        Run run = run("mend", "--survey", SURVEY, AT, "--site", "ferry", "-o", mended.toString());
        assertThat(run.code()).as(run.err()).isZero();
        assertThat(run.out()).contains("There is nothing to mend.");
        try (Stream<Path> files = Files.list(mended)) {
            assertThat(files.map(each -> each.getFileName().toString()).sorted())
                    .containsExactly("README.md", "after.ndjson", "proof.json");
        }
    }

    @Test
    void writesIntoNothingThatIsThere() throws Exception {
        Path full = Files.createDirectory(folder.resolve("full"));
        Files.writeString(full.resolve("mine.txt"), "mine");
        Run run = run("mend", "--survey", SURVEY, AT, "--only", "viewer-tls-old", "-o", full.toString());
        assertThat(run.code()).isEqualTo(2);
        assertThat(run.err()).contains("holds something already");
        Path file = Files.writeString(folder.resolve("file"), "mine");
        assertThat(run("mend", "--survey", SURVEY, AT, "-o", file.toString()).code())
                .isEqualTo(2);
        assertThat(run("mend", "--survey", SURVEY, AT, "--only", "viewer-tls-old", "-o", folder + "/no/such")
                        .code())
                .isEqualTo(2);
        try (Stream<Path> left = Files.list(folder)) {
            assertThat(left.map(each -> each.getFileName().toString()).sorted()).containsExactly("file", "full");
        }
    }

    /** A document that holds a secret is handed to nobody, masked or not. */
    @Test
    void leavesDocumentsWithSecretsToAPerson() throws Exception {
        String secret = "hV7xQ2mKp9Lw4RtZ8bNc";
        String survey = Program.demo()
                .replace(
                        "\"OriginPath\":\"\",\"CustomHeaders\":{\"Quantity\":0},\"CustomOriginConfig\"",
                        "\"OriginPath\":\"\",\"CustomHeaders\":{\"Quantity\":1,\"Items\":[{\"HeaderName\":\"Referer\",\"HeaderValue\":\""
                                + secret + "\"}]},\"CustomOriginConfig\"");
        assertThat(survey).contains(secret);
        Path file = Files.writeString(folder.resolve("s.ndjson"), survey);
        Path mended = folder.resolve("mended");
        Run run = run("mend", "--survey", file.toString(), AT, "--only", "viewer-tls-old", "-o", mended.toString());
        assertThat(run.out()).contains("its document holds a secret");
        try (Stream<Path> files = Files.walk(mended)) {
            for (Path each : files.filter(Files::isRegularFile)
                    .filter(path -> !path.toString().endsWith(".ndjson"))
                    .toList()) {
                assertThat(read(each)).as(each.toString()).doesNotContain(secret, "****");
            }
        }
    }

    /** Names from a survey may hold anything; the shell takes none of it. */
    @Test
    void givesTheShellNoHostileNames() throws Exception {
        String evil = "x'$(touch ../pwned)`touch ../pwned`; touch ../pwned #";
        String survey = Program.demo()
                .replace("\"PolicyName\":\"publish-timetables\"", "\"PolicyName\":\"" + evil + "\"")
                .replace("\"RoleName\":\"timetables-publisher\"", "\"RoleName\":\"timetables-publisher\"");
        assertThat(survey).contains(evil);
        Path file = Files.writeString(folder.resolve("s.ndjson"), survey);
        Path mended = folder.resolve("mended");
        run("mend", "--survey", file.toString(), AT, "--only", "publisher-can-change-rules", "-o", mended.toString());
        Path bin = Files.createDirectory(folder.resolve("bin"));
        Files.writeString(bin.resolve("aws"), "#!/bin/sh\nprintf '%s\\n' \"$@\" >> '" + folder + "/asked'\nexit 1\n");
        assertThat(bin.resolve("aws").toFile().setExecutable(true)).isTrue();
        sh(mended, "./apply.sh", "--dry-run");
        sh(mended, "sh", "-c", "PATH='" + bin + "':$PATH ./apply.sh; PATH='" + bin + "':$PATH ./undo.sh");
        assertThat(folder.resolve("pwned")).doesNotExist();
        assertThat(mended.resolve("pwned")).doesNotExist();
        assertThat(read(folder.resolve("asked"))).contains("get-caller-identity");
    }

    /** The script's own comparison of documents, in whatever awk there is. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "{\"a\":1,\"b\":[true,null]} | { \"b\" : [ true , null ],  \"a\" : 1 } | same",
                "{\"a\":\"x\\/y\"} | {\"a\":\"x/y\"} | same",
                "{\"a\":\"\\u0041\\u00e9\"} | {\"a\":\"A\\u00E9\"} | same",
                "{\"a\":{},\"b\":[]} | {\"b\":[],\"a\":{}} | same",
                "{\"a\":[1,2]} | {\"a\":[2,1]} | other",
                "{\"a\":\"1\"} | {\"a\":1} | other",
                "{\"a\":{\"b\":1}} | {\"a.b\":1} | other",
                "{\"a\":1} | {\"a\":1,\"b\":2} | other",
                "{\"a\":\"x\"} | {\"a\":\"x} | other",
                "[\"a\"] | [] | other",
                "{\"a\":\"\\\"}\"} | {\"a\":\"\\\"]\"} | other"
            })
    void comparesDocuments(String one, String other, String comes) throws Exception {
        String functions;
        try (InputStream in = MendFiles.class.getResourceAsStream("/warden/report/mend.sh")) {
            functions = new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
        Files.writeString(folder.resolve("one.json"), one);
        Files.writeString(folder.resolve("other.json"), other);
        Files.writeString(
                folder.resolve("compare.sh"),
                "set -eu\nLC_ALL=C\nfinished=\nwork=.\n" + functions
                        + "\nif same one.json other.json; then echo same; else echo other; fi\n");
        assertThat(sh(folder, "sh", "compare.sh").text().strip()).isEqualTo(comes);
    }

    /** A pipeline is mended in its own file, by a patch that git takes. */
    @Test
    void writesPatchesOfPipelines() throws Exception {
        Path mended = folder.resolve("mended");
        Run run = run("mend", "--survey", SURVEY, AT, "--only", "pipeline", "-o", mended.toString());
        assertThat(run.out()).contains("Patches", "pipeline-opens-objects, pipeline-no-invalidation");
        assertValid("proof", read(mended.resolve("proof.json")));
        Path repository = Files.createDirectories(folder.resolve("r/book"));
        String before = JsonReader.read(Program.demo()
                        .lines()
                        .filter(line -> line.contains("\"of\":\"book/.gitlab-ci.yml\""))
                        .findFirst()
                        .orElseThrow())
                .root()
                .flatMap(line -> line.text("found", "Text"))
                .orElseThrow();
        Path pipeline = Files.writeString(repository.resolve(".gitlab-ci.yml"), before);
        try (Stream<Path> patches = Files.list(mended.resolve("patches"))) {
            for (Path patch : patches.toList()) {
                assertThat(sh(folder.resolve("r"), "git", "apply", patch.toString()))
                        .isEqualTo(new Said(0, ""));
            }
        }
        assertThat(read(pipeline)).contains("create-invalidation").doesNotContain("--acl");
        // Whatever is said to be left is, and whatever is not is gone.
        Set<String> after = new TreeSet<>();
        findings(mended.resolve("after.ndjson").toString()).stream()
                .filter(each -> each.startsWith("pipeline-"))
                .forEach(after::add);
        Set<String> left = new TreeSet<>();
        JsonReader.read(read(mended.resolve("proof.json")))
                .root()
                .orElseThrow()
                .list("byHand")
                .forEach(each -> left.add(each.text("finding", "check").orElse("") + " "
                        + each.text("finding", "subject").orElse("")));
        assertThat(left).isEqualTo(after).doesNotContain("pipeline-opens-objects book/.gitlab-ci.yml");
    }

    /** What is certain is written: a token that reads, an upload without the repository's own files, and the same line again for the edge. */
    @ParameterizedTest
    @CsvSource({"write-all, true", "write-all, false", "'{id-token: write, contents: write}', true"})
    void patchesAWorkflow(String permissions, boolean isKnown) throws Exception {
        Path repository = Files.createDirectory(folder.resolve("r"));
        Files.writeString(repository.resolve("publish.yml"), """
                on: {push: {branches: [main]}}
                permissions: %s
                jobs:
                  publish:
                    runs-on: ubuntu-latest
                    steps:
                      - uses: actions/checkout@08c6903cd8c0fde910a37f88322edcfb5dd907a8
                      - uses: %s@ececac1a45f3b08a01d2dd070d28d111c5fe6722
                        with: {role-to-assume: 'arn:aws:iam::210987654321:role/timetables-publisher', aws-region: eu-west-1}
                      - run: npm test
                      - run: aws s3 sync . s3://timetables.heronferry.example --delete
                """.formatted(
                        permissions, isKnown ? "aws-actions/configure-aws-credentials" : "heron/release-notes"));
        Path mended = folder.resolve("mended");
        Run run = run(
                "mend",
                "--survey",
                SURVEY,
                AT,
                "--pipeline",
                repository.resolve("publish.yml").toString(),
                "--only=pipeline-token-too-wide",
                "--only=pipeline-uploads-everything",
                "--only=pipeline-no-invalidation",
                "-o",
                mended.toString());
        assertThat(run.code()).as(run.err()).isNotEqualTo(70);
        try (Stream<Path> patches = Files.list(mended.resolve("patches"))) {
            for (Path patch :
                    patches.filter(each -> each.toString().contains("publish")).toList()) {
                assertThat(sh(Path.of("/"), "git", "apply", patch.toString())).isEqualTo(new Said(0, ""));
            }
        }
        String text = read(repository.resolve("publish.yml"));
        assertThat(text).contains("--delete --exclude '.git/*' --exclude '.github/*' --exclude '.env*'");
        if (!isKnown) {
            // What an action of somebody else's does with the token is not known.
            assertThat(text).contains("permissions: write-all");
        } else if (permissions.equals("write-all")) {
            assertThat(text).contains("\npermissions:\n  contents: read\n  id-token: write\njobs:");
        } else {
            assertThat(text).contains("permissions: {id-token: write, contents: read}");
        }
        assertThat(read(mended.resolve("README.md"))).contains("pipeline-uploads-everything");
    }

    /** Surveys of both providers together: each step by its own command line, under the credentials of its own account. */
    @Test
    void mendsAccountsOfBothProvidersTogether() throws Exception {
        Path mended = folder.resolve("mended");
        Run run = run(
                "mend",
                "--survey",
                SURVEY,
                "--survey",
                Program.QUAYSIDE.toString(),
                AT,
                "--only=viewer-tls-old",
                "--only=account-tls-old",
                "-o",
                mended.toString());
        assertThat(run.code()).as(run.err()).isZero();
        assertThat(run.out()).contains("3 steps end 3 of 3 findings");
        String script = read(mended.resolve("apply.sh"));
        assertThat(script)
                .contains("'sts' 'get-caller-identity'", "'account' 'show'", "[ \"$caller\" != '210987654321' ]");
        assertThat(findings(mended.resolve("after").toString())).noneMatch(each -> each.contains("tls-old"));
    }

    @Test
    void asksForWhatADescriptionWasReadWith() throws Exception {
        Path planned = folder.resolve("planned.ndjson");
        run(
                "survey",
                "--template",
                Path.of("..", "demo", "tides", "site.yaml").toString(),
                "--beside",
                SURVEY,
                "--region",
                "eu-west-1",
                "-o",
                planned.toString());
        Run run = run(
                "mend",
                "--survey",
                planned.toString(),
                AT,
                "-o",
                folder.resolve("m").toString());
        assertThat(run.code()).isEqualTo(3);
        assertThat(run.err()).contains("do not say the same", "--beside");
        assertThat(folder.resolve("m")).doesNotExist();
    }

    /** Steps in two accounts: the script stops between them, and goes on under the credentials of the other. */
    @Test
    void goesOnUnderTheCredentialsOfTheOtherAccount() throws Exception {
        String other = Program.demo()
                .replace("210987654321", "109876543210")
                .replace("heronferry-", "otterferry-")
                .replace("heronferry.example", "otterferry.example");
        Path second = Files.writeString(folder.resolve("second.ndjson"), other);
        Path mended = folder.resolve("mended");
        run(
                "mend",
                "--survey",
                SURVEY,
                "--survey",
                second.toString(),
                AT,
                "--only=open-without-site",
                "-o",
                mended.toString());
        assertThat(read(mended.resolve("apply.sh"))).contains("'210987654321'", "'109876543210'");
        assertThat(read(mended.resolve("README.md"))).contains("in the accounts 109876543210, 210987654321");
        Path bin = Files.createDirectory(folder.resolve("bin"));
        // Whatever is read is as it is to be: the policy gone, and the flags all on.
        Files.writeString(bin.resolve("aws"), """
                #!/bin/sh
                case $2 in
                    get-caller-identity) echo "$FAKE_ACCOUNT" ;;
                    get-bucket-policy) cat "$(dirname "$0")/policy-of-$FAKE_ACCOUNT" ;;
                    *) echo '{"BlockPublicAcls":true,"IgnorePublicAcls":true,"BlockPublicPolicy":true,"RestrictPublicBuckets":true}' ;;
                esac
                """);
        assertThat(bin.resolve("aws").toFile().setExecutable(true)).isTrue();
        try (Stream<Path> steps = Files.list(mended.resolve("steps"))) {
            for (Path step :
                    steps.filter(each -> each.toString().contains("shut-out")).toList()) {
                String after = read(step.resolve("after.json"));
                String account = after.contains("otterferry") ? "109876543210" : "210987654321";
                Files.writeString(bin.resolve("policy-of-" + account), after);
            }
        }
        assertThat(apply(mended, bin, "109876543210").text()).contains("made in the account 210987654321");
        Said first = apply(mended, bin, "210987654321");
        assertThat(first.code()).as(first.text()).isEqualTo(1);
        assertThat(first.text()).contains("it is so already", "made in the account 109876543210");
        Said rest = apply(mended, bin, "109876543210");
        // Steps of one account may stand between those of the other.
        for (int i = 0; i < 6 && rest.code() != 0; i++) {
            rest = apply(mended, bin, i % 2 == 0 ? "210987654321" : "109876543210");
        }
        assertThat(rest.code()).as(rest.text()).isZero();
        assertThat(rest.text()).contains("All steps are done.");
    }

    private static Said apply(Path mended, Path bin, String account) throws IOException, InterruptedException {
        return sh(mended, "sh", "-c", "FAKE_ACCOUNT=" + account + " PATH='" + bin + "':$PATH ./apply.sh");
    }
}
