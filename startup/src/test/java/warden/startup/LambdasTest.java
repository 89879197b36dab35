package warden.startup;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.objectweb.asm.ClassReader;
import org.objectweb.asm.ClassVisitor;
import org.objectweb.asm.Handle;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;

class LambdasTest {
    @TempDir
    private Path folder;

    @Test
    void whatIsRewrittenDoesTheSame() throws Exception {
        Path zoo = copied();
        Lambdas.main(new String[] {folder.toString(), folder.resolve("missing").toString()});
        assertThat(callSites(zoo)).isEmpty();
        assertThat(said()).isEqualTo(new Zoo().get()).contains("private own", "inner own");
    }

    @Test
    void rewritingTwiceChangesNothing() throws Exception {
        copied();
        Lambdas.main(new String[] {folder.toString()});
        Map<Path, List<Byte>> once = contents();
        Lambdas.main(new String[] {folder.toString()});
        assertThat(contents()).isEqualTo(once);
        assertThat(said()).isEqualTo(new Zoo().get());
    }

    @Test
    void whatWasMadeForAClassThatIsGoneGoesToo() throws Exception {
        copied();
        Lambdas.main(new String[] {folder.toString()});
        Path made = contents().keySet().stream()
                .filter(file -> file.toString().contains("$$Lambda"))
                .findFirst()
                .orElseThrow();
        Path gone = made.resolveSibling("Gone$$Lambda0.class");
        Files.copy(made, gone);
        Lambdas.main(new String[] {folder.toString()});
        assertThat(gone).doesNotExist();
        assertThat(made).exists();
    }

    /** The JVM verifies what it loads: of the rewritten classes each, since no other loader knows them. */
    private String said() throws Exception {
        try (URLClassLoader loader =
                new URLClassLoader(new URL[] {folder.toUri().toURL()}, ClassLoader.getPlatformClassLoader())) {
            var made = loader.loadClass("warden.startup.Zoo").getDeclaredConstructor();
            made.setAccessible(true);
            return (String) ((Supplier<?>) made.newInstance()).get();
        }
    }

    private Path copied() throws Exception {
        Path from = Path.of(Zoo.class
                        .getProtectionDomain()
                        .getCodeSource()
                        .getLocation()
                        .toURI())
                .resolve("warden/startup");
        Path to = Files.createDirectories(folder.resolve("warden/startup"));
        try (Stream<Path> files = Files.list(from)) {
            for (Path file : files.filter(each -> each.getFileName().toString().startsWith("Zoo"))
                    .toList()) {
                Files.copy(file, to.resolve(file.getFileName()));
            }
        }
        return to;
    }

    private Map<Path, List<Byte>> contents() throws IOException {
        Map<Path, List<Byte>> contents = new TreeMap<>();
        try (Stream<Path> files = Files.walk(folder)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                List<Byte> bytes = new ArrayList<>();
                for (byte each : Files.readAllBytes(file)) {
                    bytes.add(each);
                }
                contents.put(file, bytes);
            }
        }
        return contents;
    }

    /** Returns what is left for the JVM to make at run time. */
    private static List<String> callSites(Path folder) throws IOException {
        List<String> found = new ArrayList<>();
        try (Stream<Path> files = Files.list(folder)) {
            for (Path file : files.toList()) {
                new ClassReader(Files.readAllBytes(file))
                        .accept(
                                new ClassVisitor(Opcodes.ASM9) {
                                    @Override
                                    public MethodVisitor visitMethod(
                                            int access, String name, String type, String generic, String[] thrown) {
                                        return new MethodVisitor(Opcodes.ASM9) {
                                            @Override
                                            public void visitInvokeDynamicInsn(
                                                    String method, String site, Handle maker, Object... arguments) {
                                                found.add(file + " " + maker.getOwner());
                                            }
                                        };
                                    }
                                },
                                0);
            }
        }
        return found;
    }
}
