package warden.core.pipeline;

import java.util.List;

/**
 * A text of a pipeline as far as the file itself tells it.
 *
 * @param text the text, with the parts that only the running pipeline knows spelled as the file spells them
 * @param open the names of those parts: {@code secrets.BUCKET}, {@code TARGET}; empty when the whole is known
 */
public record PipelineValue(String text, List<String> open) {
    public PipelineValue {
        open = List.copyOf(open);
    }

    /** Returns a text that is known. */
    public static PipelineValue of(String text) {
        return new PipelineValue(text, List.of());
    }

    /** Returns a text that is not known, under its name. */
    public static PipelineValue open(String spelled, String name) {
        return new PipelineValue(spelled, List.of(name));
    }

    public boolean isKnown() {
        return open.isEmpty();
    }

    /** Returns this text followed by the other. */
    public PipelineValue then(PipelineValue next) {
        if (next.text().isEmpty()) {
            return this;
        }
        if (text.isEmpty()) {
            return next;
        }
        return new PipelineValue(
                text + next.text(),
                java.util.stream.Stream.concat(open.stream(), next.open().stream())
                        .toList());
    }

    @Override
    public String toString() {
        return text;
    }
}
