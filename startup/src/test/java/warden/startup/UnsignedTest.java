package warden.startup;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.jar.JarFile;
import java.util.spi.ToolProvider;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class UnsignedTest {
    private static final String MANIFEST = "Manifest-Version: 1.0\r\nMulti-Release: true\r\n\r\n"
            + "Name: a/\r\nSealed: true\r\nSHA-256-Digest: eA==\r\n\r\nName: a/B.txt\r\nSHA-256-Digest: eQ==\r\n\r\n";

    @TempDir
    private Path folder;

    private Path jar;

    @BeforeEach
    void signed() throws Exception {
        jar = folder.resolve("library.jar");
        try (OutputStream file = Files.newOutputStream(jar);
                ZipOutputStream out = new ZipOutputStream(file)) {
            put(out, "META-INF/MANIFEST.MF", MANIFEST);
            put(out, "META-INF/KEY.SF", "Signature-Version: 1.0\r\n\r\n");
            put(out, "META-INF/KEY.RSA", "no real one");
            put(out, "META-INF/services/a.B", "a.C");
            put(out, "a/B.txt", "content");
        }
    }

    private static void put(ZipOutputStream out, String name, String content) throws Exception {
        out.putNextEntry(new ZipEntry(name));
        out.write(content.getBytes(StandardCharsets.UTF_8));
        out.closeEntry();
    }

    @Test
    void theRestStaysAsItIs() throws Exception {
        Unsigned.main(new String[] {folder.toString()});
        try (JarFile now = new JarFile(jar.toFile())) {
            assertThat(now.stream().map(ZipEntry::getName))
                    .containsExactly("META-INF/MANIFEST.MF", "META-INF/services/a.B", "a/B.txt");
            assertThat(now.getInputStream(now.getEntry("a/B.txt")).readAllBytes())
                    .isEqualTo("content".getBytes(StandardCharsets.UTF_8));
            assertThat(now.isMultiRelease()).isTrue();
            assertThat(now.getManifest().getEntries()).containsOnlyKeys("a/");
            assertThat(now.getManifest().getAttributes("a/").getValue("Sealed")).isEqualTo("true");
        }
        assertThat(ToolProvider.findFirst("jar").orElseThrow().run(System.out, System.err, "tf", jar.toString()))
                .isZero();
        assertThat(folder).isDirectoryContaining(file -> file.equals(jar));
    }

    @Test
    void whatIsNotSignedIsNotWrittenAgain() throws Exception {
        Unsigned.main(new String[] {folder.toString()});
        byte[] once = Files.readAllBytes(jar);
        var written = Files.getLastModifiedTime(jar);
        Unsigned.main(new String[] {folder.toString()});
        assertThat(Files.readAllBytes(jar)).isEqualTo(once);
        assertThat(Files.getLastModifiedTime(jar)).isEqualTo(written);
        try (var files = Files.list(folder)) {
            assertThat(files.toList()).isEqualTo(List.of(jar));
        }
    }
}
