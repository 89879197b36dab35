package warden.core.aws.reach;

import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
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
import warden.core.algebra.TextSet;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.ResourceClause;

/** What was worked out for one bucket, or another resource, and holds for every caller and action. Safe for use by several threads. */
final class ResourceWork {
    private final DocumentWork documents;
    private final Map<ResourceClause, Remembered<Bounds>> clauses =
            Collections.synchronizedMap(new IdentityHashMap<>());
    private final Map<Wording, Remembered<String>> words = new ConcurrentHashMap<>();
    private @Nullable Remembered<RequestSet> strangers;

    /** What a condition comes down to, and the patterns in whose words it is said. */
    private record Wording(String key, TextSet values, List<Glob> named) {}

    /**
     * Makes an empty memory.
     *
     * @param documents what holds for every resource
     */
    ResourceWork(DocumentWork documents) {
        this.documents = documents;
    }

    /** Returns which statements of a policy speak of the action. */
    DocumentWork.Coverage coverage(PolicyDocument policy, String lowerCaseAction) {
        return documents.coverage(policy, lowerCaseAction);
    }

    Bounds clause(ResourceClause clause, Function<ResourceClause, Bounds> work) {
        return clauses.computeIfAbsent(clause, each -> Effort.remember(() -> work.apply(each)))
                .use();
    }

    DocumentWork.Held held(Condition condition, Function<Condition, Condition.Side> work) {
        return documents.held(condition, work);
    }

    /** Returns the patterns that a condition's values are. */
    List<Glob> named(Condition condition) {
        return documents.named(condition);
    }

    /** Returns the keys, which are never empty, that the pattern matches. */
    Language keys(Glob glob) {
        return documents.keys(glob);
    }

    Language matching(Glob glob) {
        return documents.matching(glob);
    }

    Language matchingIgnoringCase(Glob glob) {
        return documents.matchingIgnoringCase(glob);
    }

    /** Returns what a key's values are in words: the same condition stands behind the answers to most callers. */
    String words(String key, TextSet values, List<Glob> named, Supplier<String> work) {
        return words.computeIfAbsent(new Wording(key, values, named), each -> Effort.remember(work))
                .use();
    }

    synchronized RequestSet strangers(Supplier<RequestSet> work) {
        if (strangers == null) {
            strangers = Effort.remember(work);
        }
        return strangers.use();
    }
}
