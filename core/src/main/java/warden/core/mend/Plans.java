package warden.core.mend;

import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.cloud.Cloud;
import warden.core.mend.Choice.Answer;

/**
 * The plan for what is stated, and where something is not stated that has two right answers, a whole plan for each of them.
 *
 * @param plan the one that takes nobody for meant who is not stated
 * @param choices what is not stated
 * @param answers both plans, or none
 * @param obstacles why there are none, by answer; empty where there are both, or nothing is to be chosen
 */
public record Plans(Plan plan, List<Choice> choices, Map<Answer, Plan> answers, Map<Answer, String> obstacles) {
    public Plans {
        choices = List.copyOf(choices);
        answers = Map.copyOf(answers);
        obstacles = Map.copyOf(obstacles);
    }

    /** Makes plans under a site file that states an answer. */
    public interface Stating {
        /**
         * States an answer for sites.
         *
         * @return absent where the owner's file cannot be edited with certainty
         */
        Optional<Stated> state(List<Choice> choices, Answer answer);
    }

    /**
     * An answer that is stated.
     *
     * @param file the site file's path
     * @param before its text; empty where there is none yet
     * @param after its text with the statement
     * @param audit of the same surveys under it
     */
    public record Stated(String file, String before, String after, Audit audit, Planning planning) {}

    /** Makes a plan for some findings of an audit. */
    @FunctionalInterface
    public interface Planning {
        /** Returns the plan. */
        Plan plan(Audit start, Predicate<Finding> asked);
    }

    /**
     * Makes the plan, and those of both answers where they can be proven.
     *
     * @param menders gives each cloud's
     */
    public static Plans of(
            Audit start,
            Predicate<Finding> asked,
            Planning planning,
            Function<Cloud, Mender> menders,
            Stating stating) {
        Plan plan = planning.plan(start, asked);
        List<Choice> choices = Choice.in(start, asked);
        Map<Answer, Optional<Stated>> stated = new EnumMap<>(Answer.class);
        boolean isSettled = choices.isEmpty();
        while (!isSettled) {
            List<Choice> before = choices;
            for (Answer answer : Answer.values()) {
                stated.put(answer, stating.state(before, answer));
            }
            choices = before.stream()
                    .filter(choice -> stated.values().stream()
                            .flatMap(Optional::stream)
                            .allMatch(each -> isEndable(choice, each.audit(), menders)))
                    .toList();
            isSettled = choices.isEmpty() || choices.size() == before.size();
        }
        Map<Answer, Plan> answers = new EnumMap<>(Answer.class);
        Map<Answer, String> obstacles = new EnumMap<>(Answer.class);
        for (Answer answer : choices.isEmpty() ? new Answer[0] : Answer.values()) {
            Optional<Plan> answered = stated.get(answer).map(each -> plan(start, asked, each));
            Optional<String> obstacle = answered.isEmpty()
                    ? Optional.of("the site file cannot be edited with certainty")
                    : obstacle(start, choices, answered.get());
            if (obstacle.isPresent()) {
                obstacles.put(answer, obstacle.get());
            } else {
                answers.put(answer, answered.get());
            }
        }
        return new Plans(plan, choices, obstacles.isEmpty() ? answers : Map.of(), obstacles);
    }

    /** False where an answer leaves the finding to a person: nothing but the other answer is a plan then. */
    private static boolean isEndable(Choice choice, Audit audit, Function<Cloud, Mender> menders) {
        return audit.findings().stream()
                .filter(choice::isAbout)
                .allMatch(finding ->
                        Planner.proposal(menders, audit.context(), finding) instanceof Proposal.Changes changes
                                && !changes.changes().isEmpty());
    }

    private static Plan plan(Audit start, Predicate<Finding> asked, Stated stated) {
        Set<String> before = Planner.byFingerprint(start).keySet();
        Plan plan = stated.planning()
                .plan(stated.audit(), finding -> asked.test(finding) || !before.contains(finding.fingerprint()));
        Set<String> still = Planner.byFingerprint(stated.audit()).keySet();
        List<Finding> answered = start.findings().stream()
                .filter(asked)
                .filter(finding -> !still.contains(finding.fingerprint()))
                .toList();
        return plan.with(new Plan.Patch(stated.file(), stated.before(), stated.after(), answered));
    }

    /** What holds for every plan has to hold against what was surveyed too, where nothing was stated. */
    private static Optional<String> obstacle(Audit start, List<Choice> choices, Plan plan) {
        for (Choice choice : choices) {
            Optional<String> why = choice.remainsIn(plan);
            if (why.isPresent()) {
                return Optional.of(choice.finding().card().id() + " is left: " + why.get());
            }
        }
        Map<String, Severity> before = worst(start);
        Map<String, Severity> after = worst(plan.end());
        Set<String> open = Planner.questions(start);
        return plan.end().findings().stream()
                .filter(finding -> {
                    Severity was = before.get(question(finding));
                    return was == null || after.get(question(finding)).compareTo(was) < 0;
                })
                .map(finding -> "something else would be wrong: " + finding.says() + " ["
                        + finding.card().id() + "]")
                .findFirst()
                .or(() -> plan.end().unknowns().stream()
                        .filter(answer -> !open.contains(Planner.question(answer)))
                        .map(answer -> "it could not be told any more whether "
                                + answer.card().id() + " holds")
                        .findFirst());
    }

    /** A patch moves what is said of a file, so that findings are told apart by check and subject here. */
    private static String question(Finding finding) {
        return finding.card().id() + "\n" + finding.subject();
    }

    private static Map<String, Severity> worst(Audit audit) {
        Map<String, Severity> worst = new HashMap<>();
        Planner.byFingerprint(audit)
                .values()
                .forEach(finding -> worst.merge(
                        question(finding), finding.severity(), (one, other) -> one.compareTo(other) < 0 ? one : other));
        return worst;
    }
}
