package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Predicate;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.policy.Statement;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.Pointer;

/** Changes the text of a policy statement by statement, and leaves the rest as it stands. */
final class PolicyText {
    private PolicyText() {}

    /** Returns a policy, JSON text, with one statement more; a new one where there is none. */
    static String adding(String policy, Map<String, Object> statement) {
        JsonPart root = JsonReader.read(policy).root().orElseThrow();
        List<Object> statements = new ArrayList<>(statements(root));
        statements.add(statement);
        return with(root, statements);
    }

    /**
     * Returns a policy with some of its statements changed.
     *
     * @param change gives the statement as it is to be: the same part where it stays, nothing where it goes
     * @return JSON text; absent where no statement is left
     */
    static Optional<String> changing(
            String policy, PolicyKind kind, BiFunction<Statement, JsonPart, Optional<Object>> change) {
        PolicyDocument document = PolicyParser.parse(policy, kind, Pointer.ROOT);
        JsonPart root = JsonReader.read(policy).root().orElseThrow();
        List<JsonPart> parts = statements(root);
        List<Object> kept = new ArrayList<>();
        boolean changed = false;
        for (Statement statement : document.statements()) {
            JsonPart part = parts.get(statement.index());
            Optional<Object> now = statement.isOpaque() ? Optional.of(part) : change.apply(statement, part);
            now.ifPresent(kept::add);
            changed |= now.filter(same -> same == part).isEmpty();
        }
        if (!changed) {
            return Optional.of(policy);
        }
        return kept.isEmpty() ? Optional.empty() : Optional.of(with(root, kept));
    }

    /** Returns a policy without some of its statements; absent where none is left. */
    static Optional<String> without(String policy, PolicyKind kind, Predicate<Statement> goes) {
        return changing(policy, kind, (statement, part) -> goes.test(statement) ? Optional.empty() : Optional.of(part));
    }

    /** Returns a statement with another value of one member. */
    static Optional<Object> setting(JsonPart statement, String member, Object value) {
        Map<String, Object> members = members(statement);
        members.put(member, value);
        return Optional.of(members);
    }

    /** Returns a statement without one of its members. */
    static Object without(JsonPart statement, String member) {
        Map<String, Object> members = members(statement);
        members.remove(member);
        return members;
    }

    /** Returns a statement with a condition more. */
    static Optional<Object> demanding(JsonPart statement, String operator, String key, Object value) {
        Map<String, Object> members = members(statement);
        Map<String, Object> operators =
                statement.find("Condition").map(PolicyText::members).orElseGet(LinkedHashMap::new);
        Map<String, Object> keys =
                statement.find("Condition", operator).map(PolicyText::members).orElseGet(LinkedHashMap::new);
        keys.put(key, value);
        operators.put(operator, keys);
        members.put("Condition", operators);
        return Optional.of(members);
    }

    private static Map<String, Object> members(JsonPart part) {
        Map<String, Object> members = new LinkedHashMap<>();
        if (part instanceof JsonPart.JsonObject object) {
            members.putAll(object.members());
        }
        return members;
    }

    private static List<JsonPart> statements(JsonPart root) {
        return root.find("Statement")
                .map(part -> part instanceof JsonPart.JsonArray array ? array.items() : List.of(part))
                .orElse(List.of());
    }

    private static String with(JsonPart root, List<Object> statements) {
        Map<String, Object> members = members(root);
        members.putIfAbsent("Version", "2012-10-17");
        members.put("Statement", statements);
        return Json.text(members);
    }
}
