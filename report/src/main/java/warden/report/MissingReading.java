package warden.report;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.stream.Collectors;
import warden.core.audit.Audit;
import warden.core.survey.Need;

/**
 * A reading that was not made, and what it leaves open.
 *
 * @param checks the identifiers of the checks that it would settle, in the audit's order
 * @param subjects what those checks ask about, the reading's own subject left out
 */
record MissingReading(Need need, List<String> checks, List<String> subjects) {
    /** Of the checks that one reading would settle, how many are named where there are many. */
    private static final int MOST_CHECKS = 3;

    private static final int FEW_CHECKS = 5;

    /** Returns the readings that would settle what an audit left unknown, in the audit's order; of each question the first that it wants. */
    static List<MissingReading> of(Audit audit) {
        return audit.unknowns().stream()
                .collect(Collectors.groupingBy(
                        answer -> answer.verdict().needs().get(0), LinkedHashMap::new, Collectors.toList()))
                .entrySet()
                .stream()
                .map(group -> of(group.getKey(), group.getValue()))
                .toList();
    }

    private static MissingReading of(Need need, List<Audit.UnknownAnswer> answers) {
        return new MissingReading(
                need,
                answers.stream().map(answer -> answer.card().id()).distinct().toList(),
                answers.stream()
                        .map(answer -> answer.verdict().subject())
                        .filter(subject -> !subject.equals(need.of()))
                        .distinct()
                        .toList());
    }

    /** True when so many checks hang on it that {@link #someChecks} leaves some out. */
    boolean hasMany() {
        return checks.size() > FEW_CHECKS;
    }

    /** Spells the checks, of many the first with the number of the others. */
    String someChecks() {
        return hasMany()
                ? String.join(", ", checks.subList(0, MOST_CHECKS)) + " and " + (checks.size() - MOST_CHECKS) + " more"
                : String.join(", ", checks);
    }
}
