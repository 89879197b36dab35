package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
import warden.core.document.Placeholders;
import warden.core.survey.Place;
import warden.gather.aws.template.Hcl.Attribute;
import warden.gather.aws.template.Hcl.Block;
import warden.gather.aws.template.Hcl.Body;
import warden.gather.aws.template.Hcl.Expression;

/**
 * A folder of sources, worked out as far as it tells. Source: the language's documentation, "Resources", "Modules", "Input variables", "Local values",
 * "Data sources", "The count meta-argument", "The for_each meta-argument", "dynamic blocks".
 */
final class HclModule {
    private static final Pattern OVERRIDE = Pattern.compile("(^|[/_\\\\])override\\.tf(\\.json)?$");
    private static final int DEEPEST = 8;
    private static final int MOST_INSTANCES = 10_000;
    private static final int MOST_STEPS = 2_000_000;
    private static final Set<String> META =
            Set.of("count", "for_each", "provider", "depends_on", "lifecycle", "provisioner", "connection");

    private final String folder;
    private final String address;
    private final Templates.Folders folders;
    private final Description all;
    private final TfNames names;
    private final Map<String, Object> inputs;
    private final int depth;
    private final Map<String, Expression> locals = new LinkedHashMap<>();
    private final Map<String, Block> variables = new LinkedHashMap<>();
    private final Map<String, Block> outputs = new LinkedHashMap<>();
    private final Map<String, Block> resources = new LinkedHashMap<>();
    private final Map<String, Block> data = new LinkedHashMap<>();
    private final Map<String, Block> calls = new LinkedHashMap<>();
    private final Map<String, Object> known = new LinkedHashMap<>();
    private final Set<String> underWay = new HashSet<>();
    private final Map<String, Object> modules = new LinkedHashMap<>();
    private int steps;

    /** One of a block's resources, or of a call's modules. */
    private record Instance(Block block, String address, Scope scope, Optional<Unknown> whether) {
        Instance(Block block, String address, Scope scope) {
            this(block, address, scope, Optional.empty());
        }
    }

    /** What stands for one resource in an expression. */
    private record Reference(HclModule module, Instance of, boolean isData) {}

    /** What a name stands for beside what the module declares. */
    private record Scope(Map<String, Object> names) {
        static final Scope NONE = new Scope(Map.of());

        Scope with(String name, @Nullable Object value) {
            Map<String, Object> more = new LinkedHashMap<>(names);
            more.put(name, value);
            return new Scope(more);
        }
    }

    HclModule(
            String folder,
            String address,
            Templates.Folders folders,
            Description all,
            Map<String, Object> inputs,
            int depth) {
        this.folder = folder;
        this.address = address;
        this.folders = folders;
        this.all = all;
        this.names = new TfNames(all);
        this.inputs = inputs;
        this.depth = depth;
    }

    /** Reads the folder's files. */
    HclModule load() throws TemplateException {
        Map<String, String> files = folders.sources(folder)
                .orElseThrow(() ->
                        new TemplateException(folder, "this folder holds no source that ends in .tf or .tf.json"));
        List<Block> overrides = new ArrayList<>();
        for (Map.Entry<String, String> file : files.entrySet()) {
            boolean isJson = file.getKey().endsWith(".json");
            Body body = isJson
                    ? HclJson.read(file.getKey(), file.getValue())
                    : HclReader.read(file.getKey(), file.getValue());
            if (OVERRIDE.matcher(file.getKey()).find()) {
                overrides.addAll(body.blocks());
                continue;
            }
            for (Block block : body.blocks()) {
                declare(block);
            }
        }
        for (Block block : overrides) {
            override(block);
        }
        return this;
    }

    /**
     * What an override file says of a block replaces what the block says. Source: the language's documentation, "Override Files".
     */
    private void override(Block over) throws TemplateException {
        String name = String.join(".", over.labels());
        Map<String, Block> blocks =
                switch (over.type()) {
                    case "variable" -> variables;
                    case "output" -> outputs;
                    case "module" -> calls;
                    case "resource" -> resources;
                    case "data" -> data;
                    default -> Map.of();
                };
        Block block = blocks.get(name);
        if (block == null) {
            declare(over);
            return;
        }
        over.body().attributes().forEach((attribute, value) -> {
            block.body().attributes().put(attribute, value);
            block.body().blocks().removeIf(inside -> inside.type().equals(attribute));
        });
        for (Block inside : over.body().blocks()) {
            block.body().blocks().removeIf(each -> each.type().equals(inside.type()));
            block.body().attributes().remove(inside.type());
        }
        block.body().blocks().addAll(over.body().blocks());
    }

    private void declare(Block block) throws TemplateException {
        List<String> labels = block.labels();
        switch (block.type()) {
            case "locals" -> block.body().attributes().forEach((name, value) -> locals.put(name, value.value()));
            case "variable" -> once(variables, labels.isEmpty() ? "" : labels.get(0), block);
            case "output" -> once(outputs, labels.isEmpty() ? "" : labels.get(0), block);
            case "module" -> once(calls, labels.isEmpty() ? "" : labels.get(0), block);
            case "resource", "data" -> {
                if (labels.size() != 2) {
                    throw new TemplateException(
                            block.file(), block.line(), 1, "a " + block.type() + " has a type and a name");
                }
                once(block.type().equals("data") ? data : resources, labels.get(0) + "." + labels.get(1), block);
            }
            default -> {}
        }
    }

    private static void once(Map<String, Block> blocks, String name, Block block) throws TemplateException {
        Block before = blocks.putIfAbsent(name, block);
        if (before != null) {
            throw new TemplateException(
                    block.file(),
                    block.line(),
                    1,
                    name + " is declared here, and at " + before.file() + ":" + before.line() + "; leave one");
        }
    }

    Set<String> variableNames() {
        return variables.keySet();
    }

    // --- what comes of it

    /** Returns the resources of this module and of those that it calls. */
    List<TfResource> resources() throws TemplateException {
        List<TfResource> found = new ArrayList<>();
        for (Map.Entry<String, Block> entry : resources.entrySet()) {
            for (Instance each : instances(entry.getValue(), prefix() + entry.getKey())) {
                Block block = each.block();
                found.add(new TfResource(
                        each.address(),
                        address,
                        block.labels().get(0),
                        new Fields(values(each)),
                        TfResource.Change.CREATED,
                        new Place(block.file(), block.line(), each.address())));
            }
        }
        for (String name : calls.keySet()) {
            for (HclModule each : called(name)) {
                found.addAll(each.resources());
            }
        }
        return found;
    }

    private String prefix() {
        return address.isEmpty() ? "" : address + ".";
    }

    private List<Instance> instances(Block block, String blockAddress) {
        Attribute count = block.body().attributes().get("count");
        Attribute each = block.body().attributes().get("for_each");
        if (count != null) {
            Object number = value(count.value(), Scope.NONE);
            String digits = number instanceof Long || number instanceof String ? String.valueOf(number) : "";
            if (!digits.matches("[0-9]{1,9}")) {
                return open(block, blockAddress, "how many there are");
            }
            long most = Long.parseLong(digits);
            if (most > MOST_INSTANCES) {
                return open(block, blockAddress, "what each of more than " + MOST_INSTANCES + " is");
            }
            List<Instance> all = new ArrayList<>();
            for (long i = 0; i < most; i++) {
                all.add(new Instance(
                        block, blockAddress + "[" + i + "]", Scope.NONE.with("count", Map.of("index", i))));
            }
            return all;
        }
        if (each != null) {
            Object of = value(each.value(), Scope.NONE);
            Map<String, Object> members = new LinkedHashMap<>();
            if (of instanceof Map<?, ?> map) {
                map.forEach((key, member) -> members.put(String.valueOf(key), member));
            } else if (of instanceof List<?> list && list.stream().noneMatch(item -> item instanceof Unknown)) {
                list.forEach(item -> members.put(String.valueOf(item), item));
            } else {
                return open(block, blockAddress, "for which keys there is one");
            }
            if (members.size() > MOST_INSTANCES) {
                return open(block, blockAddress, "what each of more than " + MOST_INSTANCES + " is");
            }
            List<Instance> all = new ArrayList<>();
            members.forEach((key, member) -> {
                Map<String, Object> own = new LinkedHashMap<>();
                own.put("key", key);
                own.put("value", member);
                all.add(new Instance(block, blockAddress + "[\"" + key + "\"]", Scope.NONE.with("each", own)));
            });
            return all;
        }
        return List.of(new Instance(block, blockAddress, Scope.NONE));
    }

    /** Where it is not told how many there are, there may be one, of which nothing is told. */
    private List<Instance> open(Block block, String blockAddress, String why) {
        all.note(blockAddress + ": " + why + " is not told, at " + block.file() + ":" + block.line());
        Unknown unknown = new Unknown(why, Placeholders.of(blockAddress));
        Map<String, Object> own = new LinkedHashMap<>();
        own.put("key", unknown);
        own.put("value", unknown);
        return List.of(new Instance(
                block,
                blockAddress,
                Scope.NONE.with("each", own).with("count", Map.of("index", unknown)),
                Optional.of(unknown)));
    }

    /** What a resource that may be there says is told of it for nothing but what it is about. */
    private static final Set<String> ABOUT =
            Set.of("bucket", "name", "path", "role", "user", "group", "roles", "users", "groups", "zone_id", "type");

    private Map<String, Object> values(Instance instance) {
        Map<String, Object> values = body(instance.block().body(), instance.scope(), instance.address());
        instance.whether().ifPresent(open -> values.replaceAll((name, value) -> ABOUT.contains(name) ? value : open));
        return values;
    }

    private Map<String, Object> body(Body body, Scope scope, String where) {
        Map<String, Object> out = new LinkedHashMap<>();
        body.attributes().forEach((name, attribute) -> {
            if (!META.contains(name)) {
                Object value = value(attribute.value(), scope);
                if (value != null) {
                    out.put(name, named(value, where));
                }
            }
        });
        for (Block block : body.blocks()) {
            if (META.contains(block.type())) {
                continue;
            }
            if (block.type().equals("dynamic")) {
                dynamic(block, scope, where, out);
            } else {
                add(out, block.type(), body(block.body(), scope, where));
            }
        }
        return out;
    }

    private static Object named(Object value, String where) {
        return value instanceof Unknown unknown ? unknown.named(where) : value;
    }

    private static void add(Map<String, Object> out, String type, @Nullable Object block) {
        Object before = out.get(type);
        List<Object> blocks = new ArrayList<>();
        if (before instanceof List<?> list) {
            blocks.addAll(list);
        }
        blocks.add(block);
        out.put(type, blocks);
    }

    private void dynamic(Block block, Scope scope, String where, Map<String, Object> out) {
        String type = block.labels().isEmpty() ? "" : block.labels().get(0);
        Attribute each = block.body().attributes().get("for_each");
        Attribute iterator = block.body().attributes().get("iterator");
        String name = iterator != null && iterator.value() instanceof Hcl.Name given ? given.name() : type;
        Optional<Block> content = block.body().blocks().stream()
                .filter(one -> one.type().equals("content"))
                .findFirst();
        Object of = each == null ? null : value(each.value(), scope);
        Map<Object, Object> members = new LinkedHashMap<>();
        if (of instanceof Map<?, ?> map) {
            members.putAll(map);
        } else if (of instanceof List<?> list) {
            for (int i = 0; i < list.size(); i++) {
                members.put((long) i, list.get(i));
            }
        } else if (of != null) {
            out.put(type, Unknown.of("for what the block " + type + " is repeated"));
            return;
        }
        content.ifPresent(inside -> members.forEach((key, member) -> {
            Map<String, Object> own = new LinkedHashMap<>();
            own.put("key", key);
            own.put("value", member);
            add(out, type, body(inside.body(), scope.with(name, own), where));
        }));
    }

    // --- modules

    private List<HclModule> called(String name) throws TemplateException {
        Object known = modules.get(name);
        if (known instanceof Map<?, ?> map) {
            return map.values().stream().map(HclModule.class::cast).toList();
        }
        Map<String, HclModule> made = new LinkedHashMap<>();
        modules.put(name, made);
        Block block = calls.get(name);
        Attribute source = block.body().attributes().get("source");
        Object from = source == null ? null : value(source.value(), Scope.NONE);
        boolean isLocal = from instanceof String path && (path.startsWith("./") || path.startsWith("../"));
        if (!isLocal || depth > DEEPEST) {
            all.note("the module " + name + " is not in this folder, and not read, at " + block.file() + ":"
                    + block.line());
            block.body().attributes().forEach((input, attribute) -> {
                if (!META.contains(input) && !input.equals("source") && !input.equals("version")) {
                    giveAway(value(attribute.value(), Scope.NONE));
                }
            });
            return List.of();
        }
        String path =
                java.nio.file.Path.of(folder).resolve((String) from).normalize().toString();
        for (Instance each : instances(block, prefix() + "module." + name)) {
            Map<String, Object> given = new LinkedHashMap<>();
            block.body().attributes().forEach((input, attribute) -> {
                if (!META.contains(input) && !input.equals("source") && !input.equals("version")) {
                    given.put(input, value(attribute.value(), each.scope()));
                }
            });
            made.put(each.address(), new HclModule(path, each.address(), folders, all, given, depth + 1).load());
        }
        return List.copyOf(made.values());
    }

    /** What a module is given that is not read, it may set something of. */
    private void giveAway(@Nullable Object value) {
        if (value instanceof Map<?, ?> map) {
            map.values().forEach(this::giveAway);
        } else if (value instanceof List<?> list) {
            list.forEach(this::giveAway);
        } else if (value instanceof Reference reference) {
            reference.module().values(reference.of()).values().forEach(this::giveAway);
            all.givesAway(Placeholders.of(reference.of().address()));
        } else {
            all.givesAway(value);
        }
    }

    private @Nullable Object outputsOf(String name) {
        try {
            if (!calls.containsKey(name)) {
                return Unknown.of("there is no module " + name);
            }
            List<HclModule> all = called(name);
            if (all.isEmpty()) {
                return Unknown.of("what the module " + name + " gives");
            }
            boolean isOne = all.size() == 1 && !all.get(0).address.endsWith("]");
            if (isOne) {
                return all.get(0).outputs();
            }
            Map<String, Object> byKey = new LinkedHashMap<>();
            all.forEach(each -> byKey.put(key(each.address), each.outputs()));
            return byKey;
        } catch (TemplateException broken) {
            all.note(String.valueOf(broken.getMessage()));
            return Unknown.of("what the module " + name + " gives");
        }
    }

    private static String key(String address) {
        return address.substring(address.lastIndexOf('[') + 1, address.length() - 1)
                .replace("\"", "");
    }

    private Map<String, Object> outputs() {
        Map<String, Object> all = new LinkedHashMap<>();
        outputs.forEach((name, block) -> {
            Attribute value = block.body().attributes().get("value");
            all.put(name, value == null ? null : guarded("output." + name, () -> value(value.value(), Scope.NONE)));
        });
        return all;
    }

    private @Nullable Object guarded(String what, java.util.function.Supplier<@Nullable Object> work) {
        if (known.containsKey(what)) {
            return known.get(what);
        }
        if (!underWay.add(what)) {
            all.note("the source refers to itself in a circle at " + prefix() + what);
            return Unknown.of(what + " refers to itself in a circle");
        }
        Object value = work.get();
        underWay.remove(what);
        known.put(what, value);
        return value;
    }

    // --- values

    private @Nullable Object value(Expression expression, Scope scope) {
        if (++steps > MOST_STEPS) {
            return Unknown.of("the source's expressions are too many");
        }
        if (expression instanceof Hcl.Literal literal) {
            return literal.value();
        }
        if (expression instanceof Hcl.Template template) {
            List<Object> parts = new ArrayList<>();
            template.parts()
                    .forEach(part -> parts.add(part instanceof Expression inner ? plain(value(inner, scope)) : part));
            // A text that is one expression alone keeps its kind.
            List<Object> said = parts.stream().filter(part -> !"".equals(part)).toList();
            return said.size() == 1 && template.parts().size() == 3 ? said.get(0) : HclFunctions.joined("", parts);
        }
        if (expression instanceof Hcl.Items items) {
            return items.items().stream()
                    .map(item -> value(item, scope))
                    .collect(ArrayList::new, ArrayList::add, ArrayList::addAll);
        }
        if (expression instanceof Hcl.Members members) {
            Map<String, Object> out = new LinkedHashMap<>();
            for (Hcl.Member member : members.members()) {
                Object name = plain(value(member.name(), scope));
                if (name instanceof Unknown open) {
                    return open;
                }
                out.put(
                        name instanceof Partly partly ? partly.text() : String.valueOf(name),
                        plain(value(member.value(), scope)));
            }
            return out;
        }
        if (expression instanceof Hcl.Call call) {
            return call(call, scope);
        }
        if (expression instanceof Hcl.Choice choice) {
            Object holds = value(choice.condition(), scope);
            if (holds instanceof Boolean flag) {
                return value(flag ? choice.yes() : choice.no(), scope);
            }
            Object yes = value(choice.yes(), scope);
            Object no = value(choice.no(), scope);
            return yes != null && yes.equals(no) && !(yes instanceof Unknown)
                    ? yes
                    : Unknown.of("it hangs on a condition that is not told");
        }
        if (expression instanceof Hcl.Unary unary) {
            Object of = value(unary.of(), scope);
            if (unary.operator().equals("!")) {
                return of instanceof Boolean flag ? (Object) !flag : Unknown.of("a condition that is not told");
            }
            return isOpen(of) ? Unknown.of("a number that is not told") : HclNumbers.calculated("-", 0L, of);
        }
        if (expression instanceof Hcl.Binary binary) {
            return binary(binary, scope);
        }
        if (expression instanceof Hcl.For loop) {
            return made(loop, scope);
        }
        if (expression instanceof Hcl.Splat splat) {
            Object of = value(splat.of(), scope);
            List<?> items = of instanceof List<?> list
                    ? list
                    : of instanceof Map<?, ?> map && isKeyed(map)
                            ? List.copyOf(map.values())
                            : of == null ? List.of() : List.of(of);
            if (of instanceof Unknown open) {
                return open;
            }
            List<Object> out = new ArrayList<>();
            for (Object item : items) {
                Object here = item;
                for (Object step : splat.steps()) {
                    here = step instanceof String name
                            ? attribute(here, name)
                            : at(here, value((Expression) step, scope));
                }
                out.add(plain(here));
            }
            return out;
        }
        if (expression instanceof Hcl.Index index) {
            return at(value(index.of(), scope), value(index.at(), scope));
        }
        if (expression instanceof Hcl.Attr attr) {
            return traversed(attr, scope);
        }
        return expression instanceof Hcl.Name name ? name(name.name(), scope) : null;
    }

    private static boolean isKeyed(Map<?, ?> map) {
        return map.values().stream().allMatch(each -> each instanceof Reference);
    }

    private @Nullable Object name(String name, Scope scope) {
        return scope.names().containsKey(name) ? scope.names().get(name) : Unknown.of("what " + name + " stands for");
    }

    /** Follows a name and its first steps: variables, locals, modules, data and resources are no values by themselves. */
    private @Nullable Object traversed(Hcl.Attr attr, Scope scope) {
        if (attr.of() instanceof Hcl.Name root && !scope.names().containsKey(root.name())) {
            switch (root.name()) {
                case "var" -> {
                    return guarded("var." + attr.name(), () -> variable(attr.name()));
                }
                case "local" -> {
                    Expression local = locals.get(attr.name());
                    return local == null
                            ? Unknown.of("there is no local " + attr.name())
                            : guarded("local." + attr.name(), () -> value(local, Scope.NONE));
                }
                case "module" -> {
                    return guarded("module." + attr.name(), () -> outputsOf(attr.name()));
                }
                case "path" -> {
                    return attr.name().equals("module") || attr.name().equals("root") && address.isEmpty()
                            ? "."
                            : Unknown.of("a path");
                }
                case "terraform" -> {
                    return Unknown.of("which workspace it is");
                }
                default -> {
                    String block = root.name() + "." + attr.name();
                    if (resources.containsKey(block)) {
                        return guarded("resource " + block, () -> references(resources.get(block), block, false));
                    }
                    return Unknown.of("there is no " + block);
                }
            }
        }
        boolean isData = attr.of() instanceof Hcl.Attr type
                && type.of() instanceof Hcl.Name root
                && root.name().equals("data")
                && !scope.names().containsKey("data");
        if (isData) {
            String block = ((Hcl.Attr) attr.of()).name() + "." + attr.name();
            return data.containsKey(block)
                    ? guarded("data " + block, () -> references(data.get(block), block, true))
                    : Unknown.of("there is no data." + block);
        }
        return attribute(value(attr.of(), scope), attr.name());
    }

    private Object references(Block block, String name, boolean isData) {
        List<Instance> instances = instances(block, prefix() + (isData ? "data." : "") + name);
        if (instances.size() == 1 && !instances.get(0).address().endsWith("]")) {
            return new Reference(this, instances.get(0), isData);
        }
        boolean byKey = block.body().attributes().containsKey("for_each");
        if (byKey) {
            Map<String, Object> all = new LinkedHashMap<>();
            instances.forEach(each -> all.put(key(each.address()), new Reference(this, each, isData)));
            return all;
        }
        List<Object> all = new ArrayList<>();
        instances.forEach(each -> all.add(new Reference(this, each, isData)));
        return all;
    }

    private @Nullable Object variable(String name) {
        if (inputs.containsKey(name)) {
            return inputs.get(name);
        }
        Block block = variables.get(name);
        Attribute usual = block == null ? null : block.body().attributes().get("default");
        if (usual != null) {
            return value(usual.value(), Scope.NONE);
        }
        if (block == null) {
            return new Unknown("there is no variable " + name, Placeholders.of("var." + name), true);
        }
        all.note("the variable " + name + " has no value here; give one with --parameters");
        return new Unknown("the variable " + name + " has no value", Placeholders.of("var." + name));
    }

    private @Nullable Object at(@Nullable Object of, @Nullable Object key) {
        if (of instanceof Unknown open) {
            return open;
        }
        if (key instanceof Unknown open) {
            return open;
        }
        if (of instanceof List<?> list) {
            String index = String.valueOf(key);
            return index.matches("[0-9]{1,6}") && Integer.parseInt(index) < list.size()
                    ? list.get(Integer.parseInt(index))
                    : Unknown.error("a list has no item " + index);
        }
        if (of instanceof Map<?, ?> map) {
            String name = String.valueOf(key);
            return map.containsKey(name)
                    ? map.get(name)
                    : Cuts.isOpen(name)
                            ? Unknown.of("a value whose key is not told")
                            : Unknown.error("there is no " + name);
        }
        // A resource without count may still be asked for its first.
        return of instanceof Reference ? of : Unknown.error("an item of what is no list");
    }

    private @Nullable Object attribute(@Nullable Object of, String name) {
        if (of instanceof Unknown open) {
            return open;
        }
        if (of instanceof Map<?, ?> map) {
            return map.containsKey(name) ? map.get(name) : Unknown.error("there is no " + name);
        }
        if (of instanceof Reference reference) {
            return reference.module().attributeOf(reference, name);
        }
        if (of instanceof List<?> list && list.size() == 1) {
            return attribute(list.get(0), name);
        }
        return Unknown.error("the attribute " + name + " of what has none");
    }

    private @Nullable Object attributeOf(Reference reference, String name) {
        Instance of = reference.of();
        String type = of.block().labels().get(0);
        if (reference.isData()) {
            return ofData(of, type, name);
        }
        Function<String, @Nullable Object> own = attribute -> {
            Attribute given = of.block().body().attributes().get(attribute);
            return given == null
                    ? null
                    : guarded(of.address() + "." + attribute, () -> value(given.value(), of.scope()));
        };
        Object told = own.apply(name);
        if (told != null && !(told instanceof Unknown)) {
            return told;
        }
        Optional<String> known = names.attribute(
                type,
                of.address(),
                attribute -> {
                    Object value = own.apply(attribute);
                    return value instanceof String text
                            ? Optional.of(text)
                            : value instanceof Partly partly ? Optional.of(partly.text()) : Optional.empty();
                },
                name);
        if (known.isPresent()) {
            return known.get();
        }
        return new Unknown(
                of.address() + "." + name + " is known only after the apply",
                Placeholders.of(of.address() + "." + name));
    }

    private @Nullable Object ofData(Instance of, String type, String name) {
        // It may ask for itself.
        Object known = guarded("the arguments of " + of.address(), () -> values(of));
        if (!(known instanceof Map<?, ?> arguments)) {
            return known;
        }
        Fields given = new Fields(arguments);
        return switch (type + " " + name) {
            case "aws_caller_identity account_id" -> all.account();
            case "aws_region name", "aws_region id", "aws_region region" -> all.region();
            case "aws_partition partition" -> "aws";
            case "aws_partition dns_suffix" -> "amazonaws.com";
            case "aws_iam_policy_document json", "aws_iam_policy_document minified_json" ->
                new HclFunctions.Encoded(HclPolicy.document(given));
            case "aws_route53_zone zone_id", "aws_route53_zone id" ->
                given.name("name")
                        .map(all::zoneNamed)
                        .map(Object.class::cast)
                        .orElseGet(() -> Unknown.of("which zone it is"));
            case "aws_s3_bucket id",
                    "aws_s3_bucket bucket",
                    "aws_s3_bucket arn",
                    "aws_s3_bucket bucket_domain_name",
                    "aws_s3_bucket bucket_regional_domain_name" ->
                names.attribute(type, of.address(), given::name, name)
                        .map(Object.class::cast)
                        .orElseGet(() -> Unknown.of("which bucket it is"));
            case "aws_iam_role id" -> argument(given, of, "name");
            default -> argument(given, of, name);
        };
    }

    /** What is asked for by its name has that name. */
    private static @Nullable Object argument(Fields given, Instance of, String name) {
        return given.at(name).raw() instanceof String told
                ? told
                : new Unknown(
                        "what the account says of data." + of.block().labels().get(0),
                        Placeholders.of(of.address() + "." + name));
    }

    /** A resource by itself is no value. */
    private static @Nullable Object plain(@Nullable Object value) {
        return value instanceof Reference reference
                ? Unknown.of("the whole of " + reference.of().address())
                : value;
    }

    private @Nullable Object binary(Hcl.Binary binary, Scope scope) {
        Object left = value(binary.left(), scope);
        // What the left side decides needs no right side.
        if (binary.operator().equals("||") && Boolean.TRUE.equals(left)) {
            return true;
        }
        if (binary.operator().equals("&&") && Boolean.FALSE.equals(left)) {
            return false;
        }
        Object right = value(binary.right(), scope);
        return switch (binary.operator()) {
            case "==" -> HclNumbers.truth(HclNumbers.areEqual(left, right));
            case "!=" -> HclNumbers.truth(HclNumbers.areEqual(left, right).map(same -> !same));
            case "&&", "||" ->
                !isOpen(left) && right instanceof Boolean ? right : Unknown.of("a condition that is not told");
            default ->
                isOpen(left) || isOpen(right)
                        ? Unknown.of("a number that is not told")
                        : HclNumbers.calculated(binary.operator(), left, right);
        };
    }

    private static boolean isOpen(@Nullable Object value) {
        return value instanceof Reference || HclNumbers.isOpen(value);
    }

    private @Nullable Object made(Hcl.For loop, Scope scope) {
        Object of = value(loop.of(), scope);
        Map<Object, Object> members = new LinkedHashMap<>();
        if (of instanceof Map<?, ?> map) {
            members.putAll(map);
        } else if (of instanceof List<?> list) {
            for (int i = 0; i < list.size(); i++) {
                members.put((long) i, list.get(i));
            }
        } else {
            return Unknown.of("over what it is made");
        }
        List<Object> items = new ArrayList<>();
        Map<String, Object> out = new LinkedHashMap<>();
        for (Map.Entry<Object, Object> member : members.entrySet()) {
            Scope inner = scope.with(loop.value(), member.getValue());
            inner = loop.key() == null ? inner : inner.with(loop.key(), member.getKey());
            if (loop.only() != null) {
                Object wanted = value(loop.only(), inner);
                if (!(wanted instanceof Boolean flag)) {
                    return Unknown.of("which are taken");
                }
                if (!flag) {
                    continue;
                }
            }
            Object result = plain(value(loop.result(), inner));
            if (loop.name() == null) {
                items.add(result);
                continue;
            }
            Object name = plain(value(loop.name(), inner));
            if (isOpen(name)) {
                return Unknown.of("how the members are called");
            }
            if (loop.groups()) {
                add(out, String.valueOf(name), result);
            } else {
                out.put(String.valueOf(name), result);
            }
        }
        return loop.name() == null ? items : out;
    }

    private @Nullable Object call(Hcl.Call call, Scope scope) {
        List<Object> arguments = new ArrayList<>();
        if (call.function().equals("try") || call.function().equals("can")) {
            for (Expression each : call.arguments()) {
                Object value = value(each, scope);
                if (!(value instanceof Unknown open) || !open.isError()) {
                    // What only is not known here may well be there: the ones behind it do not count.
                    return call.function().equals("try") || value instanceof Unknown ? value : (Object) true;
                }
                if (call.function().equals("can")) {
                    return false;
                }
                arguments.add(value);
            }
            return arguments.isEmpty() ? null : arguments.get(0);
        }
        for (int i = 0; i < call.arguments().size(); i++) {
            Object value = plain(value(call.arguments().get(i), scope));
            if (call.spreads() && i == call.arguments().size() - 1 && value instanceof List<?> list) {
                arguments.addAll(list);
            } else {
                arguments.add(value);
            }
        }
        if (call.function().equals("file") || call.function().equals("templatefile")) {
            return file(call.function(), arguments);
        }
        boolean keepsOpen = Set.of("jsonencode", "merge", "concat", "join", "toset", "tolist", "flatten", "lookup")
                .contains(call.function());
        for (Object argument : arguments) {
            if (argument instanceof Unknown open
                    && !call.function().equals("jsonencode")
                    && !call.function().equals("coalesce")) {
                return open;
            }
            if (argument instanceof Partly open && !keepsOpen) {
                return Unknown.of(open.why());
            }
        }
        return HclFunctions.call(call.function(), arguments);
    }

    private @Nullable Object file(String function, List<Object> arguments) {
        if (arguments.isEmpty() || !(arguments.get(0) instanceof String name)) {
            return Unknown.of("a file whose name is not told");
        }
        Optional<String> text = folders.file(folder, name);
        if (text.isEmpty()) {
            return Unknown.of("the file " + name + ", which does not lie here");
        }
        if (function.equals("file")) {
            return text.get();
        }
        Scope scope = Scope.NONE;
        if (arguments.size() > 1 && arguments.get(1) instanceof Map<?, ?> values) {
            for (Map.Entry<?, ?> value : values.entrySet()) {
                scope = scope.with(String.valueOf(value.getKey()), value.getValue());
            }
        }
        try {
            return value(HclReader.template(name, text.get()), scope);
        } catch (TemplateException broken) {
            all.note(String.valueOf(broken.getMessage()));
            return Unknown.of("what the file " + name + " gives");
        }
    }

    /** Returns the value of an expression that stands in a file of values, where nothing else is known. */
    static @Nullable Object constant(Expression expression, Description all) {
        return new HclModule(
                        ".",
                        "",
                        new Templates.Folders() {
                            @Override
                            public Optional<Map<String, String>> sources(String folder) {
                                return Optional.empty();
                            }

                            @Override
                            public Optional<String> file(String folder, String name) {
                                return Optional.empty();
                            }
                        },
                        all,
                        Map.of(),
                        0)
                .value(expression, Scope.NONE);
    }

    /** Returns a document's text, with names in the place of what identifies things. */
    static String spelled(HclFunctions.Encoded encoded) {
        return Json.text(new Fields(encoded.value()).policy());
    }
}
