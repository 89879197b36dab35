package warden.startup;

import java.util.ArrayList;
import java.util.List;
import org.objectweb.asm.ClassVisitor;
import org.objectweb.asm.Handle;
import org.objectweb.asm.Label;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;
import org.objectweb.asm.Type;

/**
 * Writes out what a record's {@code equals}, {@code hashCode} or {@code toString} does, as the JVM's own maker of it would.
 *
 * <p>Source: Java SE API, java.lang.runtime.ObjectMethods and java.lang.Record.
 */
final class RecordMethod {
    private final Type owner;
    private final List<String> names = new ArrayList<>();
    private final List<Type> types = new ArrayList<>();

    /** The method of a record, given what the call site gives the JVM: the class, the names of the components, their fields. */
    RecordMethod(Object... arguments) {
        owner = (Type) arguments[0];
        for (int i = 2; i < arguments.length; i++) {
            Handle field = (Handle) arguments[i];
            names.add(field.getName());
            types.add(Type.getType(field.getDesc()));
        }
    }

    /** Adds the method to the record's class, as one of the class itself. */
    void addTo(ClassVisitor out, String name, String method, String type) {
        int access = Opcodes.ACC_PRIVATE | Opcodes.ACC_STATIC | Opcodes.ACC_SYNTHETIC;
        MethodVisitor code = out.visitMethod(access, name, type, null, null);
        code.visitCode();
        switch (method) {
            case "equals" -> equal(code);
            case "hashCode" -> hash(code);
            default -> text(code);
        }
        // The most that is on the stack: two numbers of two words, or a text that grows and one such number; and three
        // locals.
        code.visitMaxs(5, 3);
        code.visitEnd();
    }

    private void field(MethodVisitor code, int local, int place) {
        code.visitVarInsn(Opcodes.ALOAD, local);
        code.visitFieldInsn(
                Opcodes.GETFIELD,
                owner.getInternalName(),
                names.get(place),
                types.get(place).getDescriptor());
    }

    private void equal(MethodVisitor code) {
        Label other = new Label();
        Label different = new Label();
        code.visitVarInsn(Opcodes.ALOAD, 0);
        code.visitVarInsn(Opcodes.ALOAD, 1);
        code.visitJumpInsn(Opcodes.IF_ACMPNE, other);
        code.visitInsn(Opcodes.ICONST_1);
        code.visitInsn(Opcodes.IRETURN);
        code.visitLabel(other);
        code.visitFrame(Opcodes.F_SAME, 0, null, 0, null);
        code.visitVarInsn(Opcodes.ALOAD, 1);
        code.visitTypeInsn(Opcodes.INSTANCEOF, owner.getInternalName());
        code.visitJumpInsn(Opcodes.IFEQ, different);
        code.visitVarInsn(Opcodes.ALOAD, 1);
        code.visitTypeInsn(Opcodes.CHECKCAST, owner.getInternalName());
        code.visitVarInsn(Opcodes.ASTORE, 2);
        for (int i = 0; i < types.size(); i++) {
            field(code, 0, i);
            field(code, 2, i);
            differs(code, types.get(i), different);
        }
        code.visitInsn(Opcodes.ICONST_1);
        code.visitInsn(Opcodes.IRETURN);
        code.visitLabel(different);
        code.visitFrame(Opcodes.F_SAME, 0, null, 0, null);
        code.visitInsn(Opcodes.ICONST_0);
        code.visitInsn(Opcodes.IRETURN);
    }

    /** Jumps where the two values on the stack are not the same. */
    private static void differs(MethodVisitor code, Type type, Label to) {
        if (Boxes.isObject(type)) {
            code.visitMethodInsn(
                    Opcodes.INVOKESTATIC,
                    "java/util/Objects",
                    "equals",
                    "(Ljava/lang/Object;Ljava/lang/Object;)Z",
                    false);
            code.visitJumpInsn(Opcodes.IFEQ, to);
        } else {
            String compared = Type.getMethodDescriptor(Type.INT_TYPE, type, type);
            code.visitMethodInsn(Opcodes.INVOKESTATIC, Boxes.of(type), "compare", compared, false);
            code.visitJumpInsn(Opcodes.IFNE, to);
        }
    }

    private void hash(MethodVisitor code) {
        code.visitInsn(Opcodes.ICONST_0);
        for (int i = 0; i < types.size(); i++) {
            code.visitIntInsn(Opcodes.BIPUSH, 31);
            code.visitInsn(Opcodes.IMUL);
            field(code, 0, i);
            boolean isObject = Boxes.isObject(types.get(i));
            Type hashed = isObject ? Type.getType(Object.class) : types.get(i);
            code.visitMethodInsn(
                    Opcodes.INVOKESTATIC,
                    isObject ? "java/util/Objects" : Boxes.of(hashed),
                    "hashCode",
                    Type.getMethodDescriptor(Type.INT_TYPE, hashed),
                    false);
            code.visitInsn(Opcodes.IADD);
        }
        code.visitInsn(Opcodes.IRETURN);
    }

    private void text(MethodVisitor code) {
        String builder = "java/lang/StringBuilder";
        code.visitTypeInsn(Opcodes.NEW, builder);
        code.visitInsn(Opcodes.DUP);
        code.visitMethodInsn(Opcodes.INVOKESPECIAL, builder, "<init>", "()V", false);
        String simple = owner.getInternalName().replaceFirst(".*[/$]", "");
        for (int i = 0; i < types.size(); i++) {
            append(code, (i == 0 ? simple + "[" : ", ") + names.get(i) + "=");
            field(code, 0, i);
            Type type = Boxes.isObject(types.get(i)) ? Type.getType(Object.class) : types.get(i);
            Type shown = type.getSort() == Type.BYTE || type.getSort() == Type.SHORT ? Type.INT_TYPE : type;
            code.visitMethodInsn(
                    Opcodes.INVOKEVIRTUAL,
                    builder,
                    "append",
                    Type.getMethodDescriptor(Type.getObjectType(builder), shown),
                    false);
        }
        append(code, types.isEmpty() ? simple + "[]" : "]");
        code.visitMethodInsn(Opcodes.INVOKEVIRTUAL, builder, "toString", "()Ljava/lang/String;", false);
        code.visitInsn(Opcodes.ARETURN);
    }

    private static void append(MethodVisitor code, String text) {
        code.visitLdcInsn(text);
        code.visitMethodInsn(
                Opcodes.INVOKEVIRTUAL,
                "java/lang/StringBuilder",
                "append",
                "(Ljava/lang/String;)Ljava/lang/StringBuilder;",
                false);
    }
}
