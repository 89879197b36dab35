package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;
import static warden.cli.Program.run;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** The scripts that mend writes, run by the official command line against the simulated account. */
class MendIT {
    private static final Path CLIENT = Path.of("/usr/bin/aws");
    private static final String ROOT = "arn:aws:iam::210987654321:root";

    @TempDir
    private Path folder;

    private StandIn standIn;
    private Path mended;

    private record Said(int code, String text) {}

    /** Simulates a survey's account, and writes what is to change about some findings. */
    private void start(String survey, String... checks) throws Exception {
        assumeTrue(Files.isExecutable(CLIENT), "aws is not installed");
        standIn = Program.standIn(survey, Faults.none(), Clock.systemUTC());
        mended = folder.resolve("mended");
        Path surveyed = Files.writeString(folder.resolve("survey.ndjson"), survey);
        List<String> words = new ArrayList<>(
                List.of("mend", "--survey", surveyed.toString(), "--at=2026-11-24", "-o", mended.toString()));
        for (String check : checks) {
            words.add("--only=" + check);
        }
        run(words.toArray(String[]::new));
        Path bin = Files.createDirectory(folder.resolve("bin"));
        // Where a file says so, the call is made, and the script that asked for it is ended before it hears of it.
        Path aws = Files.writeString(
                bin.resolve("aws"),
                "#!/bin/sh\n" + CLIENT + " --endpoint-url " + standIn.endpoint() + " \"$@\"\ncode=$?\n"
                        + "case $2 in update-* | put-* | create-* | change-* | delete-*)\n"
                        + "    if [ -f '" + folder + "/interrupt' ]; then rm '" + folder
                        + "/interrupt'; kill -TERM $PPID; fi ;;\n"
                        + "esac\nexit $code\n");
        assertThat(aws.toFile().setExecutable(true)).isTrue();
    }

    @AfterEach
    void stop() {
        if (standIn != null) {
            standIn.close();
        }
    }

    private Said script(String name) throws IOException, InterruptedException {
        return said("./" + name);
    }

    private Said client(String... words) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of(folder.resolve("bin/aws").toString()));
        command.addAll(List.of(words));
        return said(command.toArray(String[]::new));
    }

    private Said said(String... command) throws IOException, InterruptedException {
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(mended.toFile()).redirectErrorStream(true);
        builder.environment()
                .putAll(Map.of(
                        "AWS_ACCESS_KEY_ID",
                        StandIn.keyOf(ROOT),
                        "AWS_SECRET_ACCESS_KEY",
                        "any",
                        "AWS_REGION",
                        "eu-west-1",
                        "AWS_DEFAULT_REGION",
                        "eu-west-1",
                        "AWS_EC2_METADATA_DISABLED",
                        "true",
                        "HOME",
                        folder.toString(),
                        "PATH",
                        folder.resolve("bin") + ":/usr/bin:/bin"));
        Process process = builder.start();
        String text = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return new Said(process.waitFor(), text);
    }

    /** What a survey says, by aspect and subject: without version tags, and with what the service named under one name. */
    private static Map<String, String> state(String survey) {
        Map<String, String> all = new TreeMap<>();
        for (String text : survey.lines().skip(1).toList()) {
            JsonPart line = JsonReader.read(text).root().orElseThrow();
            String body = line.find("found")
                    .map(JsonSpelling::of)
                    .orElseGet(() -> "absent " + line.text("absent").orElse("unread"));
            if (line.text("aspect").filter("bucket-objects"::equals).isPresent()) {
                continue;
            }
            all.put(named(line.text("aspect").orElse("") + " " + line.text("of").orElse("")), named(sorted(body)));
        }
        return all;
    }

    private static String named(String text) {
        return text.replaceAll("EC?STANDIN[0-9]+|\\{control-for-[^}]*}", "THE-NEW-ONE");
    }

    private static String sorted(String body) {
        return body.startsWith("{") ? spelled(JsonReader.read(body).root().orElseThrow()) : body;
    }

    /** Members in the order of their names: each protocol has its own. */
    private static String spelled(JsonPart part) {
        if (part instanceof JsonPart.JsonObject object) {
            List<String> members = new ArrayList<>();
            new TreeMap<>(object.members()).forEach((name, value) -> {
                if (!name.equals("ETag")) {
                    members.add(name + ":" + spelled(value));
                }
            });
            return "{" + String.join(",", members) + "}";
        }
        if (part instanceof JsonPart.JsonArray array) {
            return "["
                    + String.join(
                            ",", array.items().stream().map(MendIT::spelled).toList()) + "]";
        }
        if (part instanceof JsonPart.JsonText text && text.value().startsWith("{")) {
            return JsonReader.read(text.value()).root().map(MendIT::spelled).orElseGet(() -> JsonSpelling.of(part));
        }
        return JsonSpelling.of(part);
    }

    private static List<String> differences(Map<String, String> one, Map<String, String> other) {
        Map<String, String> all = new TreeMap<>(one);
        all.putAll(other);
        return all.keySet().stream()
                .filter(of -> !String.valueOf(one.get(of)).equals(other.get(of)))
                .map(of -> of + "\n  is " + one.get(of) + "\n  to be " + other.get(of))
                .toList();
    }

    /** Interrupted after each write and started again, it ends where it was promised to; and what was before comes back. */
    @Tag("slow")
    @Test
    void endsThoughInterruptedWhereItWasPromisedAndTakesItBack() throws Exception {
        start(Program.demo(), "open-around-cdn", "publisher-can-change-rules", "ipv6-record-missing");
        Map<String, String> before = state(standIn.state());
        int runs = 0;
        Said applied;
        do {
            Files.writeString(folder.resolve("interrupt"), "");
            applied = script("apply.sh");
            runs++;
        } while (applied.code() != 0 && runs < 20);
        Files.deleteIfExists(folder.resolve("interrupt"));
        assertThat(applied.code()).as(applied.text()).isZero();
        assertThat(runs).isGreaterThan(5);
        assertThat(applied.text())
                .contains("it is so already", "All steps are done.")
                .doesNotContain("refused");
        Map<String, String> promised = state(Files.readString(mended.resolve("after.ndjson")));
        assertThat(differences(state(standIn.state()), promised)).isEmpty();

        Said undone = script("undo.sh");
        assertThat(undone.code()).as(undone.text()).isZero();
        Map<String, String> after = state(standIn.state());
        // Step by step as it was, but for the identity that was made again under another identifier.
        String identity = standIn.state()
                .lines()
                .filter(line -> line.contains("\"origin-identity\""))
                .findFirst()
                .map(line -> line.replaceFirst(".*origin-access-identity/(E[A-Z0-9]+)\".*", "$1"))
                .orElseThrow();
        after.replaceAll(
                (of, body) -> body.replace(identity, "E1TIMETABLESOAI").replace("THE-NEW-ONE", "E1TIMETABLESOAI"));
        before.keySet().removeIf(of -> of.startsWith("origin-identity"));
        after.keySet().removeIf(of -> of.startsWith("origin-identity"));
        assertThat(differences(after, before)).isEmpty();
    }

    @Test
    void stopsWhereSomebodyChangedADocumentMeanwhile() throws Exception {
        start(Program.demo(), "open-around-cdn");
        Said changed = client(
                "s3api",
                "put-bucket-policy",
                "--bucket=timetables.heronferry.example",
                "--policy={\"Version\":\"2012-10-17\",\"Statement\":[{\"Effect\":\"Deny\",\"Principal\":\"*\",\"Action\":\"s3:PutObject\",\"Resource\":\"arn:aws:s3:::timetables.heronferry.example/*\"}]}");
        assertThat(changed.code()).as(changed.text()).isZero();
        Said said = script("apply.sh");
        assertThat(said.code()).isEqualTo(1);
        assertThat(said.text()).contains("neither what was surveyed nor what is to be", "goes on where it stopped");
        assertThat(standIn.state()).contains("s3:PutObject\\\",\\\"Resource\\\":\\\"arn:aws:s3:::timetables");
    }

    /** No file names the key: the script finds it by the moment at which it was made. */
    @Test
    void makesAnUnusedKeyInactiveAndActiveAgain() throws Exception {
        String key = "AKIAQ7HERONBOOK0DEMO";
        start(Program.demo().replace("\"LastUsedDate\":\"2026-11-12", "\"LastUsedDate\":\"2026-01-12"), "key-unused");
        for (String file : List.of("apply.sh", "undo.sh", "README.md", "proof.json")) {
            assertThat(Files.readString(mended.resolve(file))).as(file).doesNotContain(key);
        }
        Map<String, String> before = state(standIn.state());
        Said applied = script("apply.sh");
        assertThat(applied.code()).as(applied.text()).isZero();
        String user = "arn:aws:iam::210987654321:user/book-deployer";
        assertThat(state(standIn.state()).get("iam-user-keys " + user)).contains(key, "Inactive");
        assertThat(differences(state(standIn.state()), state(Files.readString(mended.resolve("after.ndjson")))))
                .isEmpty();
        Said undone = script("undo.sh");
        assertThat(undone.code()).as(undone.text()).isZero();
        assertThat(differences(state(standIn.state()), before)).isEmpty();
    }
}
