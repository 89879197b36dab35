package warden.startup;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.Enumeration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;

/** Copies of libraries that go with the program, written anew in their place, whole or not at all. */
final class Jar {
    private Jar() {}

    /** What becomes of an entry. */
    interface Rewriting {
        /** Returns what it holds from now on; absent where it goes. */
        Optional<byte[]> of(ZipEntry entry, byte[] content) throws IOException;
    }

    /** Returns the jars in some folders, in the order of their names. */
    static List<Path> in(String... folders) throws IOException {
        List<Path> jars = new ArrayList<>();
        for (String folder : folders) {
            try (Stream<Path> files = Files.list(Path.of(folder))) {
                files.filter(file -> file.toString().endsWith(".jar")).sorted().forEach(jars::add);
            }
        }
        return jars;
    }

    /** Writes a jar anew. */
    static void rewrite(Path jar, Rewriting rewriting) throws IOException {
        Path beside = jar.resolveSibling(jar.getFileName() + ".new");
        try (ZipFile from = new ZipFile(jar.toFile());
                OutputStream file = Files.newOutputStream(beside);
                ZipOutputStream to = new ZipOutputStream(file)) {
            for (Enumeration<? extends ZipEntry> all = from.entries(); all.hasMoreElements(); ) {
                ZipEntry entry = all.nextElement();
                Optional<byte[]> content = rewriting.of(entry, content(from, entry));
                if (content.isPresent()) {
                    ZipEntry copy = new ZipEntry(entry.getName());
                    copy.setTime(entry.getTime());
                    to.putNextEntry(copy);
                    to.write(content.get());
                    to.closeEntry();
                }
            }
        }
        Files.move(beside, jar, StandardCopyOption.REPLACE_EXISTING);
    }

    /** Returns what an entry holds. */
    static byte[] content(ZipFile from, ZipEntry entry) throws IOException {
        try (InputStream in = from.getInputStream(entry)) {
            return in.readAllBytes();
        }
    }
}
