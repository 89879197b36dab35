package warden.core.drift;

import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import warden.core.survey.Need;
import warden.core.survey.Survey;

/** What keeps two states from being compared. */
public final class Incomparable {
    private final Set<Need> needs = new LinkedHashSet<>();

    /** Adds what one state lacks. */
    public void add(Need need) {
        needs.add(need);
    }

    /** Adds what both together need. What neither of two surveys has, in the same way, keeps nobody from comparing the rest. */
    public void add(Collection<Need> of, Survey old, Survey now) {
        of.stream()
                .filter(need -> !isMissing(need, old) || !isMissing(need, now))
                .forEach(needs::add);
    }

    private static boolean isMissing(Need need, Survey survey) {
        return survey.missing(need.aspect(), need.of()).isPresent();
    }

    /** True when one state lacks this reading. */
    public boolean lacks(String aspect, String of) {
        return needs.stream()
                .anyMatch(need -> need.aspect().equals(aspect) && need.of().equals(of));
    }

    public List<Need> needs() {
        return List.copyOf(needs);
    }
}
