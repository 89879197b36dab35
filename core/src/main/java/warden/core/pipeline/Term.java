package warden.core.pipeline;

import java.util.List;

/**
 * A text of a pipeline as far as the file itself tells it.
 *
 * @param text the text, with the parts that only the running pipeline knows spelled as the file spells them
 * @param open the names of those parts: {@code secrets.BUCKET}, {@code TARGET}; empty when the whole is known
 */
public record Term(String text, List<String> open) {
    public Term {
        open = List.copyOf(open);
    }

    /** Returns a text that is known. */
    public static Term of(String text) {
        return new Term(text, List.of());
    }

    /** Returns a text that is not known, under its name. */
    public static Term open(String spelled, String name) {
        return new Term(spelled, List.of(name));
    }

    public boolean isKnown() {
        return open.isEmpty();
    }

    /** Returns this text followed by the other. */
    public Term then(Term next) {
        if (next.text().isEmpty()) {
            return this;
        }
        if (text.isEmpty()) {
            return next;
        }
        return new Term(
                text + next.text(),
                java.util.stream.Stream.concat(open.stream(), next.open().stream())
                        .toList());
    }

    @Override
    public String toString() {
        return text;
    }
}
