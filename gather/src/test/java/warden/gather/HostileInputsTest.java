package warden.gather;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import warden.core.content.PublishedFolder;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.survey.SurveyException;
import warden.gather.content.FolderReader;
import warden.gather.survey.SurveyFiles;

/** Inputs that look plausible and would take for ever; the limit on time is far above what they need, and far below what they took. */
@Timeout(value = 60, unit = TimeUnit.SECONDS, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class HostileInputsTest {
    @TempDir
    private Path folder;

    private PublishedFolder page(String text) throws IOException {
        Files.writeString(folder.resolve("index.html"), text);
        return FolderReader.read(folder.toString());
    }

    private static Pipeline pipeline(String name, String text) {
        return Pipelines.parse(name, text);
    }

    @Test
    void linksSpelledWithEntitiesHaveTheirLines() throws IOException {
        StringBuilder text = new StringBuilder("<html><body>\n");
        for (int i = 0; i < 20_000; i++) {
            text.append("<a href=\"p&#97;ge").append(i).append(".html\">x</a>\n");
        }
        PublishedFolder found = page(text.append("</body></html>").toString());
        assertThat(found.files().get("index.html").references())
                .hasSize(20_000)
                .last()
                .satisfies(last -> {
                    assertThat(last.line()).isEqualTo(20_001);
                    assertThat(last.target()).isEqualTo("page19999.html");
                });
    }

    @Test
    void elementsMayBeNestedAsDeepAsTheyLike() throws IOException {
        String deep = "<div>".repeat(300_000) + "<a href=\"missing.html\">x</a>" + "</div>".repeat(300_000);
        assertThat(page(deep).files().get("index.html").references()).hasSize(1);
    }

    @Test
    void thousandsOfSecretsAreFound() throws IOException {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < 5_000; i++) {
            text.append("const t")
                    .append(i)
                    .append(" = \"gh")
                    .append("p_q8Zk2LmN5pRt7VwX9yB3c4Dq8Zk2LmN")
                    .append(String.format("%05d", i * 7))
                    .append("\"; ");
        }
        assertThat(page(text.toString()).files().get("index.html").secrets()).hasSize(5_000);
    }

    @Test
    void aBlobInAScriptIsOneWord() {
        Pipeline read = pipeline("a.sh", "BLOB=\"" + "q8Zk2LmN".repeat(100_000) + "\"\naws s3 sync a s3://b\n");
        assertThat(read.steps()).anyMatch(step -> step.operation() instanceof Operation.Upload);
    }

    @Test
    void variablesThatDoubleBecomeUnknown() {
        Pipeline read = pipeline("a.sh", "a=xxxxxxxxxx\n" + "a=$a$a\n".repeat(60) + "aws s3 sync $a s3://b\n");
        assertThat(read.steps())
                .anyMatch(step -> step.operation() instanceof Operation.Upload upload
                        && !upload.source().isKnown());
    }

    @Test
    void aScriptThatThousandsOfStepsShareIsRefused() {
        StringBuilder text =
                new StringBuilder("on: push\njobs:\n  a:\n    runs-on: x\n    steps:\n      - run: &s |\n");
        text.append("          aws s3 cp f s3://b/\n".repeat(100)).append("      - run: *s\n".repeat(8_000));
        assertThat(pipeline("a.yml", text.toString()).problem().orElseThrow().says())
                .contains("unfolds into more than 150000 commands");
    }

    @Test
    void aCompressedSurveyThatNeverEndsIsRefused() throws IOException {
        ByteArrayOutputStream small = new ByteArrayOutputStream();
        try (GZIPOutputStream out = new GZIPOutputStream(small)) {
            out.write("{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\"}\n"
                    .getBytes(StandardCharsets.UTF_8));
            byte[] blanks = " ".repeat(1 << 20).getBytes(StandardCharsets.UTF_8);
            for (int i = 0; i < 300; i++) {
                out.write(blanks);
            }
        }
        InputStream in = new ByteArrayInputStream(small.toByteArray());
        assertThatThrownBy(() -> SurveyFiles.read(in, "bomb.gz"))
                .isInstanceOf(SurveyException.class)
                .hasMessage("bomb.gz: it expands to more than 200 times its size, which no survey does; take it again");
    }
}
