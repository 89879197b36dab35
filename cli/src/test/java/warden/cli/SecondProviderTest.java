package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.assertValid;
import static warden.cli.Program.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.cli.Program.Run;

/** The commands on the demo's survey of the second provider, alone and beside the first one's. */
class SecondProviderTest {
    private static final String SURVEY =
            Path.of("..", "demo", "heron-sound-quayside.ndjson").toString();
    private static final String AT = "--at=2026-11-24";

    @TempDir
    private Path folder;

    @Test
    void auditsIt() {
        Run audit = run("audit", AT, "--survey", SURVEY, "--format", "json");
        assertThat(audit.code()).as(audit.err()).isEqualTo(1);
        assertValid("report", audit.out());
        assertThat(audit.out())
                .contains("\"trust-too-wide\"", "\"account-tls-old\"", "\"open-without-site\"")
                .doesNotContain("container-open-listing");
        assertThat(run("audit", AT, "--survey", SURVEY, "--gate", "never").code())
                .isZero();
    }

    @Test
    void keepsToTheSchemas() throws IOException {
        Files.readAllLines(Path.of(SURVEY)).forEach(line -> assertValid("survey-line", line));
        Run matrix = run("reach", "--survey", SURVEY, "--format", "json");
        assertThat(matrix.code()).as(matrix.err()).isZero();
        assertValid("matrix", matrix.out());
    }

    /** What both providers' accounts hold is told in one report, each finding once. */
    @Test
    void auditsBothTogether() {
        Run both = run("audit", AT, "--survey", Program.DEMO.toString(), "--survey", SURVEY, "--full");
        assertThat(both.code()).as(both.err()).isEqualTo(1);
        assertThat(both.out()).contains("210987654321", "0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90");
        for (String each : new String[] {Program.DEMO.toString(), SURVEY}) {
            run("audit", AT, "--survey", each, "--full")
                    .out()
                    .lines()
                    .filter(line -> line.matches("\\s+\\d+\\s+CRITICAL .*"))
                    .map(line -> line.replaceFirst("^.*\\[", ""))
                    .forEach(check -> assertThat(both.out()).contains(check));
        }
    }

    @Test
    void takesACheckBySecondName() {
        Run card = run("checks", "container-open-listing");
        assertThat(card.code()).as(card.err()).isZero();
        assertThat(card.out()).contains("anyone-can-list");
        Run only = run("audit", AT, "--survey", SURVEY, "--only", "container-open-listing", "--format", "json");
        assertThat(only.code()).as(only.err()).isZero();
        assertThat(only.out()).contains("\"anyone-can-list\"").doesNotContain("\"trust-too-wide\"");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "https://wifi.quayside.example/ | 200",
                "http://wifi.quayside.example/ | 400",
                "https://menu.quayside.example/ | 200"
            })
    void tracesIt(String url, String status) {
        Run trace = run("trace", AT, "--survey", SURVEY, url, "--format", "json");
        assertThat(trace.code()).as(trace.err()).isZero();
        assertValid("trace", trace.out());
        assertThat(trace.out()).containsPattern("\"status\" : " + status);
    }

    @Test
    void answersQuestions() throws IOException {
        String account = "/subscriptions/0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90/resourceGroups/QUAYSIDE-RG/providers"
                + "/Microsoft.Storage/storageAccounts/quaysidewifi";
        String read = "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/read";
        Path questions = Files.writeString(
                folder.resolve("questions.ndjson"),
                "{\"id\":\"q1\",\"who\":\"anyone\",\"action\":\"" + read + "\",\"on\":\"" + account
                        + "/blobServices/default/containers/exports/blobs/a.csv\"}\n"
                        + "{\"id\":\"q2\",\"who\":\"any-account\",\"action\":\"" + read + "\",\"on\":\"" + account
                        + "/blobServices/default/containers/exports/blobs/a.csv\"}\n");
        Run reach = run("reach", "--survey", SURVEY, "--questions", questions.toString());
        assertThat(reach.code()).as(reach.err()).isZero();
        assertThat(reach.out().lines()).hasSize(2);
        assertThat(reach.out().lines().findFirst().orElseThrow()).contains("\"q1\"", "allow");
    }

    @Test
    void trimsItToTwoRoles() {
        Run trim = run("trim", "--survey", SURVEY, "--format", "json");
        assertThat(trim.code()).as(trim.err()).isZero();
        assertValid("trim", trim.out());
        assertThat(trim.out()).contains("roleDefinitions", "roleAssignments", "publisher: content", "publisher: purge");
    }

    @Test
    void printsTheScriptAndTheRolesAndSaysHowToSignIn() {
        assertThat(run("survey", "--script", "--provider", "azure").out()).startsWith("#!/bin/sh");
        assertThat(run("survey", "--permissions", "--provider", "azure").out()).contains("\"Actions\"");
        Run live = run("survey", "--provider", "azure", "--endpoint", "https://localhost:1");
        assertThat(live.code()).isEqualTo(4);
        assertThat(live.err().lines()).hasSize(1);
        assertThat(live.err()).contains("signing in failed", "az login");
        Run odd = run("survey", "--provider", "azure", "--subscription", "quayside");
        assertThat(odd.code()).isEqualTo(2);
        assertThat(odd.err().lines().findFirst().orElseThrow()).contains("--subscription takes the GUID");
    }
}
