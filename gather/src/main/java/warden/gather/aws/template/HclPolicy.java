package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import warden.core.document.JsonReader;

/** The policy that a block of statements makes. Source: the provider's documentation, data source {@code aws_iam_policy_document}. */
final class HclPolicy {
    private HclPolicy() {}

    /** Returns the document, in which what is not told stays so. */
    static Object document(Fields of) {
        for (String other :
                List.of("source_policy_documents", "override_policy_documents", "source_json", "override_json")) {
            if (of.at(other).isThere()) {
                return new Unknown("what another document adds to the policy", "{policy}");
            }
        }
        List<Object> statements = new ArrayList<>();
        Fields blocks = of.at("statement");
        if (blocks.isUnknown()) {
            return new Unknown("which statements the policy has", "{policy}");
        }
        blocks.items().forEach(each -> statements.add(statement(each)));
        Map<String, Object> out = new LinkedHashMap<>();
        out.put("Version", of.at("version").raw() instanceof String version ? version : "2012-10-17");
        out.put("Statement", statements);
        return out;
    }

    private static Object statement(Fields of) {
        Map<String, Object> out = new LinkedHashMap<>();
        put(out, "Sid", of.at("sid").raw());
        out.put("Effect", of.at("effect").isThere() ? of.at("effect").raw() : "Allow");
        put(out, "Action", of.at("actions").raw());
        put(out, "NotAction", of.at("not_actions").raw());
        put(out, "Resource", of.at("resources").raw());
        put(out, "NotResource", of.at("not_resources").raw());
        put(out, "Principal", principals(of.at("principals")));
        put(out, "NotPrincipal", principals(of.at("not_principals")));
        put(out, "Condition", conditions(of.at("condition")));
        return out;
    }

    private static void put(Map<String, Object> out, String name, @Nullable Object value) {
        if (value != null && !"".equals(value)) {
            out.put(name, value);
        }
    }

    private static @Nullable Object principals(Fields of) {
        if (of.isUnknown() || !of.isThere()) {
            return of.raw();
        }
        Map<String, Object> byType = new LinkedHashMap<>();
        for (Fields each : of.items()) {
            Object type = each.at("type").raw();
            Object named = each.at("identifiers").raw();
            if (!(type instanceof String kind)) {
                return new Unknown("who is meant", "{principal}");
            }
            boolean isEverybody = named instanceof List<?> list && list.contains("*");
            if (kind.equals("*") && isEverybody) {
                return "*";
            }
            List<Object> all = new ArrayList<>();
            if (byType.get(kind) instanceof List<?> before) {
                all.addAll(before);
            }
            if (named instanceof List<?> list) {
                all.addAll(list);
            } else {
                all.add(named);
            }
            byType.put(kind, all);
        }
        return byType;
    }

    private static @Nullable Object conditions(Fields of) {
        if (of.isUnknown() || !of.isThere()) {
            return of.raw();
        }
        Map<String, Object> byTest = new LinkedHashMap<>();
        for (Fields each : of.items()) {
            if (!(each.at("test").raw() instanceof String test)
                    || !(each.at("variable").raw() instanceof String key)) {
                return new Unknown("under which condition", "{condition}");
            }
            Map<String, Object> keys = new LinkedHashMap<>();
            if (byTest.get(test) instanceof Map<?, ?> before) {
                before.forEach((name, value) -> keys.put(String.valueOf(name), value));
            }
            keys.put(key, each.at("values").raw());
            byTest.put(test, keys);
        }
        return byTest;
    }

    /** Returns a policy's text; what stands in it as text is told whole, or not at all. */
    static String text(Fields of, String attribute) {
        if (of.at(attribute).raw() instanceof HclFunctions.Encoded encoded) {
            return HclModule.spelled(encoded);
        }
        return of.text(attribute).orElseThrow(() -> new NotTold("its policy"));
    }

    /** Returns a policy as a document, all of it told that has to be. */
    static Object told(Fields of, String attribute) {
        Object raw = of.at(attribute).raw();
        if (raw instanceof HclFunctions.Encoded encoded) {
            return new Fields(encoded.value()).policy();
        }
        if (raw instanceof Map<?, ?>) {
            return of.at(attribute).policy();
        }
        String text = text(of, attribute);
        return JsonReader.read(text)
                .root()
                .map(Object.class::cast)
                .orElseThrow(() -> new NotTold("its policy, which is no JSON"));
    }
}
