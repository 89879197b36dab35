package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;

/**
 * What a description says of one thing: members, items and texts. Whatever asks for a value that is not told ends in {@link NotTold}; one that is not
 * there is absent.
 */
final class Fields {
    private static final Fields NOTHING = new Fields(null);

    private final @Nullable Object value;

    Fields(@Nullable Object value) {
        this.value = value;
    }

    @Nullable
    Object raw() {
        return value;
    }

    /** Returns a member, or a member of a member; nothing where one is missing. */
    Fields at(String... names) {
        Fields here = this;
        for (String name : names) {
            here = here.member(name);
        }
        return here;
    }

    private Fields member(String name) {
        if (value instanceof Unknown unknown) {
            throw new NotTold(unknown.why());
        }
        // Blocks of the other tool's language are lists of one.
        Object holder = value instanceof List<?> list && list.size() == 1 ? list.get(0) : value;
        if (holder instanceof Unknown unknown) {
            throw new NotTold(unknown.why());
        }
        return holder instanceof Map<?, ?> map && map.containsKey(name) ? new Fields(map.get(name)) : NOTHING;
    }

    boolean isThere() {
        return value != null && !(value instanceof List<?> list && list.isEmpty());
    }

    boolean isUnknown() {
        return value instanceof Unknown;
    }

    /** Returns the text, number or flag as text, all of it told. */
    Optional<String> text(String... names) {
        Object there = at(names).value;
        if (there instanceof Unknown unknown) {
            throw new NotTold(unknown.why());
        }
        if (there instanceof Partly partly) {
            throw new NotTold(partly.why());
        }
        return scalar(there);
    }

    /** Returns a name, of which a part may be a placeholder. */
    Optional<String> name(String... names) {
        Object there = at(names).value;
        if (there instanceof Unknown unknown) {
            return Optional.of(unknown.placeholder());
        }
        return there instanceof Partly partly ? Optional.of(partly.text()) : scalar(there);
    }

    private static Optional<String> scalar(@Nullable Object value) {
        if (value instanceof HclFunctions.Encoded encoded) {
            return Optional.of(Json.text(told(encoded.value(), false)));
        }
        if (value instanceof String text) {
            return Optional.of(text);
        }
        return value instanceof Number || value instanceof Boolean ? Optional.of(value.toString()) : Optional.empty();
    }

    /** Returns the flag; absent where there is none. */
    Optional<Boolean> flag(String... names) {
        return text(names).map(Boolean::valueOf);
    }

    /** Returns the items of a list; a value alone is a list of one. */
    List<Fields> items(String... names) {
        Object there = at(names).value;
        if (there instanceof Unknown unknown) {
            throw new NotTold(unknown.why());
        }
        if (there == null) {
            return List.of();
        }
        if (there instanceof List<?> list) {
            List<Fields> items = new ArrayList<>();
            list.forEach(item -> items.add(new Fields(item)));
            return items;
        }
        return List.of(new Fields(there));
    }

    List<String> texts(String... names) {
        return items(names).stream().map(item -> item.text().orElse("")).toList();
    }

    List<String> names(String... names) {
        return items(names).stream().map(item -> item.name().orElse("")).toList();
    }

    /** Returns the members; none where it is no object. */
    Map<String, Fields> members() {
        if (value instanceof Unknown unknown) {
            throw new NotTold(unknown.why());
        }
        Map<String, Fields> members = new LinkedHashMap<>();
        if (value instanceof Map<?, ?> map) {
            map.forEach((name, member) -> members.put(String.valueOf(name), new Fields(member)));
        }
        return members;
    }

    /** Returns the document with everything in it told. */
    @Nullable
    Object told() {
        return told(value, false);
    }

    /**
     * Returns a policy. Names of resources may hold placeholders; who is meant, what is done and under which condition must be told.
     */
    Object policy() {
        Object whole = value;
        if (!(whole instanceof Map<?, ?> policy)) {
            return told(whole, false);
        }
        Map<String, Object> out = new LinkedHashMap<>();
        policy.forEach((name, member) -> {
            if (name.equals("Statement")) {
                List<Object> statements = new ArrayList<>();
                new Fields(member).items().forEach(each -> statements.add(statement(each.raw())));
                out.put("Statement", statements);
            } else {
                out.put(String.valueOf(name), told(member, false));
            }
        });
        return out;
    }

    private static final Set<String> RESOURCES = Set.of("Resource", "NotResource");

    private static @Nullable Object statement(@Nullable Object statement) {
        if (!(statement instanceof Map<?, ?> map)) {
            return told(statement, false);
        }
        Map<String, Object> out = new LinkedHashMap<>();
        map.forEach((name, member) -> out.put(String.valueOf(name), told(member, RESOURCES.contains(name))));
        return out;
    }

    private static @Nullable Object told(@Nullable Object value, boolean maySayNames) {
        if (value instanceof Unknown unknown) {
            throw new NotTold(unknown.why());
        }
        if (value instanceof Partly partly) {
            if (maySayNames) {
                return partly.text();
            }
            throw new NotTold(partly.why());
        }
        if (value instanceof Map<?, ?> map) {
            Map<String, Object> out = new LinkedHashMap<>();
            map.forEach((name, member) -> out.put(String.valueOf(name), told(member, maySayNames)));
            return out;
        }
        if (value instanceof List<?> list) {
            List<Object> out = new ArrayList<>();
            list.forEach(item -> out.add(told(item, maySayNames)));
            return out;
        }
        return value;
    }
}
