package warden.startup;

import java.util.Map;
import org.objectweb.asm.Type;

/** The classes that hold one value of a primitive type. */
final class Boxes {
    private static final Map<Type, String> NAMES = Map.of(
            Type.BOOLEAN_TYPE, "java/lang/Boolean",
            Type.CHAR_TYPE, "java/lang/Character",
            Type.BYTE_TYPE, "java/lang/Byte",
            Type.SHORT_TYPE, "java/lang/Short",
            Type.INT_TYPE, "java/lang/Integer",
            Type.LONG_TYPE, "java/lang/Long",
            Type.FLOAT_TYPE, "java/lang/Float",
            Type.DOUBLE_TYPE, "java/lang/Double");

    private Boxes() {}

    /** True for the types of objects, arrays among them. */
    static boolean isObject(Type type) {
        return type.getSort() >= Type.ARRAY;
    }

    /** Returns the internal name of the class that holds values of a primitive type. */
    static String of(Type primitive) {
        String name = NAMES.get(primitive);
        if (name == null) {
            throw new IllegalArgumentException(primitive + " is no primitive type");
        }
        return name;
    }

    /** Returns the primitive type whose values a class holds; {@code otherwise} for a class that may be of several, such as Object. */
    static Type heldBy(Type box, Type otherwise) {
        return NAMES.entrySet().stream()
                .filter(each -> each.getValue().equals(box.getInternalName()))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(otherwise);
    }
}
