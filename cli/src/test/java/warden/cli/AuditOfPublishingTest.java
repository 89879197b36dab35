package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.cli.Program.Run;

/** The publishing side through the command line: pipeline files, a folder, and what comes back. */
class AuditOfPublishingTest {
    @TempDir
    private Path folder;

    private static Run audit(String... more) {
        String[] arguments = new String[more.length + 5];
        arguments[0] = "audit";
        arguments[1] = "--survey";
        arguments[2] = Program.DEMO.toString();
        arguments[3] = "--gate";
        arguments[4] = "never";
        System.arraycopy(more, 0, arguments, 5, more.length);
        return Program.run(arguments);
    }

    @Test
    void auditsPipelineFilesAtTheirLines() throws IOException {
        Path pipeline = Files.writeString(folder.resolve("publish.yml"), """
                on: {pull_request_target: {}}
                permissions: write-all
                jobs:
                  publish:
                    env: {AWS_ACCESS_KEY_ID: '${{ secrets.KEY }}'}
                    steps:
                      - uses: actions/checkout@v4
                        with: {ref: '${{ github.event.pull_request.head.sha }}'}
                      - uses: someone/notify-me@v1
                      - run: aws s3 sync . s3://book.heronferry.example --acl public-read
                """);
        Run run = audit("--pipeline", pipeline.toString(), "--only", "pipeline", "--format", "json");
        assertThat(run.code()).isZero();
        Program.assertValid("report", run.out());
        JsonNode findings = JsonMapper.builder().build().readTree(run.out()).get("findings");
        StringBuilder own = new StringBuilder();
        findings.forEach(finding -> {
            if (finding.get("subject").asString().equals(pipeline.toString())) {
                own.append(finding.get("check").asString())
                        .append(' ')
                        .append(finding.at("/because/0/line").intValue())
                        .append('\n');
                assertThat(finding.at("/because/0/file").asString()).isEqualTo(pipeline.toString());
            }
        });
        assertThat(own.toString().lines())
                .containsExactlyInAnyOrder(
                        "pipeline-opens-objects 10",
                        "pipeline-untrusted-trigger 1",
                        "pipeline-uploads-everything 10",
                        "pipeline-token-too-wide 2",
                        "pipeline-unpinned-step 9",
                        "pipeline-no-invalidation 10",
                        "pipeline-deploys-untested 10",
                        "pipeline-leaves-old-files 10");
    }

    @Test
    void auditsAFolderThatIsAboutToBePublished() throws IOException {
        Files.writeString(folder.resolve("index.html"), "<a href=\"gone.html\">x</a>");
        Files.createDirectories(folder.resolve(".git"));
        Files.writeString(folder.resolve(".git/config"), "[core]");
        Files.writeString(folder.resolve("app.js"), "const key = '" + "AKIA" + "Q7HERONBOOK0TEST';");
        Run run = audit("--publish", folder.toString(), "--only", "content");
        assertThat(run.out())
                .contains("content-secret")
                .contains("content-private-files")
                .contains("content-broken-link")
                .contains("AKIA****".substring(0, 0))
                .doesNotContain("AKIA" + "Q7HERON");
        assertThat(run.code()).isZero();
    }

    @Test
    void saysWhatCannotBeRead() throws IOException {
        assertThat(audit("--publish", "nowhere")).satisfies(run -> {
            assertThat(run.code()).isEqualTo(3);
            assertThat(run.err()).contains("nowhere: there is no such folder");
        });
        Path broken = Files.writeString(folder.resolve("a.yml"), "jobs:\n\tx");
        assertThat(audit("--pipeline", broken.toString())).satisfies(run -> {
            assertThat(run.code()).isEqualTo(3);
            assertThat(run.err()).contains("a.yml:2: this is not valid YAML");
        });
    }
}
