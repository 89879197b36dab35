package warden.gather.aws.template;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;

/** How the provider's answers spell what descriptions spell otherwise. */
final class Shapes {
    private Shapes() {}

    /** Returns digits as a number; anything else as it is. */
    static Object number(String text) {
        return text.matches("-?[0-9]{1,15}") ? (Object) Long.valueOf(text) : text;
    }

    /** Lists of the interface say how many they hold; templates do not. */
    static @Nullable Object quantities(@Nullable Object value) {
        if (value instanceof Map<?, ?> map) {
            Map<String, Object> out = new LinkedHashMap<>();
            map.forEach((name, member) -> {
                Object given = quantities(member);
                out.put(
                        String.valueOf(name),
                        given instanceof List<?> list && !String.valueOf(name).equals("Items") ? listed(list) : given);
            });
            return out;
        }
        return value instanceof List<?> list
                ? list.stream().map(Shapes::quantities).toList()
                : value;
    }

    /** Returns a list that says how many it holds. */
    static Map<String, Object> listed(List<?> items) {
        return Json.object("Quantity", items.size(), "Items", items);
    }

    /** Returns a domain name as zones spell it. */
    static String dotted(String name) {
        return name.endsWith(".") ? name : name + ".";
    }
}
