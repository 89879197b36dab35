package warden.core.aws.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.document.Pointer;

/**
 * The {@code Resource} or {@code NotResource} of a statement.
 * Source: IAM User Guide, "IAM JSON policy elements: Resource".
 *
 * @param negated true for {@code NotResource}
 */
public record ResourceClause(boolean negated, List<ResourcePattern> patterns) {
    public ResourceClause {
        patterns = List.copyOf(patterns);
    }

    /**
     * One pattern.
     *
     * @param text as the document spells it
     */
    public record ResourcePattern(Pointer at, String text, ValueTemplate template) {}

    /** Returns whether the clause covers the resource, for a request with {@code context}. */
    public Truth covers(String resource, Context context) {
        Truth matched = Truth.FALSE;
        for (ResourcePattern pattern : patterns) {
            ValueTemplate.Resolution resolution = pattern.template().resolve(context);
            if (resolution instanceof ValueTemplate.Resolution.Pattern known) {
                if (known.glob().matches(resource)) {
                    return Truth.of(!negated);
                }
            } else if (resolution instanceof ValueTemplate.Resolution.NotKnown || negated) {
                // The guide does not say whether NotResource with a variable that has no value holds.
                matched = Truth.UNKNOWN;
            }
        }
        return negated ? matched.not() : matched;
    }

    /**
     * Returns the resources covered.
     *
     * @param bound what the rest of a pattern is to be taken for when a variable in it is open: all texts or none
     */
    public Language language(Context context, Language bound) {
        Language union = Language.none();
        for (ResourcePattern pattern : patterns) {
            union = union.union(language(pattern.template(), context, negated ? bound.complement() : bound));
        }
        return negated ? union.complement() : union;
    }

    /**
     * Returns what follows {@code prefix} in the resources covered that begin so. The same as taking the prefix off {@link #language}, made
     * pattern by pattern, which keeps the sets small.
     */
    public Language languageAfter(String prefix, Context context, Language bound) {
        Language union = Language.none();
        Language part = negated ? bound.complement() : bound;
        for (ResourcePattern pattern : patterns) {
            Optional<Glob.Remainder> remainder = pattern.template().constant().flatMap(glob -> glob.after(prefix));
            Language here = remainder.isPresent()
                    ? remainder.get().glob().map(Language::matching).orElse(Language.none())
                    : language(pattern.template(), context, part).afterPrefix(prefix);
            union = union.union(here);
        }
        return negated ? union.complement() : union;
    }

    /** True when no variable stands in any pattern, so that the clause covers the same for every request. */
    public boolean isConstant() {
        return patterns.stream()
                .allMatch(pattern -> pattern.template().constant().isPresent());
    }

    private static Language language(ValueTemplate template, Context context, Language bound) {
        boolean settled = template.variables().stream().allMatch(context::settles);
        ValueTemplate.Resolution resolution = template.resolve(context);
        if (resolution instanceof ValueTemplate.Resolution.Pattern pattern && settled) {
            return Language.matching(pattern.glob());
        }
        return settled && resolution instanceof ValueTemplate.Resolution.NoValue ? Language.none() : bound;
    }

    /** Returns the patterns in which no variable stands, for describing sets in the words of the documents. */
    public List<Glob> constants() {
        List<Glob> globs = new ArrayList<>();
        for (ResourcePattern pattern : patterns) {
            Optional<Glob> glob = pattern.template().constant();
            glob.ifPresent(globs::add);
        }
        return globs;
    }
}
