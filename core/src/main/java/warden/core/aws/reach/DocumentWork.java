package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import warden.core.algebra.Effort;
import warden.core.algebra.Effort.Remembered;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.RequestSet;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.Statement;

/**
 * What was worked out about policies and patterns, whatever bucket they were asked for. The policies of an organization, and those that many
 * hold, are asked for every bucket and every caller, so each answer is kept. Safe for use by several threads.
 */
final class DocumentWork {
    private final ByIdentity<Condition, Remembered<Held>> held = new ByIdentity<>();
    private final ByIdentity<Condition, List<Glob>> named = new ByIdentity<>();
    private final Map<Glob, Remembered<Language>> matching = new ConcurrentHashMap<>();
    private final Map<Glob, Remembered<Language>> keys = new ConcurrentHashMap<>();
    private final Map<Glob, Remembered<Language>> ignoringCase = new ConcurrentHashMap<>();

    private final ByIdentity<PolicyDocument, ByAction> byPolicy = new ByIdentity<>();

    /** The answers about one document. */
    private record ByAction(Map<String, Coverage> byAction, Map<String, Coverage> bySpelling) {}

    /**
     * Which statements of a policy speak of one action.
     *
     * @param statements those that do or may, in the document's order
     * @param spelled the same as a text that is equal for actions that the same statements speak of
     */
    record Coverage(List<Statement> statements, String spelled) {
        Coverage {
            statements = List.copyOf(statements);
        }

        private static Coverage of(PolicyDocument policy, String lowerCaseAction) {
            List<Statement> covering = new ArrayList<>();
            StringBuilder spelled = new StringBuilder("|");
            for (Statement statement : policy.statements()) {
                boolean covers = statement.isOpaque() || statement.actions().covers(lowerCaseAction);
                spelled.append(covers ? '1' : '0');
                if (covers) {
                    covering.add(statement);
                }
            }
            return new Coverage(covering, spelled.toString());
        }
    }

    /**
     * Where a condition holds.
     *
     * @param side what it limits, and to which values
     * @param requests those for which it holds
     */
    record Held(Condition.Side side, Bounds requests) {
        static Held of(Condition.Side side) {
            return new Held(side, Bounds.exactly(RequestSet.where(side.dimension(), side.values())));
        }
    }

    Held held(Condition condition, Function<Condition, Condition.Side> work) {
        return held.get(condition, each -> Effort.remember(() -> Held.of(work.apply(each))))
                .use();
    }

    /** Returns the patterns that a condition's values are. */
    List<Glob> named(Condition condition) {
        return named.get(
                condition, each -> each.values().stream().map(Glob::parse).toList());
    }

    /** Returns the keys, which are never empty, that the pattern matches. */
    Language keys(Glob glob) {
        return keys.computeIfAbsent(
                        glob, each -> Effort.remember(() -> matching(each).intersect(KeyPatterns.KEYS)))
                .use();
    }

    Language matching(Glob glob) {
        return matching.computeIfAbsent(glob, each -> Effort.remember(() -> Language.matching(each)))
                .use();
    }

    Language matchingIgnoringCase(Glob glob) {
        return ignoringCase
                .computeIfAbsent(glob, each -> Effort.remember(() -> Language.matchingIgnoringCase(each)))
                .use();
    }

    /** Returns which statements of a policy speak of the action. */
    Coverage coverage(PolicyDocument policy, String lowerCaseAction) {
        ByAction answers =
                byPolicy.get(policy, key -> new ByAction(new ConcurrentHashMap<>(), new ConcurrentHashMap<>()));
        return answers.byAction().computeIfAbsent(lowerCaseAction, action -> {
            Coverage coverage = Coverage.of(policy, action);
            return answers.bySpelling().computeIfAbsent(coverage.spelled(), spelled -> coverage);
        });
    }
}
