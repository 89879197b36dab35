package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class GrowingFileTest {
    @TempDir
    private Path folder;

    /** Who may not read the earlier survey may not read the new one either, not even while it grows. */
    @Test
    void hasTheTargetsModeFromTheBeginning() throws IOException {
        Path target = Files.writeString(folder.resolve("survey.ndjson"), "an earlier survey\n");
        Files.setPosixFilePermissions(target, PosixFilePermissions.fromString("rw-------"));
        GrowingFile file = GrowingFile.at(target);
        try (Writer out = file.open(false)) {
            out.write("anew");
        }
        assertThat(Files.getPosixFilePermissions(file.growing()))
                .isEqualTo(PosixFilePermissions.fromString("rw-------"));
        assertThat(target).hasContent("an earlier survey\n");
        file.finish();
        assertThat(target).hasContent("anew");
        assertThat(Files.getPosixFilePermissions(target)).isEqualTo(PosixFilePermissions.fromString("rw-------"));
        assertThat(file.growing()).doesNotExist();
    }
}
