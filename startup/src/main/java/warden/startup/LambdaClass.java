package warden.startup;

import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.Handle;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;
import org.objectweb.asm.Type;

/**
 * Writes the class that stands for one lambda: it has the captured values as fields, and its one method calls what the compiler made of the
 * lambda's body, or what a method reference names.
 *
 * <p>Source: Java SE API, java.lang.invoke.LambdaMetafactory (the adaptations); Java Virtual Machine Specification, sections 4.7.28 and 5.4.4
 * (nest mates may call each other's private methods).
 */
final class LambdaClass {
    /** The method by which the class is asked for an object. */
    static final String FACTORY = "of";

    private static final String ONLY = "ONLY";

    private final String name;
    private final String nestHost;
    private final Type[] captured;
    private final Type lambdaInterface;
    private final String methodName;
    private final Type erased;
    private final Handle body;
    private final Type instantiated;

    /**
     * A class to be written.
     *
     * @param name its internal name
     * @param nestHost the internal name of the class whose nest it joins
     * @param factory the type of the call site: captured values to interface
     * @param arguments what the call site gives the JVM's own factory: erased type, body, instantiated type
     */
    LambdaClass(String name, String nestHost, String methodName, Type factory, Object[] arguments) {
        this.name = name;
        this.nestHost = nestHost;
        this.methodName = methodName;
        this.captured = factory.getArgumentTypes();
        this.lambdaInterface = factory.getReturnType();
        this.erased = (Type) arguments[0];
        this.body = (Handle) arguments[1];
        this.instantiated = (Type) arguments[2];
    }

    byte[] bytes() {
        ClassWriter out = new ClassWriter(ClassWriter.COMPUTE_MAXS);
        out.visit(
                Opcodes.V17,
                Opcodes.ACC_FINAL | Opcodes.ACC_SUPER | Opcodes.ACC_SYNTHETIC,
                name,
                null,
                "java/lang/Object",
                new String[] {lambdaInterface.getInternalName()});
        out.visitNestHost(nestHost);
        for (int i = 0; i < captured.length; i++) {
            out.visitField(Opcodes.ACC_PRIVATE | Opcodes.ACC_FINAL, field(i), captured[i].getDescriptor(), null, null)
                    .visitEnd();
        }
        constructor(out);
        if (captured.length == 0) {
            only(out);
        }
        factory(out);
        method(out);
        out.visitEnd();
        return out.toByteArray();
    }

    private static String field(int place) {
        return "value" + place;
    }

    private String constructorType() {
        return Type.getMethodDescriptor(Type.VOID_TYPE, captured);
    }

    private void constructor(ClassWriter out) {
        MethodVisitor code = out.visitMethod(Opcodes.ACC_PRIVATE, "<init>", constructorType(), null, null);
        code.visitCode();
        code.visitVarInsn(Opcodes.ALOAD, 0);
        code.visitMethodInsn(Opcodes.INVOKESPECIAL, "java/lang/Object", "<init>", "()V", false);
        int local = 1;
        for (int i = 0; i < captured.length; i++) {
            code.visitVarInsn(Opcodes.ALOAD, 0);
            code.visitVarInsn(captured[i].getOpcode(Opcodes.ILOAD), local);
            code.visitFieldInsn(Opcodes.PUTFIELD, name, field(i), captured[i].getDescriptor());
            local += captured[i].getSize();
        }
        end(code, Opcodes.RETURN);
    }

    /** What captures nothing is one object, as the JVM makes it. */
    private void only(ClassWriter out) {
        int access = Opcodes.ACC_PRIVATE | Opcodes.ACC_STATIC | Opcodes.ACC_FINAL;
        out.visitField(access, ONLY, "L" + name + ";", null, null).visitEnd();
        MethodVisitor code = out.visitMethod(Opcodes.ACC_STATIC, "<clinit>", "()V", null, null);
        code.visitCode();
        create(code);
        code.visitFieldInsn(Opcodes.PUTSTATIC, name, ONLY, "L" + name + ";");
        end(code, Opcodes.RETURN);
    }

    private void create(MethodVisitor code) {
        code.visitTypeInsn(Opcodes.NEW, name);
        code.visitInsn(Opcodes.DUP);
        int local = 0;
        for (Type type : captured) {
            code.visitVarInsn(type.getOpcode(Opcodes.ILOAD), local);
            local += type.getSize();
        }
        code.visitMethodInsn(Opcodes.INVOKESPECIAL, name, "<init>", constructorType(), false);
    }

    private void factory(ClassWriter out) {
        String type = Type.getMethodDescriptor(lambdaInterface, captured);
        MethodVisitor code = out.visitMethod(Opcodes.ACC_STATIC, FACTORY, type, null, null);
        code.visitCode();
        if (captured.length == 0) {
            code.visitFieldInsn(Opcodes.GETSTATIC, name, ONLY, "L" + name + ";");
        } else {
            create(code);
        }
        end(code, Opcodes.ARETURN);
    }

    private void method(ClassWriter out) {
        MethodVisitor code = out.visitMethod(Opcodes.ACC_PUBLIC, methodName, erased.getDescriptor(), null, null);
        code.visitCode();
        boolean creates = body.getTag() == Opcodes.H_NEWINVOKESPECIAL;
        boolean isStatic = body.getTag() == Opcodes.H_INVOKESTATIC;
        Type owner = Type.getObjectType(body.getOwner());
        Type[] named = Type.getArgumentTypes(body.getDesc());
        if (creates) {
            code.visitTypeInsn(Opcodes.NEW, body.getOwner());
            code.visitInsn(Opcodes.DUP);
        }
        // The body's receiver, if it has one, is its first parameter.
        int shift = creates || isStatic ? 0 : 1;
        int given = 0;
        for (int i = 0; i < captured.length; i++, given++) {
            code.visitVarInsn(Opcodes.ALOAD, 0);
            code.visitFieldInsn(Opcodes.GETFIELD, name, field(i), captured[i].getDescriptor());
            convert(code, captured[i], given < shift ? owner : named[given - shift]);
        }
        int local = 1;
        Type[] arguments = erased.getArgumentTypes();
        for (int i = 0; i < arguments.length; i++, given++) {
            code.visitVarInsn(arguments[i].getOpcode(Opcodes.ILOAD), local);
            local += arguments[i].getSize();
            convert(code, arguments[i], instantiated.getArgumentTypes()[i]);
            convert(code, instantiated.getArgumentTypes()[i], given < shift ? owner : named[given - shift]);
        }
        code.visitMethodInsn(call(), body.getOwner(), body.getName(), body.getDesc(), body.isInterface());
        Type result = creates ? owner : Type.getReturnType(body.getDesc());
        if (erased.getReturnType().getSort() == Type.VOID) {
            if (result.getSize() > 0) {
                code.visitInsn(result.getSize() == 1 ? Opcodes.POP : Opcodes.POP2);
            }
        } else {
            convert(code, result, instantiated.getReturnType());
            convert(code, instantiated.getReturnType(), erased.getReturnType());
        }
        end(code, erased.getReturnType().getOpcode(Opcodes.IRETURN));
    }

    /** A private method of a nest mate is called as any other; only of oneself it would be special. */
    private int call() {
        return switch (body.getTag()) {
            case Opcodes.H_INVOKESTATIC -> Opcodes.INVOKESTATIC;
            case Opcodes.H_NEWINVOKESPECIAL -> Opcodes.INVOKESPECIAL;
            case Opcodes.H_INVOKEINTERFACE -> Opcodes.INVOKEINTERFACE;
            default -> body.isInterface() ? Opcodes.INVOKEINTERFACE : Opcodes.INVOKEVIRTUAL;
        };
    }

    private static void end(MethodVisitor code, int opcode) {
        code.visitInsn(opcode);
        code.visitMaxs(0, 0);
        code.visitEnd();
    }

    /** Converts the value on the stack: a cast, boxing, unboxing, or a wider number. */
    private static void convert(MethodVisitor code, Type from, Type to) {
        if (from.equals(to)) {
            return;
        }
        boolean isObject = Boxes.isObject(from);
        boolean becomesObject = Boxes.isObject(to);
        if (isObject && becomesObject) {
            if (!to.getInternalName().equals("java/lang/Object")) {
                code.visitTypeInsn(Opcodes.CHECKCAST, to.getInternalName());
            }
        } else if (isObject) {
            unbox(code, from, to);
        } else if (becomesObject) {
            String box = Boxes.of(from);
            String type = Type.getMethodDescriptor(Type.getObjectType(box), from);
            code.visitMethodInsn(Opcodes.INVOKESTATIC, box, "valueOf", type, false);
        } else {
            widen(code, from, to);
        }
    }

    private static void unbox(MethodVisitor code, Type from, Type to) {
        Type own = Boxes.heldBy(from, to);
        String box = Boxes.of(own);
        if (!box.equals(from.getInternalName())) {
            code.visitTypeInsn(Opcodes.CHECKCAST, box);
        }
        code.visitMethodInsn(
                Opcodes.INVOKEVIRTUAL, box, own.getClassName() + "Value", Type.getMethodDescriptor(own), false);
        widen(code, own, to);
    }

    private static void widen(MethodVisitor code, Type from, Type to) {
        boolean isInt = from.getSort() <= Type.INT;
        int opcode =
                switch (to.getSort()) {
                    case Type.LONG -> isInt ? Opcodes.I2L : Opcodes.NOP;
                    case Type.FLOAT -> isInt ? Opcodes.I2F : from.getSort() == Type.LONG ? Opcodes.L2F : Opcodes.NOP;
                    case Type.DOUBLE ->
                        isInt
                                ? Opcodes.I2D
                                : from.getSort() == Type.LONG
                                        ? Opcodes.L2D
                                        : from.getSort() == Type.FLOAT ? Opcodes.F2D : Opcodes.NOP;
                    default -> Opcodes.NOP;
                };
        if (opcode != Opcodes.NOP) {
            code.visitInsn(opcode);
        }
    }
}
