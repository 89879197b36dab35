package warden.core.azure.edge;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;

/**
 * One rule of an edge: all of its conditions must hold, of one condition one of its values.
 *
 * <p>Source: Azure CDN, "Match conditions in the Standard rules engine", "Actions in the Standard rules engine"; Azure Front Door, "Rule set match
 * conditions", "Rule set actions".
 *
 * @param set the rule set that it is in; one for a classic endpoint
 * @param isModelled false where it has a condition or an action whose meaning is not modelled
 * @param stops true when no later rule is looked at
 */
public record EdgeRule(
        String set,
        String name,
        int order,
        List<Condition> conditions,
        List<Action> actions,
        boolean isModelled,
        boolean stops,
        Citation at) {
    public EdgeRule {
        conditions = List.copyOf(conditions);
        actions = List.copyOf(actions);
    }

    /** What a request is asked for. */
    public record Condition(
            String name, String operator, boolean negated, List<String> values, List<String> transforms) {
        public Condition {
            values = List.copyOf(values);
            transforms = List.copyOf(transforms);
        }

        boolean isModelled() {
            return CONDITIONS.contains(name)
                    && OPERATORS.contains(operator)
                    && transforms.stream().allMatch(each -> each.equals("Lowercase") || each.equals("Uppercase"))
                    // How a leading slash in a value is compared is not said.
                    && !(name.equals("UrlPath") && values.stream().anyMatch(value -> value.startsWith("/")))
                    && (!BY_LENGTH.contains(operator) || values.stream().allMatch(value -> value.matches("\\d{1,9}")));
        }
    }

    /**
     * What is done.
     *
     * @param parameters as the provider prints them
     */
    public record Action(String name, JsonPart parameters) {}

    /**
     * A request as rules see it.
     *
     * @param path decoded, with its leading slash
     */
    public record Asked(String scheme, String host, String method, String path, String query) {}

    private static final List<String> CONDITIONS = List.of(
            "RequestScheme",
            "UrlPath",
            "UrlFileExtension",
            "UrlFileName",
            "RequestUri",
            "HostName",
            "RequestMethod",
            "QueryString");
    private static final List<String> OPERATORS = List.of(
            "Any",
            "Equal",
            "BeginsWith",
            "EndsWith",
            "Contains",
            "LessThan",
            "LessThanOrEqual",
            "GreaterThan",
            "GreaterThanOrEqual");
    private static final List<String> BY_LENGTH =
            List.of("LessThan", "LessThanOrEqual", "GreaterThan", "GreaterThanOrEqual");
    private static final List<String> ACTIONS = List.of(
            "UrlRedirect",
            "UrlRewrite",
            "ModifyResponseHeader",
            "CacheExpiration",
            "CacheKeyQueryString",
            "RouteConfigurationOverride");

    static EdgeRule of(String set, String name, JsonPart rule, Citation at) {
        List<Condition> conditions = new ArrayList<>();
        boolean modelled = isListOrMissing(rule, "conditions")
                && isListOrMissing(rule, "actions")
                && rule.text("order").filter(text -> text.matches("\\d{1,6}")).isPresent()
                && rule.text("matchProcessingBehavior")
                        .map(word -> word.equals("Stop") || word.equals("Continue"))
                        .orElse(rule.find("matchProcessingBehavior").isEmpty());
        for (JsonPart part : rule.list("conditions")) {
            String kind = part.text("name").orElse("");
            Optional<String> operator = part.text("parameters", "operator");
            List<String> transforms = part.texts("parameters", "transforms");
            List<String> values = part.texts("parameters", "matchValues");
            Condition condition = new Condition(
                    kind,
                    operator.orElse(""),
                    part.flag("parameters", "negateCondition").orElse(false),
                    values,
                    transforms);
            modelled &= condition.isModelled();
            conditions.add(condition);
        }
        List<Action> actions = new ArrayList<>();
        for (JsonPart part : rule.list("actions")) {
            String kind = part.text("name").orElse("");
            modelled &= ACTIONS.contains(kind)
                    && part.find("parameters")
                            .filter(JsonPart.JsonObject.class::isInstance)
                            .isPresent()
                    && isModelled(kind, part);
            part.find("parameters").ifPresent(parameters -> actions.add(new Action(kind, parameters)));
        }
        return new EdgeRule(
                set,
                name,
                rule.text("order")
                        .filter(text -> text.matches("\\d{1,6}"))
                        .map(Integer::parseInt)
                        .orElse(0),
                conditions,
                actions,
                modelled,
                rule.text("matchProcessingBehavior").filter("Stop"::equals).isPresent(),
                at);
    }

    private static boolean isListOrMissing(JsonPart rule, String member) {
        return rule.find(member).map(JsonPart.JsonArray.class::isInstance).orElse(true);
    }

    private static boolean isModelled(String kind, JsonPart action) {
        return switch (kind) {
            case "UrlRedirect" ->
                action.find("parameters", "customQueryString").isEmpty()
                        && action.text("parameters", "destinationProtocol")
                                .filter("MatchRequest"::equals)
                                .isEmpty();
            case "RouteConfigurationOverride" ->
                action.find("parameters", "originGroupOverride").isEmpty();
            default -> true;
        };
    }

    /** Returns whether its conditions hold; unknown where one is not modelled and the others do not settle it. */
    public Truth holds(Asked asked) {
        Truth all = Truth.TRUE;
        for (Condition condition : conditions) {
            all = all.and(holds(condition, asked));
        }
        return all;
    }

    private static Truth holds(Condition condition, Asked asked) {
        if (!condition.isModelled()) {
            return Truth.UNKNOWN;
        }
        String value = transformed(value(condition.name(), asked), condition);
        boolean any = condition.operator().equals("Any")
                ? !value.isEmpty()
                : condition.values().stream().anyMatch(wanted -> fits(condition, value, wanted));
        return Truth.of(any != condition.negated());
    }

    private static String transformed(String value, Condition condition) {
        String result = value;
        for (String transform : condition.transforms()) {
            result = transform.equals("Lowercase") ? result.toLowerCase(Locale.ROOT) : result.toUpperCase(Locale.ROOT);
        }
        return result;
    }

    private static String value(String condition, Asked asked) {
        String path = asked.path().startsWith("/") ? asked.path().substring(1) : asked.path();
        String file = path.substring(path.lastIndexOf('/') + 1);
        return switch (condition) {
            case "RequestScheme" -> asked.scheme().toUpperCase(Locale.ROOT);
            case "UrlPath" -> path;
            case "UrlFileName" -> file;
            case "UrlFileExtension" -> file.contains(".") ? file.substring(file.lastIndexOf('.') + 1) : "";
            case "RequestUri" ->
                asked.scheme() + "://" + asked.host() + asked.path()
                        + (asked.query().isEmpty() ? "" : "?" + asked.query());
            case "HostName" -> asked.host();
            case "RequestMethod" -> asked.method();
            default -> asked.query();
        };
    }

    private static boolean fits(Condition condition, String value, String wanted) {
        boolean ignoresCase = condition.name().equals("RequestScheme")
                || condition.name().equals("HostName")
                || condition.name().equals("RequestMethod");
        String one = ignoresCase ? value.toLowerCase(Locale.ROOT) : value;
        String other = ignoresCase ? wanted.toLowerCase(Locale.ROOT) : wanted;
        return switch (condition.operator()) {
            case "Equal" -> one.equals(other);
            case "BeginsWith" -> one.startsWith(other);
            case "EndsWith" -> one.endsWith(other);
            case "Contains" -> one.contains(other);
            default -> byLength(condition.operator(), one.length(), other);
        };
    }

    /** These compare how long the text is. */
    private static boolean byLength(String operator, int length, String wanted) {
        int bound = Integer.parseInt(wanted);
        return switch (operator) {
            case "LessThan" -> length < bound;
            case "LessThanOrEqual" -> length <= bound;
            case "GreaterThan" -> length > bound;
            default -> length >= bound;
        };
    }

    /** Returns the actions of one kind. */
    public List<JsonPart> actions(String kind) {
        return actions.stream()
                .filter(action -> action.name().equals(kind))
                .map(Action::parameters)
                .toList();
    }
}
