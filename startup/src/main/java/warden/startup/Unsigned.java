package warden.startup;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Enumeration;
import java.util.List;
import java.util.Locale;
import java.util.jar.Manifest;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;

/**
 * Takes the signatures off the copies of libraries that go with the program. The package repository's checksums have been checked when they were
 * fetched; at each start the JVM would check the signatures again, and it takes no class of a signed archive into its archive of classes.
 */
public final class Unsigned {
    private static final Pattern SIGNATURE = Pattern.compile("META-INF/[^/]+\\.(SF|RSA|DSA|EC)");

    private Unsigned() {}

    /** Works on the jars in the folders that are named. */
    public static void main(String[] folders) throws IOException {
        for (String folder : folders) {
            try (Stream<Path> files = Files.list(Path.of(folder))) {
                List<Path> jars = files.filter(file -> file.toString().endsWith(".jar"))
                        .sorted()
                        .toList();
                for (Path jar : jars) {
                    strip(jar);
                }
            }
        }
    }

    private static void strip(Path jar) throws IOException {
        Path stripped = jar.resolveSibling(jar.getFileName() + ".unsigned");
        try (ZipFile from = new ZipFile(jar.toFile())) {
            if (from.stream().noneMatch(Unsigned::isSignature)) {
                return;
            }
            try (OutputStream file = Files.newOutputStream(stripped);
                    ZipOutputStream to = new ZipOutputStream(file)) {
                for (Enumeration<? extends ZipEntry> all = from.entries(); all.hasMoreElements(); ) {
                    ZipEntry entry = all.nextElement();
                    if (!isSignature(entry)) {
                        ZipEntry copy = new ZipEntry(entry.getName());
                        copy.setTime(entry.getTime());
                        to.putNextEntry(copy);
                        to.write(content(from, entry));
                        to.closeEntry();
                    }
                }
            }
        }
        Files.move(stripped, jar, StandardCopyOption.REPLACE_EXISTING);
    }

    private static boolean isSignature(ZipEntry entry) {
        return SIGNATURE.matcher(entry.getName().toUpperCase(Locale.ROOT)).matches();
    }

    private static byte[] content(ZipFile from, ZipEntry entry) throws IOException {
        try (InputStream in = from.getInputStream(entry)) {
            if (!entry.getName().equalsIgnoreCase("META-INF/MANIFEST.MF")) {
                return in.readAllBytes();
            }
            Manifest manifest = new Manifest(in);
            manifest.getEntries().values().forEach(said -> said.keySet()
                    .removeIf(name -> name.toString().endsWith("-Digest")));
            manifest.getEntries().values().removeIf(said -> said.isEmpty());
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            manifest.write(out);
            return out.toByteArray();
        }
    }
}
