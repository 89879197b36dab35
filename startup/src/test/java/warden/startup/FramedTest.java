package warden.startup;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.IntFunction;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.objectweb.asm.ClassReader;
import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.Label;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;

class FramedTest {
    @TempDir
    private Path folder;

    private Path jar;

    private static byte[] empty(String name, String above, int access) {
        ClassWriter out = new ClassWriter(ClassWriter.COMPUTE_MAXS);
        out.visit(Opcodes.V1_5, Opcodes.ACC_PUBLIC | access, name, null, above, null);
        if ((access & Opcodes.ACC_INTERFACE) == 0) {
            constructor(out, above);
        }
        return out.toByteArray();
    }

    private static void constructor(ClassWriter out, String above) {
        MethodVisitor made = out.visitMethod(Opcodes.ACC_PUBLIC, "<init>", "()V", null, null);
        made.visitVarInsn(Opcodes.ALOAD, 0);
        made.visitMethodInsn(Opcodes.INVOKESPECIAL, above, "<init>", "()V", false);
        made.visitInsn(Opcodes.RETURN);
        made.visitMaxs(0, 0);
        made.visitEnd();
    }

    /** What an old compiler makes of {@code n > 0 ? new Left() : new Right()}, whose nearest common class is {@code Base}. */
    private static byte[] chooser() {
        ClassWriter out = new ClassWriter(ClassWriter.COMPUTE_MAXS);
        out.visit(Opcodes.V1_5, Opcodes.ACC_PUBLIC, "old/Chooser", null, "java/lang/Object", new String[] {
            "java/util/function/IntFunction"
        });
        constructor(out, "java/lang/Object");
        MethodVisitor apply = out.visitMethod(Opcodes.ACC_PUBLIC, "apply", "(I)Ljava/lang/Object;", null, null);
        Label otherwise = new Label();
        Label end = new Label();
        apply.visitVarInsn(Opcodes.ILOAD, 1);
        apply.visitJumpInsn(Opcodes.IFLE, otherwise);
        made(apply, "old/Left");
        apply.visitJumpInsn(Opcodes.GOTO, end);
        apply.visitLabel(otherwise);
        made(apply, "old/Right");
        apply.visitLabel(end);
        apply.visitMethodInsn(Opcodes.INVOKEVIRTUAL, "old/Base", "toString", "()Ljava/lang/String;", false);
        apply.visitInsn(Opcodes.ARETURN);
        apply.visitMaxs(0, 0);
        apply.visitEnd();
        return out.toByteArray();
    }

    private static void made(MethodVisitor code, String name) {
        code.visitTypeInsn(Opcodes.NEW, name);
        code.visitInsn(Opcodes.DUP);
        code.visitMethodInsn(Opcodes.INVOKESPECIAL, name, "<init>", "()V", false);
    }

    @BeforeEach
    void old() throws Exception {
        jar = folder.resolve("library.jar");
        try (OutputStream file = Files.newOutputStream(jar);
                ZipOutputStream out = new ZipOutputStream(file)) {
            put(out, "old/Base.class", empty("old/Base", "java/lang/Object", 0));
            put(out, "old/Left.class", empty("old/Left", "old/Base", 0));
            put(out, "old/Right.class", empty("old/Right", "old/Base", 0));
            put(out, "old/Chooser.class", chooser());
            put(out, "old/words.txt", "as they were".getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
    }

    private static void put(ZipOutputStream out, String name, byte[] content) throws Exception {
        out.putNextEntry(new ZipEntry(name));
        out.write(content);
        out.closeEntry();
    }

    @Test
    void oldClassesDoTheSameInTheNewForm() throws Exception {
        Framed.main(new String[] {folder.toString()});
        try (URLClassLoader library = new URLClassLoader(new URL[] {jar.toUri().toURL()})) {
            byte[] now = library.getResourceAsStream("old/Chooser.class").readAllBytes();
            assertThat(new ClassReader(now).readShort(6)).isEqualTo((short) Opcodes.V1_8);
            // The JVM verifies what comes from another loader, by its frames, and falls back on nothing.
            @SuppressWarnings("unchecked")
            IntFunction<Object> chooser = (IntFunction<Object>)
                    library.loadClass("old.Chooser").getConstructor().newInstance();
            assertThat((String) chooser.apply(1)).startsWith("old.Left@");
            assertThat((String) chooser.apply(0)).startsWith("old.Right@");
            assertThat(library.getResourceAsStream("old/words.txt")).hasContent("as they were");
        }
    }

    @Test
    void aJarWithoutOldClassesIsNotWrittenAgain() throws Exception {
        Framed.main(new String[] {folder.toString()});
        var written = Files.getLastModifiedTime(jar);
        byte[] once = Files.readAllBytes(jar);
        Framed.main(new String[] {folder.toString()});
        assertThat(Files.getLastModifiedTime(jar)).isEqualTo(written);
        assertThat(Files.readAllBytes(jar)).isEqualTo(once);
    }
}
