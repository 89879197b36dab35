package warden.startup;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Enumeration;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import org.objectweb.asm.ClassReader;
import org.objectweb.asm.ClassVisitor;
import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.Opcodes;

/**
 * Writes the class files of Java 5 in the copies of libraries in the form of Java 8, with the frames that it asks for. The JVM verifies old ones by a
 * slower way at each start, and an archive or an ahead-of-time cache takes some of them, or none, in. Source: The Java Virtual Machine
 * Specification, "Verification of class Files", sections 4.10.1 and 4.10.2.
 */
public final class Framed {
    private static final int OLDEST_WITH_FRAMES = Opcodes.V1_6;
    private static final int VERSION = 6;

    private Framed() {}

    /** Works on the jars in the folders that are named. */
    public static void main(String[] folders) throws IOException {
        for (Path jar : Jar.in(folders)) {
            Hierarchy hierarchy = hierarchy(jar);
            if (hierarchy.hasOld()) {
                Jar.rewrite(
                        jar,
                        (entry, content) -> Optional.of(isOld(entry, content) ? framed(content, hierarchy) : content));
            }
        }
    }

    private static int version(byte[] content) {
        return (content[VERSION] & 0xff) << 8 | content[VERSION + 1] & 0xff;
    }

    private static boolean isOld(ZipEntry entry, byte[] content) {
        return entry.getName().endsWith(".class") && version(content) < OLDEST_WITH_FRAMES;
    }

    private static byte[] framed(byte[] old, Hierarchy hierarchy) {
        ClassReader reader = new ClassReader(old);
        ClassWriter writer = new ClassWriter(ClassWriter.COMPUTE_FRAMES) {
            @Override
            protected String getCommonSuperClass(String one, String other) {
                return hierarchy.common(one, other);
            }
        };
        reader.accept(
                new ClassVisitor(Opcodes.ASM9, writer) {
                    @Override
                    public void visit(
                            int version, int access, String name, String signature, String above, String[] interfaces) {
                        super.visit(Opcodes.V1_8, access, name, signature, above, interfaces);
                    }
                },
                ClassReader.SKIP_FRAMES);
        return writer.toByteArray();
    }

    private static Hierarchy hierarchy(Path jar) throws IOException {
        Map<String, String> above = new HashMap<>();
        Set<String> interfaces = new HashSet<>();
        boolean hasOld = false;
        try (ZipFile from = new ZipFile(jar.toFile())) {
            for (Enumeration<? extends ZipEntry> all = from.entries(); all.hasMoreElements(); ) {
                ZipEntry entry = all.nextElement();
                boolean isClass = entry.getName().endsWith(".class")
                        && !entry.getName().startsWith("META-INF/")
                        && !entry.getName().endsWith("module-info.class");
                if (!isClass) {
                    continue;
                }
                byte[] content = Jar.content(from, entry);
                ClassReader reader = new ClassReader(content);
                hasOld |= isOld(entry, content);
                if (reader.getSuperName() != null) {
                    above.put(reader.getClassName(), reader.getSuperName());
                }
                if ((reader.getAccess() & Opcodes.ACC_INTERFACE) != 0) {
                    interfaces.add(reader.getClassName());
                }
            }
        }
        return new Hierarchy(above, interfaces, hasOld);
    }

    /**
     * What the classes of a library extend.
     *
     * @param above the class above each
     * @param interfaces those that are none
     */
    private record Hierarchy(Map<String, String> above, Set<String> interfaces, boolean hasOld) {
        private static final String TOP = "java/lang/Object";

        /** Returns the nearest class that both are; that of all where one is an interface, or of another library. */
        String common(String one, String other) {
            if (interfaces.contains(one) || interfaces.contains(other)) {
                return TOP;
            }
            Set<String> ofOne = new HashSet<>();
            for (String each = one; !each.equals(TOP); each = next(each)) {
                ofOne.add(each);
            }
            for (String each = other; !each.equals(TOP); each = next(each)) {
                if (ofOne.contains(each)) {
                    return each;
                }
            }
            return TOP;
        }

        private String next(String name) {
            return above.getOrDefault(name, ofPlatform(name));
        }

        private static String ofPlatform(String name) {
            try {
                Class<?> known = Class.forName(name.replace('/', '.'), false, ClassLoader.getPlatformClassLoader());
                Class<?> next = known.getSuperclass();
                return next == null ? TOP : next.getName().replace('.', '/');
            } catch (ClassNotFoundException ofAnotherLibrary) {
                return TOP;
            }
        }
    }
}
