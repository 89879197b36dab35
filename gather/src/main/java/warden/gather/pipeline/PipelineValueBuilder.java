package warden.gather.pipeline;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import warden.core.pipeline.PipelineValue;

/** Puts a text together from what is known of it and what is not. What grows beyond all use, by variables that double say, is not known. */
final class PipelineValueBuilder {
    static final int LONGEST = 200_000;
    private static final int MOST_NAMES = 50;

    private final StringBuilder text = new StringBuilder();
    private final Set<String> open = new LinkedHashSet<>();
    private boolean tooLong;

    void add(String part) {
        if (text.length() + part.length() > LONGEST) {
            tooLong = true;
        } else {
            text.append(part);
        }
    }

    void add(PipelineValue part) {
        add(part.text());
        part.open().stream().limit(MOST_NAMES).forEach(name -> {
            if (open.size() < MOST_NAMES) {
                open.add(name);
            }
        });
    }

    PipelineValue term() {
        if (tooLong) {
            return PipelineValue.open(text.substring(0, 100) + "…", "a text of more than " + LONGEST + " characters");
        }
        return new PipelineValue(text.toString(), List.copyOf(open));
    }
}
