package warden.core.reach;

import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import warden.core.algebra.Effort;
import warden.core.algebra.Effort.Remembered;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.RequestSet;
import warden.core.policy.Condition;
import warden.core.policy.PolicyDocument;
import warden.core.policy.ResourceClause;
import warden.core.policy.Statement;

/** What was worked out about the documents of one bucket and holds for every caller and action. Safe for use by several threads. */
final class Memory {
    private final Map<ResourceClause, Remembered<Bounds>> clauses =
            Collections.synchronizedMap(new IdentityHashMap<>());
    private final Map<Condition, Remembered<Condition.Side>> sides =
            Collections.synchronizedMap(new IdentityHashMap<>());
    private final Map<Condition, List<Glob>> named = Collections.synchronizedMap(new IdentityHashMap<>());
    private final Map<Glob, Remembered<Language>> matching = new ConcurrentHashMap<>();
    private final Map<Glob, Remembered<Language>> keys = new ConcurrentHashMap<>();
    private final Map<Glob, Remembered<Language>> ignoringCase = new ConcurrentHashMap<>();
    private final Map<String, Coverage> coverages = new ConcurrentHashMap<>();
    /** Many actions are spoken of by the same statements. */
    private final Map<String, Coverage> sameCoverages = new ConcurrentHashMap<>();

    private @Nullable Remembered<RequestSet> strangers;

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

        static Coverage of(PolicyDocument policy, String lowerCaseAction) {
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

    /** Returns which statements of the bucket's policy speak of the action, given in any case. */
    Coverage coverage(PolicyDocument bucketPolicy, String named) {
        return coverages.computeIfAbsent(named, action -> {
            Coverage coverage = Coverage.of(bucketPolicy, action.toLowerCase(Locale.ROOT));
            return sameCoverages.computeIfAbsent(coverage.spelled(), spelled -> coverage);
        });
    }

    Bounds clause(ResourceClause clause, Function<ResourceClause, Bounds> work) {
        return clauses.computeIfAbsent(clause, each -> Effort.remember(() -> work.apply(each)))
                .use();
    }

    Condition.Side side(Condition condition, Function<Condition, Condition.Side> work) {
        return sides.computeIfAbsent(condition, each -> Effort.remember(() -> work.apply(each)))
                .use();
    }

    /** Returns the patterns that a condition's values are. */
    List<Glob> named(Condition condition) {
        return named.computeIfAbsent(
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

    synchronized RequestSet strangers(Supplier<RequestSet> work) {
        if (strangers == null) {
            strangers = Effort.remember(work);
        }
        return strangers.use();
    }
}
