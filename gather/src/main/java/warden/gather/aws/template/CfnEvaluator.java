package warden.gather.aws.template;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
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
import warden.core.document.Json;
import warden.core.document.Placeholders;

/**
 * Works out what a template's expressions come to, as far as the template tells. Source: CloudFormation User Guide, "Intrinsic function reference",
 * "Condition functions", "Pseudo parameters reference", "Return values" of each resource type.
 */
final class CfnEvaluator {
    /** Leaves out the member that it stands in. */
    private static final Object NO_VALUE = new Object();

    /** An attribute of a resource, in the place of its value. */
    private static final Pattern ATTRIBUTE = Pattern.compile("\\{[^}]*\\.[^}]*}");

    private static final Pattern VARIABLE = Pattern.compile("\\$\\{(!?)([^}]*)}");
    private static final int MOST_STEPS = 2_000_000;

    private final CfnNode root;
    private final Map<String, Object> parameters = new LinkedHashMap<>();
    private final Map<String, String> types = new HashMap<>();
    private final Map<String, Optional<Boolean>> conditions = new HashMap<>();
    private final Set<String> underWay = new HashSet<>();
    private final Description all;
    private final CfnLoops loops = new CfnLoops(this::value);
    private final Map<String, Map<String, CfnNode>> sections = new HashMap<>();
    private int steps;

    /** Names of resources, by what they refer to. */
    interface Names {
        /** Returns what {@code Ref} gives; absent where it is the placeholder. */
        Optional<Object> ref(String id, String type, CfnNode properties);

        /** Returns an attribute; absent where it is the placeholder. */
        Optional<Object> attribute(String id, String type, String name, CfnNode properties);
    }

    private final Names names;

    CfnEvaluator(CfnNode root, Map<String, Object> given, Description all, Names names) {
        this.root = root;
        this.all = all;
        this.names = names;
        // What a loop goes over may be a parameter.
        section("Parameters").forEach((name, parameter) -> parameters.put(name, parameter(name, parameter, given)));
        section("Resources").forEach((id, resource) -> {
            CfnNode type = resource.get("Type");
            types.put(id, type != null && type.scalar() instanceof String text ? text : "");
        });
    }

    /** Returns a resource's type; empty where it is not told. */
    String typeOf(String id) {
        return types.getOrDefault(id, "");
    }

    Set<String> parameterNames() {
        return section("Parameters").keySet();
    }

    /** Returns a section's members, its loops written out; none where it is missing. */
    Map<String, CfnNode> section(String name) {
        Map<String, CfnNode> known = sections.get(name);
        if (known == null) {
            CfnNode section = root.get(name);
            known = section == null || section.members() == null ? Map.of() : section.members();
            // A loop may go over what names parts of the section itself.
            sections.put(name, known);
            known = loops.writtenOut(known);
            sections.put(name, known);
        }
        return known;
    }

    private Object parameter(String name, CfnNode parameter, Map<String, Object> given) {
        CfnNode typeNode = parameter.get("Type");
        String type = typeNode != null && typeNode.scalar() instanceof String text ? text : "String";
        Object value = given.get(name);
        CfnNode usual = parameter.get("Default");
        if (value == null && usual != null && usual.scalar() != null && !type.startsWith("AWS::SSM::")) {
            value = String.valueOf(usual.scalar());
        }
        if (value == null) {
            return new Unknown("the parameter " + name + " has no value", Placeholders.of(name));
        }
        boolean isList = type.contains("List<") || type.equals("CommaDelimitedList");
        return isList && value instanceof String text
                ? Arrays.stream(text.split(","))
                        .map(String::strip)
                        .map(Object.class::cast)
                        .toList()
                : value;
    }

    /** Returns whether a condition holds; absent where it is not told. */
    Optional<Boolean> condition(String name) {
        Optional<Boolean> known = conditions.get(name);
        if (known != null) {
            return known;
        }
        CfnNode node = section("Conditions").get(name);
        if (node == null || !underWay.add("condition " + name)) {
            return Optional.empty();
        }
        Optional<Boolean> holds = truth(node);
        underWay.remove("condition " + name);
        conditions.put(name, holds);
        return holds;
    }

    private Optional<Boolean> truth(CfnNode node) {
        if (node.scalar() instanceof Boolean flag) {
            return Optional.of(flag);
        }
        if (node.members() == null || node.members().size() != 1) {
            return Optional.empty();
        }
        Map.Entry<String, CfnNode> call = node.members().entrySet().iterator().next();
        List<CfnNode> arguments = call.getValue().items() == null
                ? List.of(call.getValue())
                : call.getValue().items();
        switch (call.getKey()) {
            case "Condition" -> {
                return call.getValue().scalar() instanceof String name ? condition(name) : Optional.empty();
            }
            case "Fn::Not" -> {
                return arguments.size() == 1 ? truth(arguments.get(0)).map(holds -> !holds) : Optional.empty();
            }
            case "Fn::And", "Fn::Or" -> {
                if (arguments.isEmpty()) {
                    return Optional.empty();
                }
                boolean decides = call.getKey().equals("Fn::Or");
                boolean isOpen = false;
                for (CfnNode argument : arguments) {
                    Optional<Boolean> holds = truth(argument);
                    if (holds.isPresent() && holds.get() == decides) {
                        return holds;
                    }
                    isOpen |= holds.isEmpty();
                }
                return isOpen ? Optional.empty() : Optional.of(!decides);
            }
            case "Fn::Equals" -> {
                if (arguments.size() != 2) {
                    return Optional.empty();
                }
                Object one = value(arguments.get(0));
                Object other = value(arguments.get(1));
                boolean isOpen = isOpen(one) || isOpen(other);
                return isOpen
                        ? Optional.empty()
                        : Optional.of(String.valueOf(one).equals(String.valueOf(other)));
            }
            default -> {
                return Optional.empty();
            }
        }
    }

    private static boolean isOpen(@Nullable Object value) {
        return value instanceof Unknown
                || value instanceof Partly
                || value instanceof String text && Placeholders.isIn(text);
    }

    /** Returns what a node comes to. */
    @Nullable
    Object value(CfnNode node) {
        Object value = computed(node);
        return value == NO_VALUE ? null : value;
    }

    private @Nullable Object computed(CfnNode node) {
        if (++steps > MOST_STEPS) {
            return Unknown.of("the template's expressions are too many");
        }
        if (node.items() != null) {
            List<Object> items = new ArrayList<>();
            for (CfnNode item : node.items()) {
                Object value = computed(item);
                if (value != NO_VALUE) {
                    items.add(value);
                }
            }
            return items;
        }
        if (node.members() == null) {
            return node.scalar();
        }
        if (node.members().size() == 1) {
            Map.Entry<String, CfnNode> only =
                    node.members().entrySet().iterator().next();
            boolean isCall = only.getKey().equals("Ref") || only.getKey().startsWith("Fn::");
            if (isCall && !only.getKey().startsWith(CfnLoops.LOOP)) {
                return call(only.getKey(), only.getValue());
            }
        }
        Map<String, CfnNode> given = loops.writtenOut(node.members());
        if (given.containsKey(CfnMacros.INSERT) || CfnLoops.hasAny(given)) {
            return Unknown.of("what else belongs here, which a macro or a loop tells");
        }
        Map<String, Object> members = new LinkedHashMap<>();
        given.forEach((name, member) -> {
            Object value = computed(member);
            if (value != NO_VALUE) {
                members.put(name, value);
            }
        });
        return members;
    }

    private @Nullable Object call(String name, CfnNode argument) {
        List<CfnNode> arguments = argument.items() == null ? List.of(argument) : argument.items();
        return switch (name) {
            case "Ref" ->
                argument.scalar() instanceof String text ? ref(text) : Unknown.of("a reference without a name");
            case "Fn::GetAtt" -> {
                Object id = arguments.isEmpty() ? null : value(arguments.get(0));
                Object attribute = arguments.size() < 2 ? null : value(arguments.get(1));
                yield id instanceof String one && attribute instanceof String other
                        ? attribute(one, other)
                        : Unknown.of("an attribute whose name is not told");
            }
            case "Fn::Sub" -> sub(arguments);
            case "Fn::Join" -> join(arguments);
            case "Fn::Select" -> select(arguments);
            case "Fn::Split" -> split(arguments);
            case "Fn::If" -> chosen(arguments);
            case "Fn::FindInMap" -> inMap(arguments);
            case "Fn::ImportValue" -> {
                Object export = value(argument);
                String said = export instanceof String text ? text : "an export";
                yield new Unknown("the value that another stack exports as " + said, Placeholders.of(said));
            }
            case "Fn::Base64" ->
                value(argument) instanceof String text
                        ? Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8))
                        : Unknown.of("a text that is not told");
            case "Fn::ToJsonString" -> {
                try {
                    yield Json.text(new Fields(value(argument)).told());
                } catch (NotTold open) {
                    yield Unknown.of(open.why());
                }
            }
            case "Fn::Length" ->
                value(argument) instanceof List<?> list
                        ? (Object) (long) list.size()
                        : Unknown.of("a list that is not told");
            case "Fn::Cidr", "Fn::GetAZs", "Fn::Transform" -> Unknown.of("what " + name + " gives");
            default -> {
                all.note("the function " + name + " is not known; what it stands in is not read");
                yield Unknown.of("what " + name + " gives");
            }
        };
    }

    private Object ref(String name) {
        switch (name) {
            case "AWS::AccountId" -> {
                return all.account();
            }
            case "AWS::Region" -> {
                return all.region();
            }
            case "AWS::Partition" -> {
                return "aws";
            }
            case "AWS::URLSuffix" -> {
                return "amazonaws.com";
            }
            case "AWS::NoValue" -> {
                return NO_VALUE;
            }
            case "AWS::StackName", "AWS::StackId", "AWS::NotificationARNs" -> {
                return new Unknown(name + " has no value before the stack is made", Placeholders.of(name));
            }
            default -> {
                if (parameters.containsKey(name)) {
                    // Templates declare some that only the tool asks for which made them.
                    if (parameters.get(name) instanceof Unknown) {
                        all.note("the parameter " + name + " has no value here; give one with --parameters");
                    }
                    return parameters.get(name);
                }
                return resource(name, Optional.empty());
            }
        }
    }

    private Object attribute(String id, String attribute) {
        return resource(id, Optional.of(attribute));
    }

    private Object resource(String id, Optional<String> attribute) {
        CfnNode resource = section("Resources").get(id);
        String placeholder = attribute.map(name -> id + "." + name).orElse(id);
        if (resource == null && CfnMacros.isRoleMade(id, types)) {
            return attribute
                    .filter("Arn"::equals)
                    .map(arn -> all.role("/", Placeholders.of(id)))
                    .orElse(Placeholders.of(id));
        }
        if (resource == null) {
            all.note("the template refers to " + id + ", and has no such resource or parameter");
            return new Unknown("there is no " + id + " in the template", Placeholders.of(placeholder));
        }
        if (!underWay.add("resource " + placeholder)) {
            all.note("the template refers to itself in a circle at " + placeholder);
            return new Unknown(placeholder + " refers to itself in a circle", Placeholders.of(placeholder));
        }
        try {
            CfnNode properties = resource.get("Properties");
            CfnNode given = properties == null ? new CfnNode(null, null, Map.of(), resource.line()) : properties;
            String type = typeOf(id);
            return attribute
                    .map(name -> names.attribute(id, type, name, given))
                    .orElseGet(() -> names.ref(id, type, given))
                    .orElse(Placeholders.of(placeholder));
        } finally {
            underWay.remove("resource " + placeholder);
        }
    }

    private Object sub(List<CfnNode> arguments) {
        if (arguments.isEmpty() || !(arguments.get(0).scalar() instanceof String template)) {
            return Unknown.of("a text that is not told");
        }
        Map<String, CfnNode> own = arguments.size() > 1 && arguments.get(1).members() != null
                ? arguments.get(1).members()
                : Map.of();
        List<Object> parts = new ArrayList<>();
        Matcher matcher = VARIABLE.matcher(template);
        int from = 0;
        while (matcher.find()) {
            parts.add(template.substring(from, matcher.start()));
            String name = matcher.group(2).strip();
            if (!matcher.group(1).isEmpty()) {
                parts.add("${" + name + "}");
            } else if (own.containsKey(name)) {
                parts.add(value(own.get(name)));
            } else if (name.indexOf('.') > 0 && !name.startsWith("AWS::")) {
                parts.add(attribute(name.substring(0, name.indexOf('.')), name.substring(name.indexOf('.') + 1)));
            } else {
                parts.add(ref(name));
            }
            from = matcher.end();
        }
        parts.add(template.substring(from));
        return joined("", parts);
    }

    private Object join(List<CfnNode> arguments) {
        Object with = arguments.isEmpty() ? null : value(arguments.get(0));
        Object list = arguments.size() < 2 ? null : value(arguments.get(1));
        return with instanceof String delimiter && list instanceof List<?> items
                ? joined(delimiter, items)
                : Unknown.of("a list that is not told");
    }

    private static Object joined(String delimiter, List<?> parts) {
        List<Object> told = new ArrayList<>();
        parts.forEach(part -> told.add(part == NO_VALUE ? null : part));
        return HclFunctions.joined(delimiter, told);
    }

    private @Nullable Object select(List<CfnNode> arguments) {
        Object index = arguments.isEmpty() ? null : value(arguments.get(0));
        Object list = arguments.size() < 2 ? null : value(arguments.get(1));
        boolean isNumber = index != null && String.valueOf(index).matches("[0-9]{1,6}");
        if (!isNumber || !(list instanceof List<?> items)) {
            return Unknown.of("an item of a list that is not told");
        }
        int at = Integer.parseInt(String.valueOf(index));
        return at < items.size() ? items.get(at) : Unknown.of("the list has no item " + at);
    }

    private Object split(List<CfnNode> arguments) {
        Object delimiter = arguments.isEmpty() ? null : value(arguments.get(0));
        Object text = arguments.size() < 2 ? null : value(arguments.get(1));
        return delimiter instanceof String sign && !sign.isEmpty() && text instanceof String whole
                ? parts(whole, sign)
                : Unknown.of("a text that is not told");
    }

    /** Of an attribute that is not told nothing is known. */
    private static Object parts(String whole, String sign) {
        return ATTRIBUTE.matcher(whole).find()
                ? Unknown.of("the parts of a text that is not told")
                : Cuts.split(whole, sign);
    }

    /** Where the condition is not told, both branches may still come to the same. */
    private @Nullable Object chosen(List<CfnNode> arguments) {
        if (arguments.size() != 3 || !(arguments.get(0).scalar() instanceof String name)) {
            return Unknown.of("a choice whose condition is not told");
        }
        Optional<Boolean> holds = condition(name);
        if (holds.isPresent()) {
            return computed(arguments.get(holds.get() ? 1 : 2));
        }
        Object one = computed(arguments.get(1));
        Object other = computed(arguments.get(2));
        boolean isSame = one != NO_VALUE && one != null && one.equals(other) && !isOpen(one);
        return isSame ? one : Unknown.of("it hangs on the condition " + name);
    }

    private @Nullable Object inMap(List<CfnNode> arguments) {
        CfnNode at = root.get("Mappings");
        for (int i = 0; i < 3 && i < arguments.size(); i++) {
            Object key = value(arguments.get(i));
            if (isOpen(key)) {
                return Unknown.of("a value of a mapping whose key is not told");
            }
            at = at == null ? null : at.get(String.valueOf(key));
        }
        CfnNode usual = arguments.size() < 4 ? null : arguments.get(3).get("DefaultValue");
        CfnNode found = at == null ? usual : at;
        return found == null || arguments.size() < 3 ? Unknown.of("the mapping has no such value") : value(found);
    }
}
