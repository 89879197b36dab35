package warden.core.document;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * A regular expression that is compiled when it is first asked for: most commands ask for none of those that look for rare things, and
 * compiling takes longer than matching a short text. Safe for use by several threads.
 */
public final class LatePattern {
    private final String regex;
    private volatile @Nullable Pattern compiled;

    private LatePattern(String regex) {
        this.regex = regex;
    }

    /** Returns the expression; what is wrong with its syntax comes up with the first matcher. */
    public static LatePattern of(String regex) {
        return new LatePattern(regex);
    }

    /**
     * Returns a matcher of {@code text}.
     *
     * @throws java.util.regex.PatternSyntaxException when the expression is none
     */
    public Matcher matcher(CharSequence text) {
        Pattern pattern = compiled;
        if (pattern == null) {
            pattern = Pattern.compile(regex);
            compiled = pattern;
        }
        return pattern.matcher(text);
    }
}
