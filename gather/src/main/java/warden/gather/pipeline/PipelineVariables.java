package warden.gather.pipeline;

import java.util.Collections;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import warden.core.pipeline.PipelineValue;

/**
 * What variables stand for that a pipeline does not set itself, as the user tells; and which such variables there are. A variable is told by
 * its whole name, {@code secrets.BUCKET}, or by the last part of it.
 */
public final class PipelineVariables {
    private final Map<String, String> told;
    private final Set<String> used = new TreeSet<>();
    private final Set<String> open = new TreeSet<>();

    /** Makes variables that are told. */
    public PipelineVariables(Map<String, String> told) {
        this.told = new TreeMap<>(told);
    }

    /** Returns variables of which none is told. */
    public static PipelineVariables none() {
        return new PipelineVariables(Map.of());
    }

    /** Returns the text that a variable stands for; what nobody told stays open. */
    PipelineValue valueOf(String spelled, String name) {
        String last = name.substring(name.lastIndexOf('.') + 1);
        Optional<String> key = told.containsKey(name)
                ? Optional.of(name)
                : told.containsKey(last) ? Optional.of(last) : Optional.empty();
        key.ifPresentOrElse(used::add, () -> open.add(name));
        return key.map(each -> PipelineValue.of(told.get(each))).orElseGet(() -> PipelineValue.open(spelled, name));
    }

    /** Returns the names that were told and that no pipeline uses. */
    public Set<String> unused() {
        Set<String> unused = new TreeSet<>(told.keySet());
        unused.removeAll(used);
        return unused;
    }

    /** Returns the names of the variables that pipelines use and that nobody told. */
    public Set<String> open() {
        return Collections.unmodifiableSet(open);
    }
}
