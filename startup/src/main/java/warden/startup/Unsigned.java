package warden.startup;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Optional;
import java.util.jar.Manifest;
import java.util.regex.Pattern;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;

/**
 * Takes the signatures off the copies of libraries that go with the program. The package repository's checksums have been checked when they were
 * fetched; at each start the JVM would check the signatures again, and it takes no class of a signed archive into its archive of classes.
 */
public final class Unsigned {
    private static final Pattern SIGNATURE = Pattern.compile("META-INF/[^/]+\\.(SF|RSA|DSA|EC)");

    private Unsigned() {}

    /** Works on the jars in the folders that are named. */
    public static void main(String[] folders) throws IOException {
        for (Path jar : Jar.in(folders)) {
            boolean isSigned;
            try (ZipFile from = new ZipFile(jar.toFile())) {
                isSigned = from.stream().anyMatch(Unsigned::isSignature);
            }
            if (isSigned) {
                Jar.rewrite(
                        jar,
                        (entry, content) -> isSignature(entry) ? Optional.empty() : Optional.of(plain(entry, content)));
            }
        }
    }

    private static boolean isSignature(ZipEntry entry) {
        return SIGNATURE.matcher(entry.getName().toUpperCase(Locale.ROOT)).matches();
    }

    private static byte[] plain(ZipEntry entry, byte[] content) throws IOException {
        if (!entry.getName().equalsIgnoreCase("META-INF/MANIFEST.MF")) {
            return content;
        }
        Manifest manifest = new Manifest(new ByteArrayInputStream(content));
        manifest.getEntries().values().forEach(said -> said.keySet()
                .removeIf(name -> name.toString().endsWith("-Digest")));
        manifest.getEntries().values().removeIf(said -> said.isEmpty());
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        manifest.write(out);
        return out.toByteArray();
    }
}
