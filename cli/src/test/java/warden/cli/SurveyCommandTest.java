package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.run;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.cli.Program.Run;
import warden.core.aws.survey.Permissions;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/** What the survey command does without an account. */
class SurveyCommandTest {
    @TempDir
    private Path folder;

    @Test
    void printsAPolicyOfEveryActionThatASurveyTakes() {
        Run run = run("survey", "--permissions");
        assertThat(run.code()).isZero();
        JsonReader.Result read = JsonReader.read(run.out());
        assertThat(read.problems()).isEmpty();
        JsonPart statement = read.root().orElseThrow().list("Statement").get(0);
        assertThat(statement.text("Effect")).contains("Allow");
        assertThat(statement.texts("Action")).isEqualTo(Permissions.all());
        assertThat(run("survey", "--permissions").out()).isEqualTo(run.out());
    }

    @Test
    void printsAScriptThatTheShellUnderstands() throws Exception {
        Run run = run("survey", "--script");
        assertThat(run.code()).isZero();
        Path script = Files.writeString(folder.resolve("survey.sh"), run.out());
        Process shell = new ProcessBuilder("sh", "-n", script.toString())
                .redirectErrorStream(true)
                .start();
        String said = new String(shell.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(shell.waitFor()).as(said).isZero();
        assertThat(run.out()).startsWith("#!/bin/sh");
    }

    @Test
    void makesASurveyOfSavedAnswersThatCanBeAudited() throws Exception {
        Path answers = Files.createDirectory(folder.resolve("answers"));
        Files.writeString(answers.resolve("bucket-list__210987654321.json"), "{\"Buckets\":[{\"Name\":\"quay\"}]}");
        Files.writeString(
                answers.resolve("bucket-policy__arn%3Aaws%3As3%3A%3A%3Aquay.json"),
                "{\"Policy\":\"{\\\"Version\\\":\\\"2012-10-17\\\",\\\"Statement\\\":[{\\\"Effect\\\":\\\"Allow\\\","
                        + "\\\"Principal\\\":\\\"*\\\",\\\"Action\\\":\\\"s3:PutObject\\\",\\\"Resource\\\":"
                        + "\\\"arn:aws:s3:::quay/*\\\"}]}\"}");
        Files.writeString(
                answers.resolve("bucket-public-access__arn%3Aaws%3As3%3A%3A%3Aquay.error"),
                "\nAn error occurred (NoSuchPublicAccessBlockConfiguration) when calling it: none\n");
        Files.writeString(
                answers.resolve("account-public-access__210987654321.error"),
                "\nAn error occurred (NoSuchPublicAccessBlockConfiguration) when calling it: none\n");
        Files.writeString(
                answers.resolve("bucket-acl__arn%3Aaws%3As3%3A%3A%3Aquay.error"),
                "\nAn error occurred (AccessDenied) when calling the GetBucketAcl operation: Access Denied\n");
        Path survey = folder.resolve("survey.ndjson");
        Run run = run("survey", "--folder", answers.toString(), "-o", survey.toString());
        assertThat(run.code()).as(run.err()).isZero();
        assertThat(run.err()).contains("5 readings", "bucket-acl (AccessDenied)", "\"Action\":[\"s3:GetBucketAcl\"]");
        Program.read(survey).lines().forEach(line -> Program.assertValid("survey-line", line));
        Run audit = run("audit", "--survey", survey.toString(), "--only", "anyone-can-write", "--at=2026-11-24");
        assertThat(audit.code()).isEqualTo(1);
        assertThat(audit.out()).contains("CRITICAL", "[anyone-can-write]", "quay");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "survey --parallel 0",
                "survey --parallel 65",
                "survey --parallel many",
                "survey --objects -1",
                "survey --nonsense",
                "stand-in --throttle 90 --reset 20",
                "stand-in --latency -5",
                "stand-in --port word"
            })
    void refusesWrongCommandLines(String line) {
        Run run = run(line.split(" "));
        assertThat(run.code()).isEqualTo(2);
        assertThat(run.err()).startsWith("gentle-warden: ").doesNotContain("Exception");
    }

    @Test
    void namesWhatCannotBeRead() throws Exception {
        Path broken = Files.writeString(folder.resolve("broken.ndjson"), "oops\n");
        for (List<String> line : List.of(
                List.of("survey", "--folder", folder.resolve("none").toString()),
                List.of("survey", "--folder", broken.toString()),
                List.of("stand-in", "--survey", broken.toString()),
                List.of("stand-in", "--survey", folder.resolve("none.ndjson").toString()))) {
            Run run = run(line.toArray(String[]::new));
            assertThat(run.code()).as(line.toString()).isEqualTo(3);
            assertThat(run.err().lines()).hasSize(1);
            assertThat(run.err()).contains(folder.toString()).doesNotContain("Exception");
        }
    }
}
