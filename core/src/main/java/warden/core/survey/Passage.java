package warden.core.survey;

import java.util.Objects;
import org.jspecify.annotations.Nullable;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;

/**
 * A passage of a document: where it stands, and its first words. What is a part of a document is spelled when it is asked for, since of all that
 * is cited little is ever shown. Two are equal when they say the same at the same place.
 */
public final class Passage {
    /** In code points. */
    private static final int LONGEST_QUOTE = 200;
    /** No more of a document is spelled than can matter: a code point has at most two characters. */
    private static final int LONGEST_SPELLED = 2 * LONGEST_QUOTE + 1;

    private final @Nullable JsonPart part;
    private final String text;
    private volatile @Nullable String path;
    private volatile @Nullable String quote;

    private Passage(@Nullable JsonPart part, String text, @Nullable String path) {
        this.part = part;
        this.text = text;
        this.path = path;
    }

    /** Returns a part of a document as a passage of it. */
    static Passage of(JsonPart part) {
        return new Passage(part, "", null);
    }

    /** Returns a passage by its JSON Pointer and its text, of which the beginning is quoted. */
    static Passage of(String path, String text) {
        return new Passage(null, text, path);
    }

    /** Returns the JSON Pointer of the passage. */
    public String path() {
        String known = path;
        if (known == null) {
            known = Objects.requireNonNull(part).at().toString();
            path = known;
        }
        return known;
    }

    /** Returns the passage, of a long one the beginning. */
    public String quote() {
        String known = quote;
        if (known == null) {
            known = cut(part == null ? text : JsonSpelling.start(part, LONGEST_SPELLED));
            quote = known;
        }
        return known;
    }

    private static String cut(String text) {
        boolean isLong = text.length() > LONGEST_QUOTE
                && text.codePointCount(0, Math.min(text.length(), LONGEST_SPELLED)) > LONGEST_QUOTE;
        return isLong ? text.substring(0, text.offsetByCodePoints(0, LONGEST_QUOTE - 1)) + "…" : text;
    }

    @Override
    public boolean equals(Object other) {
        return this == other
                || (other instanceof Passage that && path().equals(that.path()) && quote().equals(that.quote()));
    }

    @Override
    public int hashCode() {
        return path().hashCode();
    }

    @Override
    public String toString() {
        return path() + "  " + quote();
    }
}
