package warden.core.access;

import java.util.List;
import java.util.Optional;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * How far an ability reaches.
 *
 * @param which for {@code ALL} and {@code SOME}: patterns of keys, conditions, or actions
 * @param witness a request that the decision engine allows; present for {@code ALL} and {@code SOME}
 * @param because what allows the witness
 * @param needs what would settle an unknown; for a claim: what could widen it, empty where it goes no further
 * @param why for {@code UNKNOWN}, and for a claim that could be wider: a phrase
 */
public record Extent(
        Kind kind,
        List<String> which,
        Optional<Witness> witness,
        List<Citation> because,
        List<Need> needs,
        String why) {
    /** The four answers. */
    public enum Kind {
        ALL,
        SOME,
        NONE,
        UNKNOWN;

        /** Returns the word that the matrix uses. */
        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    public Extent {
        which = List.copyOf(which);
        because = List.copyOf(because);
        needs = List.copyOf(needs);
        boolean claims = kind == Kind.ALL || kind == Kind.SOME;
        if (claims && witness.isEmpty()) {
            throw new IllegalArgumentException("a claim that something is possible needs a witness");
        }
    }

    public static Extent none() {
        return new Extent(Kind.NONE, List.of(), Optional.empty(), List.of(), List.of(), "");
    }

    public static Extent unknown(String why, List<Need> needs) {
        return new Extent(Kind.UNKNOWN, List.of(), Optional.empty(), List.of(), needs, why);
    }

    /** True for a claim that something unread, or not settled, could widen. */
    public boolean mayBeWider() {
        return isSome() && !why.isEmpty();
    }

    /** True when the ability is certainly there, in part at least. */
    public boolean isSome() {
        return kind == Kind.ALL || kind == Kind.SOME;
    }

    /** Returns whether the ability is there, in part at least. */
    public Truth truth() {
        return kind == Kind.UNKNOWN ? Truth.UNKNOWN : Truth.of(isSome());
    }

    /** Returns what would settle it; that this subject's reading leaves it open, where nothing more precise is known. */
    public List<Need> needsOr(String aspect, String of) {
        return needs.isEmpty() ? List.of(new Need(aspect, of, why, "")) : needs;
    }
}
