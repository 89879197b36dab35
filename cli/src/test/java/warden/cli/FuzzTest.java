package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.cli.Program.Run;
import warden.core.pipeline.PipelineText;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.trace.WebAddress;
import warden.gather.aws.activity.ActivityReader;
import warden.gather.aws.template.TemplateException;
import warden.gather.aws.template.Templates;
import warden.gather.content.FolderReader;
import warden.gather.site.SiteFileException;
import warden.gather.site.SiteFileReader;
import warden.gather.survey.SurveyFiles;

/**
 * Broken, hostile and merely odd inputs to every reader, made from good ones by seeded changes. A reader may refuse an input in a sentence; it may
 * not fail otherwise, take longer than ten seconds, or say a secret. {@code -Dwarden.fuzz.inputs=100000} tries so many.
 */
class FuzzTest {
    private static final int INPUTS = Integer.getInteger("warden.fuzz.inputs", 2_000);
    private static final long SEED = Long.getLong("warden.fuzz.seed", 20_261_129L);
    private static final long LONGEST_NANOS = 10_000_000_000L;
    /** One in so many goes through the whole program, in every format. */
    private static final int WHOLE_EVERY = 50;

    /** Of a form that changes around it do not hide. Put together here, so that nobody takes this file for a leak. */
    private static final String SECRET = "gh" + "p_q8Zk2LmN5pRt7VwX9yB3c4Dq8Zk2LmN5pRt7VwX";

    private static final List<String> HOSTILE = List.of(
            "\0",
            "\u202e",
            "\u001b[2J",
            "\uFEFF",
            "\uD800",
            "\n",
            "\r\n",
            "\t",
            "\"",
            "'",
            "`",
            "\\",
            "\\u0000",
            "${",
            "${{",
            "{{",
            "}}",
            "$(",
            "<!--",
            "]]>",
            "&#97;",
            "%",
            "%zz",
            "%00",
            "../",
            "//",
            "://",
            "*",
            "**",
            "?",
            "[",
            "]",
            "{",
            "}",
            "((((((((",
            "!!",
            "&a",
            "*a",
            "|",
            ">-",
            "- ",
            ": ",
            "#",
            "##vso[x]",
            "::error::x",
            "99999999999999999999",
            "-1",
            "1e400",
            "NaN",
            "0x",
            "null",
            "true",
            "<?xml version=\"1.0\"?><!DOCTYPE x [<!ENTITY e SYSTEM \"file:///etc/passwd\">]>",
            "arn:aws:s3:::*",
            "arn:",
            "o-*");

    @TempDir
    private Path folder;

    private @Nullable Survey demo;

    /** Reads one text; may refuse it in a sentence. */
    private interface Reader {
        void read(String text) throws Exception;
    }

    private Map<String, String> seeds() throws IOException {
        Map<String, String> seeds = new LinkedHashMap<>();
        List<String> demo = Files.readAllLines(Program.DEMO);
        seeds.put("survey", String.join("\n", demo.subList(0, Math.min(60, demo.size()))));
        seeds.put("site file", """
                sites:
                  - name: www.heronferry.example
                    hosts: [www.heronferry.example, "*.heronferry.example"]
                    bucket: heronferry-www-content
                    routing: single-page
                    credentials: [arn:aws:iam::210987654321:role/www-publisher]
                trusted-accounts: ["109876543210"]
                waivers:
                  - check: versioning-off
                    subject: arn:aws:s3:::heronferry-www-content
                    reason: kept elsewhere
                    until: 2027-01-01
                gate: high
                """);
        seeds.put("a.yml", """
                on: [push, pull_request_target]
                env: {BUCKET: heron, API_TOKEN: %s}
                jobs:
                  deploy:
                    runs-on: x
                    steps:
                      - uses: actions/checkout@v4
                      - run: |
                          a=${X:-dist}
                          if [ -d "$a" ]; then aws s3 sync "$a" s3://${{ env.BUCKET }} --delete; fi
                          docker run -v $PWD/dist:/aws amazon/aws-cli s3 sync . s3://heron
                """.formatted(SECRET));
        seeds.put(
                "a.sh",
                "set -e\nTOKEN=" + SECRET
                        + "\nfor f in a b; do aws s3 cp $f s3://heron/; done\ncat <<EOF >x\n$TOKEN\nEOF\n");
        seeds.put(
                "Jenkinsfile",
                "pipeline { agent any\n stages { stage('x') { steps { sh \"aws s3 sync dist s3://heron\" } } } }\n");
        seeds.put(
                "buildspec.yml",
                "version: 0.2\nphases:\n  build:\n    commands:\n      - aws s3 sync dist s3://heron --delete\n");
        seeds.put(
                "package.json",
                "{\"scripts\":{\"deploy\":\"aws s3 sync dist s3://heron && npm run more\",\"more\":\"echo\"}}");
        seeds.put(
                "index.html",
                "<!doctype html><html><head><base href=\"/x/\"><style>a{background:url(b.png)}</style></head><body>"
                        + "<a href=\"fares.html?token=" + SECRET
                        + "\">x</a><img srcset=\"a.png 1x, b.png 2x\"><script>const apiKey = \"" + SECRET
                        + "\"; const u = '__API_URL__';</script></body></html>");
        seeds.put(
                "style.css",
                "@import url(\"a.css\"); a{background:image-set(\"a.png\" 1x)} @media x{b{src:url(c.woff)}}");
        seeds.put(
                "log",
                "{\"Records\":[{\"eventSource\":\"s3.amazonaws.com\",\"eventName\":\"PutObject\",\"eventTime\":\"2026-11-20T00:00:00Z\","
                        + "\"userIdentity\":{\"arn\":\"arn:aws:iam::210987654321:user/anna\"},\"requestParameters\":{\"bucketName\":\"heron\",\"key\":\"a\"}}]}");
        seeds.put(
                "answer",
                "{\"Policy\":\"{\\\"Statement\\\":[{\\\"Effect\\\":\\\"Allow\\\",\\\"Principal\\\":\\\"*\\\",\\\"Action\\\":\\\"s3:*\\\",\\\"Resource\\\":\\\"*\\\"}]}\"}");
        seeds.put("address", "https://user@www.heronferry.example:443/a%20b/../c?d=e#f");
        seeds.put(
                "question",
                "{\"id\":\"1\",\"who\":\"anyone\",\"action\":\"s3:GetObject\",\"on\":\"arn:aws:s3:::heronferry-www-content/a\",\"context\":{\"aws:Referer\":\"x\"}}");
        for (String description : DESCRIPTIONS) {
            seeds.put(description, resource(description));
        }
        return seeds;
    }

    /** Templates, plans and the like, which become surveys. */
    private static final Set<String> DESCRIPTIONS =
            new LinkedHashSet<>(List.of("site.yaml", "plan.json", "terraform.tfstate", "main.tf"));

    private static String resource(String name) throws IOException {
        if (name.equals("site.yaml")) {
            return Files.readString(Program.DEMO.resolveSibling("tides").resolve(name));
        }
        try (InputStream in = Objects.requireNonNull(FuzzTest.class.getResourceAsStream("/fuzz/" + name), name)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
    }

    /** Works on a description, laid over the demo's account. */
    private void describe(String name, String text) throws Exception {
        boolean isSource = name.endsWith(".tf");
        Templates.make(
                List.of(new Templates.Source(name, text, isSource)),
                new Templates.Given(
                        Optional.of("210987654321"),
                        Optional.of("eu-west-1"),
                        List.of(),
                        Optional.of(beside()),
                        (of, neighbour) -> Optional.empty(),
                        new Templates.Folders() {
                            @Override
                            public Optional<Map<String, String>> sources(String of) {
                                return Optional.of(Map.of(name, text));
                            }

                            @Override
                            public Optional<String> file(String of, String neighbour) {
                                return Optional.empty();
                            }
                        }),
                "2026-11-24T00:00:00Z");
    }

    private Survey beside() throws IOException, SurveyException {
        if (demo == null) {
            try (InputStream in = Files.newInputStream(Program.DEMO)) {
                demo = SurveyFiles.read(in, "demo.ndjson");
            }
        }
        return demo;
    }

    private void read(String kind, String text) throws Exception {
        switch (kind) {
            case "survey" ->
                SurveyFiles.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "s.ndjson");
            case "site file" -> SiteFileReader.parse(text, "warden.yaml", Set.of("versioning-off"));
            case "index.html", "style.css" -> {
                Path site = Files.createDirectories(folder.resolve("site"));
                Files.write(site.resolve(kind), text.getBytes(StandardCharsets.UTF_8));
                FolderReader.read(site.toString());
            }
            case "log" ->
                ActivityReader.read(
                        List.of(Files.write(folder.resolve("log.json"), text.getBytes(StandardCharsets.UTF_8))
                                .toString()));
            case "answer" -> {
                Path answers = Files.createDirectories(folder.resolve("answers"));
                Files.write(
                        answers.resolve("bucket-policy__arn%3Aaws%3As3%3A%3A%3Aheron.json"),
                        text.getBytes(StandardCharsets.UTF_8));
                Gatherers.ANSWERS.read(answers, "2026-11-24T00:00:00Z");
            }
            case "address" -> WebAddress.parse(text);
            case "question" -> {
                // The program reads questions, and answers each with a line.
            }
            case "site.yaml", "plan.json", "terraform.tfstate", "main.tf" -> describe(kind, text);
            default -> Gatherers.PIPELINES.parse(PipelineText.ofFile(kind, text), Map.of());
        }
    }

    @Test
    void everyReaderRefusesInASentenceOrReads() throws Exception {
        Map<String, String> seeds = seeds();
        List<String> kinds = new ArrayList<>(seeds.keySet());
        Map<String, String> failures = new TreeMap<>();
        for (int i = 0; i < INPUTS && failures.size() < 20; i++) {
            Random random = new Random(SEED + i);
            String kind = kinds.get(i % kinds.size());
            String text = mutated(seeds.get(kind), random);
            long begun = System.nanoTime();
            try {
                if (i % WHOLE_EVERY == 0 || kind.equals("question")) {
                    whole(kind, text);
                } else {
                    read(kind, text);
                }
            } catch (IOException | SurveyException | SiteFileException | TemplateException refused) {
                if (String.valueOf(refused.getMessage()).isBlank()) {
                    failures.put(kind + " of seed " + (SEED + i), "refused without a word");
                }
            } catch (Exception | Error failed) {
                failures.put(
                        kind + " of seed " + (SEED + i),
                        failed + " at "
                                + List.of(failed.getStackTrace()).stream()
                                        .limit(6)
                                        .toList());
            }
            if (System.nanoTime() - begun > LONGEST_NANOS) {
                failures.put(
                        kind + " of seed " + (SEED + i), "took " + (System.nanoTime() - begun) / 1_000_000 + " ms");
            }
        }
        assertThat(failures).isEmpty();
    }

    /** The whole program, on an input of this kind. */
    private void whole(String kind, String text) throws IOException {
        Path file = folder.resolve(kind.replace(' ', '-'));
        Files.write(file, text.getBytes(StandardCharsets.UTF_8));
        List<String> command =
                new ArrayList<>(List.of("audit", "--at", "2026-11-24", "--survey", Program.DEMO.toString()));
        switch (kind) {
            case "survey" -> command.set(4, file.toString());
            case "site file" -> command.addAll(List.of("--site-file", file.toString()));
            case "index.html", "style.css" -> {
                Path site = Files.createDirectories(folder.resolve("whole"));
                Files.write(site.resolve(kind), text.getBytes(StandardCharsets.UTF_8));
                command.addAll(List.of("--publish", site.toString()));
            }
            case "log" ->
                command = new ArrayList<>(
                        List.of("trim", "--survey", Program.DEMO.toString(), "--activity", file.toString()));
            case "question" ->
                command = new ArrayList<>(
                        List.of("reach", "--survey", Program.DEMO.toString(), "--questions", file.toString()));
            case "address" -> command = new ArrayList<>(List.of("trace", "--survey", Program.DEMO.toString(), text));
            case "answer" -> command = new ArrayList<>(List.of("reach", "--survey", Program.DEMO.toString()));
            case "site.yaml", "plan.json", "terraform.tfstate", "main.tf" -> {
                Path source = Files.createDirectories(folder.resolve("described"));
                Path described = Files.write(source.resolve(kind), text.getBytes(StandardCharsets.UTF_8));
                command = new ArrayList<>(List.of(
                        "survey",
                        "--template",
                        (kind.endsWith(".tf") ? source : described).toString(),
                        "--force",
                        "--output",
                        folder.resolve("described.ndjson").toString()));
            }
            default -> command.addAll(List.of("--pipeline", file.toString()));
        }
        Run run = Program.run(command.toArray(String[]::new));
        assertThat(run.code()).as(run.err()).isNotEqualTo(ExitCode.BUG.number());
        assertThat(run.out() + run.err()).doesNotContain(SECRET);
    }

    private static String mutated(String seed, Random random) {
        StringBuilder text = new StringBuilder(seed);
        int changes = 1 + random.nextInt(4);
        for (int i = 0; i < changes; i++) {
            int at = random.nextInt(text.length() + 1);
            int to = Math.min(text.length(), at + random.nextInt(40));
            switch (random.nextInt(9)) {
                case 0 -> text.delete(at, to);
                case 1 -> text.insert(at, text.substring(at, to));
                case 2 -> text.insert(at, HOSTILE.get(random.nextInt(HOSTILE.size())));
                case 3 ->
                    text.insert(at, HOSTILE.get(random.nextInt(HOSTILE.size())).repeat(1 + random.nextInt(3_000)));
                case 4 -> text.setLength(at);
                case 5 -> {
                    if (at < text.length()) {
                        text.setCharAt(at, (char) random.nextInt(0x250));
                    }
                }
                case 6 -> {
                    int other = random.nextInt(text.length() + 1);
                    text.insert(other, text.substring(at, Math.min(text.length(), at + random.nextInt(400))));
                }
                case 7 -> text.insert(at, "a".repeat(random.nextInt(20_000)));
                default ->
                    text.replace(at, to, Integer.toString(random.nextInt()).repeat(1 + random.nextInt(3)));
            }
            if (text.isEmpty()) {
                return "";
            }
        }
        return text.toString();
    }
}
