package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class TargetFileTest {
    @TempDir
    private Path folder;

    private void assertNothingBeside() throws IOException {
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files.map(file -> file.getFileName().toString())).noneMatch(name -> name.endsWith(".part"));
        }
    }

    @Test
    void keepsTheModeOfAFile() throws IOException {
        Path file = Files.writeString(folder.resolve("report"), "old");
        Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
        TargetFile.write(file, "new", "--output");
        assertThat(file).hasContent("new");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                .isEqualTo("rw-------");
        assertNothingBeside();
    }

    @Test
    void followsLinksThoseToNothingTooAndNotInACircle() throws IOException {
        Path file = Files.writeString(folder.resolve("report"), "old");
        Path link = Files.createSymbolicLink(folder.resolve("link"), Path.of("report"));
        TargetFile.write(link, "new", "--output");
        assertThat(link).isSymbolicLink();
        assertThat(file).hasContent("new");
        Path dangling = Files.createSymbolicLink(folder.resolve("dangling"), Path.of("made"));
        TargetFile.write(dangling, "made", "--output");
        assertThat(folder.resolve("made")).hasContent("made");
        Files.createSymbolicLink(folder.resolve("a"), Path.of("b"));
        Path circle = Files.createSymbolicLink(folder.resolve("b"), Path.of("a"));
        assertThatThrownBy(() -> TargetFile.write(circle, "x", "--output"))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("circle");
    }

    @Test
    void writesStraightToWhatIsNoRegularFile() throws Exception {
        Path pipe = folder.resolve("pipe");
        assertThat(new ProcessBuilder("mkfifo", pipe.toString()).start().waitFor())
                .isZero();
        CompletableFuture<String> read = CompletableFuture.supplyAsync(() -> {
            try {
                return Files.readString(pipe);
            } catch (IOException broken) {
                return broken.toString();
            }
        });
        TargetFile.write(pipe, "through the pipe", "--output");
        assertThat(read.get()).isEqualTo("through the pipe");
        assertThat(Files.isRegularFile(pipe)).isFalse();
        Path link = Files.createSymbolicLink(folder.resolve("to-a-device"), Path.of("/dev/null"));
        TargetFile.write(link, "nowhere", "--output");
        assertThat(Files.isRegularFile(Path.of("/dev/null"))).isFalse();
        assertNothingBeside();
    }

    @Test
    void refusesWhatCannotBeWrittenInOneSentence() {
        assertThatThrownBy(() -> TargetFile.write(folder, "x", "--report"))
                .isInstanceOf(InputException.class)
                .hasMessage(folder + ": cannot write there (it is a folder); name another file with --report");
        assertThatThrownBy(() -> TargetFile.write(folder.resolve("no/such/folder"), "x", "--report"))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("there is no such folder");
    }

    @Test
    void aFullStandardOutputIsTold() {
        OutputStream full = new OutputStream() {
            @Override
            public void write(int octet) throws IOException {
                throw new IOException("No space left on device");
            }
        };
        StandardOutput output = new StandardOutput(full);
        PrintWriter out = output.writer();
        out.print("report");
        out.flush();
        StringWriter said = new StringWriter();
        assertThat(output.ended(0, new PrintWriter(said, true))).isEqualTo(2);
        assertThat(said.toString()).contains("No space left on device").contains("cut off");
        ByteArrayOutputStream whole = new ByteArrayOutputStream();
        StandardOutput good = new StandardOutput(whole);
        PrintWriter better = good.writer();
        better.print("report");
        better.flush();
        assertThat(good.ended(1, new PrintWriter(said, true))).isEqualTo(1);
        assertThat(whole.toString()).isEqualTo("report");
    }
}
