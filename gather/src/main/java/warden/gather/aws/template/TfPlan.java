package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.Placeholders;
import warden.core.survey.Place;

/**
 * Reads a plan, or a state, as the tool prints it as JSON; and a state file. Source: the language's documentation, "JSON Output Format" (format
 * version 1), "State: state file".
 */
final class TfPlan {
    private static final String AFTER = "it is known only after the apply";
    private static final String SENSITIVE = "it is marked as sensitive";
    private static final int MOST_HOPS = 20;
    private static final Pattern IN_CHANGE = Pattern.compile("/[0-9]+/change");
    private static final JsonPart NOTHING = JsonReader.read("{}").root().orElseThrow();

    private final String file;
    private final Map<String, Integer> lines;
    private final Map<String, String> members;
    private final List<TfResource> resources = new ArrayList<>();
    /** What an attribute's expression refers to, by the block's address and the attribute's name. */
    private final Map<String, List<String>> references = new HashMap<>();

    private TfPlan(String file, String text, Map<String, String> members) {
        this.file = file;
        this.members = members;
        this.lines = lines(text);
    }

    /**
     * Reads one member of the whole: a large plan's parts are read one after the other, so that they need not all be held at once. What a change says
     * of the values after it stands in the planned values too.
     */
    private Optional<JsonPart> part(String member) throws TemplateException {
        String part = members.get(member);
        if (part == null) {
            return Optional.empty();
        }
        JsonReader.Result read = JsonReader.read(
                part,
                (of, name) ->
                        name.equals("after") && IN_CHANGE.matcher(of.toString()).matches());
        return Optional.of(read.root()
                .orElseThrow(() -> new TemplateException(
                        file,
                        "its member " + member + " " + read.problems().get(0).says() + "; make the plan again")));
    }

    private List<JsonPart> items(String member) throws TemplateException {
        return part(member).orElse(null) instanceof JsonPart.JsonArray list ? list.items() : List.of();
    }

    /**
     * True for the JSON of a plan, a state or a state file.
     *
     * @param members the text of each member
     */
    static boolean isOne(Map<String, String> members) {
        return members.containsKey("planned_values")
                || members.containsKey("format_version")
                || members.containsKey("terraform_version") && members.containsKey("resources");
    }

    /**
     * Reads a plan or a state.
     *
     * @param members the text of each member
     * @throws TemplateException for a version of the format that is not known
     */
    static List<TfResource> read(String file, String text, Map<String, String> members, Description all)
            throws TemplateException {
        TfPlan plan = new TfPlan(file, text, members);
        Optional<String> format = plan.part("format_version").flatMap(JsonPart::scalar);
        if (format.isPresent()
                && !format.get().startsWith("1.")
                && !format.get().startsWith("0.")) {
            throw new TemplateException(
                    file, "the plan has format version " + format.get() + "; this program reads version 1");
        }
        if (members.containsKey("planned_values")) {
            plan.references();
            plan.planned();
        } else if (members.containsKey("values")) {
            plan.part("values")
                    .flatMap(values -> values.find("root_module"))
                    .ifPresent(module -> plan.module(module, Map.of()));
        } else {
            plan.stateFile(plan.part("version").flatMap(JsonPart::scalar).orElse(""));
        }
        return new TfReferences(plan.resources, plan.references, all).resolved();
    }

    // --- a plan

    /** What the plan says of a resource beside its values. */
    private record Change(TfResource.Change kind, JsonPart unknown, JsonPart sensitive) {}

    private void planned() throws TemplateException {
        Map<String, Change> changes = new HashMap<>();
        for (JsonPart each : items("resource_changes")) {
            String address = each.text("address").orElse("");
            JsonPart change = each.find("change").orElse(each);
            List<String> actions = change.texts("actions");
            boolean deletes = actions.contains("delete") && !actions.contains("create");
            TfResource.Change kind = deletes
                    ? TfResource.Change.DELETED
                    : actions.contains("create") ? TfResource.Change.CREATED : TfResource.Change.KEPT;
            changes.put(
                    address,
                    new Change(
                            kind,
                            change.find("after_unknown").orElse(NOTHING),
                            change.find("after_sensitive").orElse(NOTHING)));
            Object before = change.find("before").map(TfPlan::plain).orElse(Map.of());
            boolean moves = actions.contains("delete")
                    && isOfAnother(
                            before, change.find("after").map(TfPlan::plain).orElse(Map.of()));
            if (deletes || moves) {
                resources.add(new TfResource(
                        address,
                        each.text("module_address").orElse(""),
                        each.text("type").orElse(""),
                        new Fields(before),
                        TfResource.Change.DELETED,
                        place(address)));
            }
        }
        part("planned_values")
                .flatMap(values -> values.find("root_module"))
                .ifPresent(module -> module(module, changes));
    }

    /** What a resource is called, or is about. */
    private static final List<String> ABOUT = List.of(
            "bucket",
            "name",
            "role",
            "roles",
            "user",
            "users",
            "group",
            "groups",
            "policy_arn",
            "zone_id",
            "type",
            "set_identifier");

    /** True where what takes the place of a resource is not what was there, so that this is taken away. */
    private static boolean isOfAnother(@Nullable Object before, @Nullable Object after) {
        return before instanceof Map<?, ?> was
                && after instanceof Map<?, ?> becomes
                && ABOUT.stream()
                        .anyMatch(
                                name -> was.containsKey(name) && !was.get(name).equals(becomes.get(name)));
    }

    private void module(JsonPart module, Map<String, Change> changes) {
        for (JsonPart each : module.list("resources")) {
            if (each.text("mode").filter("data"::equals).isPresent()) {
                continue;
            }
            String address = each.text("address").orElse("");
            Change change = changes.get(address);
            Object values = each.find("values").map(TfPlan::plain).orElse(Map.of());
            JsonPart sensitive = each.find("sensitive_values").orElse(change == null ? NOTHING : change.sensitive());
            Object told = change == null ? values : merged(values, change.unknown(), AFTER, address);
            resources.add(new TfResource(
                    address,
                    module.text("address").orElse(""),
                    each.text("type").orElse(""),
                    new Fields(merged(told, sensitive, SENSITIVE, address)),
                    change == null ? TfResource.Change.KEPT : change.kind(),
                    place(address)));
        }
        module.list("child_modules").forEach(child -> module(child, changes));
    }

    /** Puts what is not told in the place of values, as the second tree marks it. */
    private static @Nullable Object merged(@Nullable Object value, JsonPart marks, String why, String address) {
        if (marks instanceof JsonPart.JsonObject object && object.members().isEmpty()) {
            return value;
        }
        if (marks instanceof JsonPart.JsonTruth truth) {
            return truth.value() ? new Unknown(why, Placeholders.of(address)) : value;
        }
        if (marks instanceof JsonPart.JsonObject object) {
            Map<String, Object> out = new LinkedHashMap<>();
            if (value instanceof Map<?, ?> map) {
                map.forEach((name, member) -> out.put(String.valueOf(name), member));
            }
            object.members().forEach((name, mark) -> {
                Object member = merged(out.get(name), mark, why, address);
                if (member != null) {
                    out.put(name, member);
                }
            });
            return value instanceof Map<?, ?> || !out.isEmpty() ? out : value;
        }
        if (marks instanceof JsonPart.JsonArray array && !array.items().isEmpty()) {
            List<Object> out = new ArrayList<>();
            List<?> items = value instanceof List<?> list ? list : List.of();
            for (int i = 0; i < Math.max(items.size(), array.items().size()); i++) {
                Object item = i < items.size() ? items.get(i) : null;
                out.add(i < array.items().size() ? merged(item, array.items().get(i), why, address) : item);
            }
            return out;
        }
        return value;
    }

    static @Nullable Object plain(JsonPart part) {
        if (part instanceof JsonPart.JsonObject object) {
            Map<String, Object> out = new LinkedHashMap<>();
            object.members().forEach((name, member) -> {
                Object value = plain(member);
                if (value != null) {
                    out.put(name, value);
                }
            });
            return out;
        }
        if (part instanceof JsonPart.JsonArray array) {
            List<Object> out = new ArrayList<>();
            array.items().forEach(item -> out.add(plain(item)));
            return out;
        }
        if (part instanceof JsonPart.JsonText literal) {
            return literal.value();
        }
        if (part instanceof JsonPart.JsonTruth truth) {
            return truth.value();
        }
        return part instanceof JsonPart.JsonNumber number ? Shapes.number(number.literal()) : null;
    }

    // --- a state file

    private void stateFile(String version) throws TemplateException {
        if (!version.equals("4")) {
            throw new TemplateException(
                    file,
                    "the state file has version " + version
                            + "; this program reads version 4 and the output of show -json");
        }
        for (JsonPart each : items("resources")) {
            if (each.text("mode").filter("data"::equals).isPresent()) {
                continue;
            }
            String module = each.text("module").orElse("");
            String block = (module.isEmpty() ? "" : module + ".")
                    + each.text("type").orElse("") + "." + each.text("name").orElse("");
            for (JsonPart instance : each.list("instances")) {
                String key = instance.find("index_key")
                        .map(index -> index instanceof JsonPart.JsonText literal
                                ? "[\"" + literal.value() + "\"]"
                                : "[" + index.scalar().orElse("0") + "]")
                        .orElse("");
                Map<String, Object> values = new LinkedHashMap<>();
                if (instance.find("attributes").map(TfPlan::plain).orElse(null) instanceof Map<?, ?> map) {
                    map.forEach((name, member) -> values.put(String.valueOf(name), member));
                }
                instance.list("sensitive_attributes").forEach(path -> path.list().stream()
                        .findFirst()
                        .flatMap(step -> step.text("value"))
                        .ifPresent(name -> values.put(name, new Unknown(SENSITIVE, Placeholders.of(block)))));
                resources.add(new TfResource(
                        block + key,
                        module,
                        each.text("type").orElse(""),
                        new Fields(values),
                        TfResource.Change.KEPT,
                        place(block)));
            }
        }
    }

    // --- places

    /** The length is bounded, since each character takes a place on the stack; a text that is longer is no address. */
    private static final Pattern ADDRESS =
            Pattern.compile("\"(?:address|name)\"\\s*:\\s*\"((?:[^\"\\\\]|\\\\.){0,500})\"");

    /** Finds where each address stands first, going once through the text; in a file of one line that is its first. */
    private static Map<String, Integer> lines(String text) {
        Map<String, Integer> lines = new HashMap<>();
        if (text.indexOf('\n') < 0 || text.indexOf('\n') == text.length() - 1) {
            return lines;
        }
        Matcher matcher = ADDRESS.matcher(text);
        int line = 1;
        int counted = 0;
        while (matcher.find()) {
            for (; counted < matcher.start(); counted++) {
                line += text.charAt(counted) == '\n' ? 1 : 0;
            }
            lines.putIfAbsent(matcher.group(1).replace("\\\"", "\""), line);
        }
        return lines;
    }

    private Place place(String address) {
        String last = address.substring(address.lastIndexOf('.') + 1);
        return new Place(file, lines.getOrDefault(address, lines.getOrDefault(last, 1)), address);
    }

    // --- what expressions refer to

    private void references() throws TemplateException {
        part("configuration").flatMap(all -> all.find("root_module")).ifPresent(module -> references("", module, 0));
    }

    private void references(String address, JsonPart module, int depth) {
        if (depth > MOST_HOPS) {
            return;
        }
        String prefix = address.isEmpty() ? "" : address + ".";
        for (JsonPart each : module.list("resources")) {
            String block = prefix + each.text("address").orElse("");
            each.find("expressions").ifPresent(all -> expressions(block, all, prefix));
        }
        if (module.find("outputs").orElse(null) instanceof JsonPart.JsonObject outputs) {
            outputs.members().forEach((name, output) -> output.find("expression")
                    .ifPresent(expression -> put(address + " output." + name, expression, prefix)));
        }
        if (module.find("module_calls").orElse(null) instanceof JsonPart.JsonObject calls) {
            calls.members().forEach((name, call) -> {
                String child = prefix + "module." + name;
                if (call.find("expressions").orElse(null) instanceof JsonPart.JsonObject inputs) {
                    inputs.members().forEach((input, expression) -> put(child + " var." + input, expression, prefix));
                }
                call.find("module").ifPresent(inside -> references(child, inside, depth + 1));
            });
        }
    }

    private void expressions(String block, JsonPart all, String prefix) {
        if (all instanceof JsonPart.JsonObject object) {
            object.members().forEach((name, expression) -> {
                put(block + " " + name, expression, prefix);
                if (expression instanceof JsonPart.JsonArray array) {
                    array.items().forEach(item -> nested(block + " " + name, item, prefix, 0));
                } else {
                    nested(block + " " + name, expression, prefix, 0);
                }
            });
        }
    }

    private void nested(String path, JsonPart item, String prefix, int depth) {
        if (depth < 6
                && item instanceof JsonPart.JsonObject object
                && object.members().get("references") == null) {
            object.members().forEach((name, expression) -> {
                put(path + "." + name, expression, prefix);
                if (expression instanceof JsonPart.JsonArray array) {
                    array.items().forEach(each -> nested(path + "." + name, each, prefix, depth + 1));
                }
            });
        }
    }

    private void put(String what, JsonPart expression, String prefix) {
        List<String> refers = expression.texts("references");
        if (!refers.isEmpty()) {
            Set<String> all = new HashSet<>();
            List<String> own = new ArrayList<>();
            refers.forEach(each -> {
                if (all.add(each)) {
                    own.add(prefix + each);
                }
            });
            references.putIfAbsent(what, own);
        }
    }
}
