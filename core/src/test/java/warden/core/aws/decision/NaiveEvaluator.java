package warden.core.aws.decision;

import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

/**
 * A second opinion for tests: evaluates generated bucket policies in the most direct way, by the text of the guide, without
 * sharing a line with the engine. It knows only what the generator makes.
 */
final class NaiveEvaluator {
    /** A statement as the generator makes it. */
    record Rule(
            boolean allow,
            boolean notPrincipal,
            List<String> principals,
            boolean notAction,
            List<String> actions,
            boolean notResource,
            List<String> resources,
            String operator,
            String key,
            List<String> values) {}

    private NaiveEvaluator() {}

    static boolean allows(List<Rule> rules, String who, String action, String resource, Map<String, String> context) {
        boolean allowed = false;
        for (Rule rule : rules) {
            boolean named = rule.principals().stream().anyMatch(p -> names(rule, p, who));
            boolean principal = rule.notPrincipal() != named;
            boolean actions = rule.actions().stream().anyMatch(a -> like(a, action, true));
            boolean resources = rule.resources().stream().anyMatch(r -> like(r, resource, false));
            boolean matches = principal
                    && rule.notAction() != actions
                    && rule.notResource() != resources
                    && (rule.operator().isEmpty() || holds(rule, context));
            if (matches && !rule.allow()) {
                return false;
            }
            allowed |= matches;
        }
        return allowed;
    }

    private static boolean names(Rule rule, String principal, String who) {
        if (principal.equals("*") || principal.equals(who)) {
            return true;
        }
        boolean accountOfOutsider = principal.equals("109876543210") && who.contains("109876543210");
        return accountOfOutsider && !rule.notPrincipal();
    }

    private static boolean holds(Rule rule, Map<String, String> context) {
        String value = context.get(rule.key());
        boolean any = value != null
                && rule.values().stream().anyMatch(v -> switch (rule.operator()) {
                    case "StringEquals", "StringNotEquals", "StringEqualsIfExists" -> v.equals(value);
                    case "StringLike", "StringNotLike" -> like(v, value, false);
                    default -> throw new IllegalArgumentException(rule.operator());
                });
        if (value == null) {
            return rule.operator().contains("Not") || rule.operator().endsWith("IfExists");
        }
        return rule.operator().contains("Not") != any;
    }

    private static boolean like(String pattern, String text, boolean ignoreCase) {
        StringBuilder regex = new StringBuilder();
        for (char c : pattern.toCharArray()) {
            regex.append(c == '*' ? ".*" : c == '?' ? "." : Pattern.quote(Character.toString(c)));
        }
        int flags = Pattern.DOTALL | (ignoreCase ? Pattern.CASE_INSENSITIVE : 0);
        return Pattern.compile(regex.toString(), flags).matcher(text).matches();
    }
}
