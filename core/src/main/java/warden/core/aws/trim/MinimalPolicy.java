package warden.core.aws.trim;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.policy.Statement;
import warden.core.document.Json;
import warden.core.document.JsonLayout;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.Pointer;
import warden.core.pipeline.Needed;

/**
 * A policy that allows what is needed and nothing else, as a careful engineer would write it: one statement for the actions on the same
 * resources, list actions on buckets, object actions on their prefix, one distribution.
 *
 * @param statements in the order in which they are read: storage first
 */
public record MinimalPolicy(List<Allow> statements) {
    public MinimalPolicy {
        statements = List.copyOf(statements);
    }

    /**
     * One statement.
     *
     * @param actions in alphabetical order
     * @param resources in alphabetical order
     */
    public record Allow(String sid, List<String> actions, List<String> resources) {
        public Allow {
            actions = List.copyOf(actions);
            resources = List.copyOf(resources);
        }
    }

    /** Writes the policy for these needs. */
    public static MinimalPolicy of(List<Needed> needed) {
        Map<String, TreeSet<String>> resourcesByAction =
                new TreeMap<>(Comparator.comparing(MinimalPolicy::rank).thenComparing(Comparator.naturalOrder()));
        needed.forEach(each -> resourcesByAction
                .computeIfAbsent(each.action(), action -> new TreeSet<>())
                .add(each.on()));
        Map<List<String>, List<String>> actionsByResources = new LinkedHashMap<>();
        resourcesByAction.forEach((action, resources) -> actionsByResources
                .computeIfAbsent(widest(resources), list -> new ArrayList<>())
                .add(action));
        List<Allow> statements = new ArrayList<>();
        Map<String, Integer> sids = new LinkedHashMap<>();
        actionsByResources.forEach((resources, actions) -> {
            String sid = sid(actions.get(0));
            int count = sids.merge(sid, 1, Integer::sum);
            statements.add(new Allow(count == 1 ? sid : sid + count, actions, resources));
        });
        return new MinimalPolicy(statements);
    }

    private static int rank(String action) {
        if (action.startsWith("s3:List")) {
            return 0;
        }
        return action.startsWith("s3:") ? 1 : action.startsWith("cloudfront:") ? 2 : 3;
    }

    /** Leaves out resources that another of them covers. */
    private static List<String> widest(TreeSet<String> resources) {
        return resources.stream()
                .filter(resource -> resources.stream()
                        .noneMatch(other ->
                                !other.equals(resource) && Glob.parse(other).matches(resource) && other.endsWith("*")))
                .toList();
    }

    private static String sid(String action) {
        if (action.startsWith("s3:List")) {
            return "ListTheBucket";
        }
        if (action.startsWith("s3:")) {
            return action.contains("Object") ? "PublishObjects" : "UseTheBucket";
        }
        return action.equals("cloudfront:CreateInvalidation")
                ? "InvalidateTheEdge"
                : action.startsWith("kms:")
                        ? "UseTheKey"
                        : "Use" + Character.toUpperCase(action.charAt(0)) + action.substring(1, action.indexOf(':'));
    }

    /** Returns how many actions it allows. */
    public int actionCount() {
        return (int) statements.stream()
                .flatMap(each -> each.actions().stream())
                .distinct()
                .count();
    }

    /** Returns how many services it speaks of. */
    public int serviceCount() {
        return (int) statements.stream()
                .flatMap(each -> each.actions().stream())
                .map(action -> action.substring(0, action.indexOf(':')))
                .distinct()
                .count();
    }

    /** Spells the document as JSON, indented by two blanks. */
    public String spelled() {
        List<Object> spelled = new ArrayList<>();
        for (Allow statement : statements) {
            spelled.add(Json.object(
                    "Sid",
                    statement.sid(),
                    "Effect",
                    "Allow",
                    "Action",
                    texts(statement.actions()),
                    "Resource",
                    texts(statement.resources())));
        }
        return JsonLayout.of(Json.object("Version", "2012-10-17", "Statement", spelled), 2);
    }

    private static Object texts(List<String> texts) {
        return texts.size() == 1 ? texts.get(0) : new JsonLayout.OneLine(texts);
    }

    /** Returns the document as the policy language understands it. */
    public PolicyDocument document() {
        return PolicyParser.parse(spelled(), PolicyKind.IDENTITY, Pointer.ROOT);
    }

    /** Returns the document as JSON. */
    public JsonPart json() {
        return JsonReader.read(spelled()).root().orElseThrow();
    }

    /** Returns the resources on which a document allows an action; over all resources, not a sample. */
    static Language allowed(PolicyDocument document, String action) {
        Language allowed = Language.none();
        for (Statement statement : document.statements()) {
            if (statement.actions().covers(action.toLowerCase(java.util.Locale.ROOT))) {
                allowed = allowed.union(statement
                        .resources()
                        .map(clause -> clause.language(Context.empty(), Language.none()))
                        .orElse(Language.none()));
            }
        }
        return allowed;
    }

    /** Returns the resources that are needed for an action. */
    static Language wanted(List<Needed> needed, String action) {
        Language wanted = Language.none();
        for (Needed each : needed) {
            wanted = each.action().equals(action) ? wanted.union(Language.matching(Glob.parse(each.on()))) : wanted;
        }
        return wanted;
    }
}
