package warden.startup;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.objectweb.asm.ClassReader;
import org.objectweb.asm.ClassVisitor;
import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.Handle;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;
import org.objectweb.asm.Type;

/** Classes with those that are nested in them; the new classes of lambdas join the nests. */
final class Nests {
    private static final String METAFACTORY = "java/lang/invoke/LambdaMetafactory";
    private static final String RECORDS = "java/lang/runtime/ObjectMethods";

    private final Map<String, Path> files = new TreeMap<>();
    private final Map<String, byte[]> rewritten = new LinkedHashMap<>();
    private final Map<String, byte[]> made = new LinkedHashMap<>();
    private final Map<String, TreeSet<String>> joining = new TreeMap<>();

    Nests(List<Path> classes) throws IOException {
        for (Path file : classes) {
            ClassReader reader = new ClassReader(Files.readAllBytes(file));
            files.put(reader.getClassName(), file);
            rewrite(reader);
        }
    }

    /** Replaces what makes lambdas, and the methods of records, in one class. What is written already is left as it is, so that to work twice does no harm. */
    private void rewrite(ClassReader reader) {
        ClassWriter out = new ClassWriter(reader, 0);
        Rewriting rewriting = new Rewriting(out, reader.getClassName());
        reader.accept(rewriting, 0);
        if (rewriting.count > 0) {
            rewritten.put(reader.getClassName(), out.toByteArray());
        }
    }

    /** Writes what was changed and what is new. */
    void write() throws IOException {
        for (Map.Entry<String, TreeSet<String>> nest : joining.entrySet()) {
            byte[] host = rewritten.containsKey(nest.getKey())
                    ? rewritten.get(nest.getKey())
                    : Files.readAllBytes(files.get(nest.getKey()));
            rewritten.put(nest.getKey(), joined(new ClassReader(host), nest.getValue()));
        }
        for (Map.Entry<String, byte[]> each : made.entrySet()) {
            String host = each.getKey().substring(0, each.getKey().indexOf(SIGN));
            String file = each.getKey().substring(each.getKey().lastIndexOf('/') + 1) + ".class";
            Files.write(files.get(host).resolveSibling(file), each.getValue());
        }
        for (Map.Entry<String, byte[]> each : rewritten.entrySet()) {
            Files.write(files.get(each.getKey()), each.getValue());
        }
    }

    /** Between a class's name and the number of its lambda. */
    private static final String SIGN = "$$Lambda";

    private static byte[] joined(ClassReader host, TreeSet<String> members) {
        ClassWriter out = new ClassWriter(host, 0);
        List<String> known = new ArrayList<>();
        host.accept(
                new ClassVisitor(Opcodes.ASM9, out) {
                    @Override
                    public void visitNestMember(String member) {
                        known.add(member);
                        super.visitNestMember(member);
                    }

                    @Override
                    public void visitEnd() {
                        members.stream()
                                .filter(member -> !known.contains(member))
                                .forEach(super::visitNestMember);
                        super.visitEnd();
                    }
                },
                0);
        return out.toByteArray();
    }

    private final class Rewriting extends ClassVisitor {
        private final String name;
        private String nestHost;
        private final List<Runnable> later = new ArrayList<>();
        private int lambdas;
        private int count;

        Rewriting(ClassVisitor out, String name) {
            super(Opcodes.ASM9, out);
            this.name = name;
            this.nestHost = name;
        }

        @Override
        public void visitNestHost(String host) {
            nestHost = host;
            super.visitNestHost(host);
        }

        @Override
        public void visitEnd() {
            later.forEach(Runnable::run);
            super.visitEnd();
        }

        @Override
        public MethodVisitor visitMethod(int access, String method, String type, String generic, String[] thrown) {
            return new MethodVisitor(Opcodes.ASM9, super.visitMethod(access, method, type, generic, thrown)) {
                @Override
                public void visitInvokeDynamicInsn(
                        String interfaceMethod, String factory, Handle maker, Object... arguments) {
                    if (maker.getOwner().equals(RECORDS)) {
                        String own = "record$" + interfaceMethod;
                        later.add(() -> new RecordMethod(arguments).addTo(cv, own, interfaceMethod, factory));
                        count++;
                        super.visitMethodInsn(Opcodes.INVOKESTATIC, name, own, factory, false);
                        return;
                    }
                    // The other factory serves lambdas that are serialized or have several interfaces; there are none.
                    if (!maker.getOwner().equals(METAFACTORY)
                            || !maker.getName().equals("metafactory")) {
                        super.visitInvokeDynamicInsn(interfaceMethod, factory, maker, arguments);
                        return;
                    }
                    String lambda = name + SIGN + lambdas++;
                    count++;
                    Type callSite = Type.getMethodType(factory);
                    made.put(lambda, new LambdaClass(lambda, nestHost, interfaceMethod, callSite, arguments).bytes());
                    joining.computeIfAbsent(nestHost, host -> new TreeSet<>()).add(lambda);
                    super.visitMethodInsn(
                            Opcodes.INVOKESTATIC, lambda, LambdaClass.FACTORY, callSite.getDescriptor(), false);
                }
            };
        }
    }
}
