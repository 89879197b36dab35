package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;

/** Says in patterns which object keys a set holds, in the words of the documents that made it. */
final class KeyPatterns {
    /** All texts that can be keys: an empty text is none. */
    static final Language KEYS = Language.notEmpty();

    private static final Glob NO_KEY = Glob.literal("");

    private KeyPatterns() {}

    /** Returns what is left of a resource pattern for the keys of one bucket; absent when it is not that simple. */
    static Optional<Glob> within(String bucketArn, Glob resource) {
        return resource.after(bucketArn + "/").flatMap(Glob.Remainder::glob).filter(keys -> !keys.equals(NO_KEY));
    }

    /**
     * Returns phrases such as {@code public/*} or {@code * except private/*}, whose union is the set; where no such phrases fit, the last
     * says so with {@code part of …}.
     */
    static List<String> describe(Language keys, Collection<Glob> named, ResourceWork memory) {
        if (KEYS.isSubsetOf(keys)) {
            return List.of("*");
        }
        List<String> phrases = new ArrayList<>();
        Language left = keys;
        for (Glob glob : named) {
            if (left.isEmpty()) {
                break;
            }
            Language pattern = memory.keys(glob);
            if (pattern.isSubsetOf(keys) && !pattern.isDisjointFrom(left)) {
                phrases.add(glob.toString());
                left = left.minus(pattern);
            }
        }
        if (left.isEmpty()) {
            return phrases;
        }
        List<Glob> wide = new ArrayList<>(named);
        wide.add(Glob.parse("*"));
        for (Glob glob : wide) {
            Optional<String> phrase = withExceptions(glob, keys, named, memory);
            if (phrase.isPresent() && !left.isDisjointFrom(memory.matching(glob))) {
                phrases.add(phrase.get());
                left = left.minus(memory.matching(glob));
            }
            if (left.isEmpty()) {
                return phrases;
            }
        }
        phrases.add("part of *, for instance " + left.witness().orElse(""));
        return phrases;
    }

    private static Optional<String> withExceptions(
            Glob glob, Language keys, Collection<Glob> named, ResourceWork memory) {
        Language whole = memory.keys(glob);
        List<String> exceptions = new ArrayList<>();
        Language rest = whole;
        for (Glob exception : named) {
            Language pattern = memory.matching(exception);
            if (pattern.isDisjointFrom(keys) && !pattern.isDisjointFrom(rest)) {
                exceptions.add(exception.toString());
                rest = rest.minus(pattern);
            }
        }
        return !exceptions.isEmpty() && rest.isSameAs(whole.intersect(keys))
                ? Optional.of(glob + " except " + String.join(", ", exceptions))
                : Optional.empty();
    }
}
