package warden.core.mend;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.audit.Audit;
import warden.core.audit.Audit.UnknownAnswer;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.audit.Finding;
import warden.core.cloud.Cloud;
import warden.core.mend.Proposal.ByHand;
import warden.core.survey.Need;
import warden.core.survey.Survey;

/**
 * Puts changes in their order, tries them one after the other on a copy, and lets the prover decide. A remedy of which a step cannot be
 * proven is left out whole, with the reason; no order is ever tried but the canonical one.
 */
public final class Planner {
    private final Audit start;
    private final List<Check> checks;
    private final Opening opening;
    private final Function<Cloud, Mender> menders;
    private final Function<Edited, Optional<String>> obstacles;
    private final Progress progress;
    private final Prover prover;
    /** What each finding asks for; a finding that comes up on the way belongs to those that brought it up. */
    private final Map<Finding, List<Change>> remedies = new LinkedHashMap<>();

    private final Map<Finding, ByHand> left = new LinkedHashMap<>();
    /** The findings, by fingerprint, whose remedy was tried and left out. */
    private final Set<String> unanswerable = new HashSet<>();

    private final List<Tried> tried = new ArrayList<>();

    /** Makes a set-up of other surveys, with the pipelines as of the same instant. */
    @FunctionalInterface
    public interface Opening {
        /**
         * Opens it.
         *
         * @param rewritten the texts of pipelines' files that take the place of those that were read, by the pipelines' subjects
         */
        AuditContext of(List<Survey> surveys, Map<String, String> rewritten);
    }

    /** Is told what is being done. */
    @FunctionalInterface
    public interface Progress {
        /** Says how many of how many changes are proven. */
        void proven(int done, int due);
    }

    /** A change that was made on the copy; one that found nothing to change has no step. */
    private record Tried(
            Change change,
            Optional<Edited> edited,
            List<Survey> surveys,
            AuditContext state,
            Optional<StepProof> proof) {}

    private Planner(
            Audit start,
            List<Check> checks,
            List<Check> ofPublishing,
            Opening opening,
            Function<Cloud, Mender> menders,
            Function<Edited, Optional<String>> obstacles,
            Progress progress) {
        this.start = start;
        this.checks = checks;
        this.opening = opening;
        this.menders = menders;
        this.obstacles = obstacles;
        this.progress = progress;
        this.prover = new Prover(start.context(), ofPublishing);
    }

    /**
     * Makes a plan.
     *
     * @param start all questions, asked about what was surveyed
     * @param checks all questions
     * @param ofPublishing those whether publishers can publish
     * @param asked the findings to be mended
     * @param opening makes a set-up of other surveys, with the same pipelines as of the same instant
     * @param menders gives each cloud's
     * @param obstacles says why a change cannot be written down; absent where it can
     */
    public static Plan plan(
            Audit start,
            List<Check> checks,
            List<Check> ofPublishing,
            Predicate<Finding> asked,
            Opening opening,
            Function<Cloud, Mender> menders,
            Function<Edited, Optional<String>> obstacles,
            Progress progress) {
        return new Planner(start, checks, ofPublishing, opening, menders, obstacles, progress).plan(asked);
    }

    private Plan plan(Predicate<Finding> asked) {
        for (Finding finding : start.findings().stream().filter(asked).toList()) {
            propose(start.context(), finding)
                    .ifPresentOrElse(
                            changes -> remedies.put(finding, changes),
                            () -> left.putIfAbsent(finding, byHand(start.context(), finding)));
        }
        Set<Finding> broughtUp = new LinkedHashSet<>();
        while (true) {
            if (!tryAll()) {
                continue;
            }
            AuditContext last = tried.isEmpty()
                    ? start.context()
                    : tried.get(tried.size() - 1).state();
            Audit end = tried.isEmpty() ? start : Audit.of(last, checks, card -> true);
            if (leavesSome(end)) {
                continue;
            }
            List<Finding> fresh = fresh(end);
            Optional<Finding> unanswered = Optional.empty();
            for (Finding finding : fresh) {
                Optional<List<Change>> changes = propose(last, finding);
                boolean isOpen = !unanswerable.contains(finding.fingerprint())
                        && broughtUp.stream().noneMatch(each -> isSame(each, finding));
                if (isOpen && changes.isPresent()) {
                    broughtUp.add(finding);
                    remedies.put(finding, changes.get());
                } else {
                    unanswered = unanswered.or(() -> Optional.of(finding));
                }
            }
            if (unanswered.isPresent()) {
                dropWhatBrings(unanswered.get());
                // What was brought up by what is out now may not come up again.
                broughtUp.forEach(remedies::remove);
                broughtUp.clear();
                continue;
            }
            if (!fresh.isEmpty()) {
                continue;
            }
            Optional<UnknownAnswer> open = freshUnknown(end);
            if (open.isPresent()) {
                dropWhatOpens(open.get());
                continue;
            }
            return finished(end, broughtUp, asked);
        }
    }

    private static boolean isSame(Finding one, Finding other) {
        return one.fingerprint().equals(other.fingerprint());
    }

    private Optional<List<Change>> propose(AuditContext state, Finding finding) {
        Proposal proposal = proposal(state, finding);
        return proposal instanceof Proposal.Changes changes
                        && !changes.changes().isEmpty()
                ? Optional.of(changes.changes())
                : Optional.empty();
    }

    private ByHand byHand(AuditContext state, Finding finding) {
        return proposal(state, finding) instanceof ByHand byHand
                ? byHand
                : new ByHand(
                        "there is nothing to change in the settings that were surveyed", finding.remedy(), List.of());
    }

    private Proposal proposal(AuditContext state, Finding finding) {
        return proposal(menders, state, finding);
    }

    /** Returns what the mender of its cloud proposes about a finding. */
    static Proposal proposal(Function<Cloud, Mender> menders, AuditContext state, Finding finding) {
        Cloud cloud = cloudOf(state, finding);
        return menders.apply(cloud).propose(state, finding);
    }

    /** Returns the cloud that a finding is about. */
    private static Cloud cloudOf(AuditContext state, Finding finding) {
        Set<String> files =
                finding.because().stream().map(cited -> cited.file()).collect(Collectors.toSet());
        return state.clouds().stream()
                .filter(cloud -> cloud.accounts().stream()
                        .anyMatch(account ->
                                files.contains(account.survey().header().file())))
                .findFirst()
                .or(() -> state.clouds().stream()
                        .filter(cloud -> cloud.accountOf(finding.subject()).isPresent())
                        .findFirst())
                .or(() -> state.clouds().stream()
                        .filter(cloud -> cloud.sites().stream().anyMatch(site -> finding.site()
                                .filter(site.name()::equals)
                                .isPresent()))
                        .findFirst())
                .orElse(state.clouds().get(0));
    }

    // --- trying

    private List<Change> inOrder() {
        Map<String, Change> all = new LinkedHashMap<>();
        remedies.values().stream().flatMap(List::stream).forEach(change -> all.putIfAbsent(change.key(), change));
        return all.values().stream().sorted(Comparator.comparing(Change::phase)).toList();
    }

    /** Makes the changes one after the other; returns false where one could not be proven, and was left out. */
    private boolean tryAll() {
        List<Change> changes = inOrder();
        int same = 0;
        while (same < changes.size()
                && same < tried.size()
                && tried.get(same).change().key().equals(changes.get(same).key())) {
            same++;
        }
        tried.subList(same, tried.size()).clear();
        for (int i = same; i < changes.size(); i++) {
            progress.proven(i, changes.size());
            Tried next = tryOne(changes.get(i));
            Optional<String> obstacle = next.edited().flatMap(this::obstacle);
            if (obstacle.isPresent()) {
                drop(changes.get(i), obstacle.get(), List.of());
                return false;
            }
            if (next.proof().isPresent() && !next.proof().get().holds()) {
                drop(
                        changes.get(i),
                        next.proof().get().why(),
                        next.proof().get().open());
                return false;
            }
            tried.add(next);
        }
        return true;
    }

    private Optional<String> obstacle(Edited edited) {
        return edited.refusal().or(() -> obstacles.apply(edited));
    }

    /** Returns what the steps so far have changed that visitors' answers rest on, by its identifiers. */
    private Set<String> touched(Edited last) {
        Set<String> touched = new HashSet<>();
        Stream.concat(tried.stream().flatMap(each -> each.edited().stream()), Stream.of(last))
                .filter(Edited::isSeen)
                .forEach(edited -> {
                    touched.add(edited.subject());
                    edited.readings().forEach(line -> touched.add(line.of()));
                });
        return touched;
    }

    private Tried tryOne(Change change) {
        List<Survey> surveys = tried.isEmpty()
                ? start.context().surveys()
                : tried.get(tried.size() - 1).surveys();
        AuditContext state =
                tried.isEmpty() ? start.context() : tried.get(tried.size() - 1).state();
        Optional<Edited> edited = change.in(state);
        if (edited.isEmpty()) {
            return new Tried(change, edited, surveys, state, Optional.empty());
        }
        List<Survey> changed = change.made(edited.get(), surveys);
        if (obstacle(edited.get()).isPresent()) {
            return new Tried(change, edited, surveys, state, Optional.empty());
        }
        AuditContext after = opening.of(changed, Map.of());
        return new Tried(change, edited, changed, after, Optional.of(prover.prove(after, touched(edited.get()))));
    }

    /** Leaves out every remedy that asks for a change. */
    private void drop(Change change, String why, List<Need> needs) {
        List<Finding> concerned = remedies.entrySet().stream()
                .filter(entry ->
                        entry.getValue().stream().anyMatch(each -> each.key().equals(change.key())))
                .map(Map.Entry::getKey)
                .toList();
        concerned.forEach(finding -> drop(finding, why, needs));
    }

    private void drop(Finding finding, String why, List<Need> needs) {
        remedies.remove(finding);
        unanswerable.add(finding.fingerprint());
        left.put(finding, new ByHand(why, finding.remedy(), needs));
    }

    // --- judging the end

    /** Leaves out the remedies that do not end their finding; returns true where there was one. */
    private boolean leavesSome(Audit end) {
        Map<String, Finding> there = byFingerprint(end);
        boolean some = false;
        for (Finding finding : List.copyOf(remedies.keySet())) {
            Optional<UnknownAnswer> open = unknown(end, finding);
            if (there.containsKey(finding.fingerprint())) {
                drop(finding, "the settings that can be changed do not end it", List.of());
                some = true;
            } else if (open.isPresent()) {
                drop(
                        finding,
                        "whether it ends it cannot be told",
                        open.get().verdict().needs());
                some = true;
            }
        }
        return some;
    }

    static Optional<UnknownAnswer> unknown(Audit end, Finding finding) {
        return end.unknowns().stream()
                .filter(answer -> answer.card().id().equals(finding.card().id()))
                .filter(answer -> answer.verdict().subject().equals(finding.subject()))
                .findFirst();
    }

    static Map<String, Finding> byFingerprint(Audit audit) {
        return Stream.concat(audit.findings().stream(), audit.waived().stream().map(Audit.Waived::finding))
                .collect(Collectors.toMap(
                        Finding::fingerprint, finding -> finding, (one, same) -> one, LinkedHashMap::new));
    }

    private List<Finding> fresh(Audit end) {
        Map<String, Finding> before = byFingerprint(start);
        return end.findings().stream()
                .filter(finding -> !before.containsKey(finding.fingerprint())
                        || finding.severity()
                                        .compareTo(before.get(finding.fingerprint())
                                                .severity())
                                < 0)
                .toList();
    }

    static Set<String> questions(Audit audit) {
        Set<String> open = new HashSet<>();
        audit.unknowns().forEach(answer -> open.add(question(answer)));
        return open;
    }

    /** Returns what tells an open question from others: its check and its subject. */
    static String question(UnknownAnswer answer) {
        return answer.card().id() + "\n" + answer.verdict().subject();
    }

    private Optional<UnknownAnswer> freshUnknown(Audit end) {
        Set<String> before = questions(start);
        return end.unknowns().stream()
                .filter(answer -> !before.contains(question(answer)))
                .findFirst();
    }

    /** Finds the first change after which something holds, and leaves out what asks for it. */
    private void dropFirst(Predicate<Audit> holds, String why, List<Need> needs) {
        int from = 0;
        int to = tried.size() - 1;
        while (from < to) {
            int middle = (from + to) / 2;
            if (holds.test(Audit.of(tried.get(middle).state(), checks, card -> true))) {
                to = middle;
            } else {
                from = middle + 1;
            }
        }
        drop(tried.get(from).change(), why, needs);
    }

    private void dropWhatBrings(Finding finding) {
        dropFirst(
                audit -> byFingerprint(audit).containsKey(finding.fingerprint()),
                "something else would be wrong afterwards: " + finding.says() + " ["
                        + finding.card().id() + "]",
                List.of());
    }

    private void dropWhatOpens(UnknownAnswer answer) {
        String question = question(answer);
        dropFirst(
                audit -> questions(audit).contains(question),
                "it could not be told any more whether " + answer.card().id() + " holds",
                answer.verdict().needs());
    }

    private Plan finished(Audit end, Set<Finding> broughtUp, Predicate<Finding> asked) {
        List<Step> steps = new ArrayList<>();
        Map<String, Integer> numbers = new LinkedHashMap<>();
        for (Tried each : tried) {
            if (each.edited().isPresent()) {
                steps.add(new Step(
                        steps.size() + 1,
                        each.change(),
                        each.edited().get(),
                        each.proof().orElseThrow()));
                numbers.put(each.change().key(), steps.size());
            }
        }
        List<Plan.Mended> mended = new ArrayList<>();
        remedies.forEach((finding, changes) -> {
            if (!broughtUp.contains(finding)) {
                mended.add(new Plan.Mended(
                        finding,
                        changes.stream()
                                .flatMap(change -> Optional.ofNullable(numbers.get(change.key())).stream())
                                .sorted()
                                .toList()));
            }
        });
        List<Survey> after = tried.isEmpty()
                ? start.context().surveys()
                : tried.get(tried.size() - 1).surveys();
        Rewriting rewriting = new Rewriting(start, checks, opening, after, end);
        left.keySet().stream()
                .filter(asked)
                .forEach(finding -> rewriting.attempt(finding).ifPresent(instead -> left.put(finding, instead)));
        Map<String, Finding> there = byFingerprint(rewriting.audit());
        List<Plan.Left> stay = new ArrayList<>();
        for (Finding finding : start.findings()) {
            ByHand byHand = left.get(finding);
            if (byHand == null) {
                continue;
            }
            if (rewriting.ends(finding)) {
                continue;
            }
            // Where a pipeline's text has changed, what is still said of it is told apart by check and subject only.
            boolean isMoved = rewriting.rewrites(finding.subject())
                    && there.values().stream()
                            .anyMatch(each ->
                                    each.card().id().equals(finding.card().id())
                                            && each.subject().equals(finding.subject()));
            if (isMoved
                    || there.containsKey(finding.fingerprint())
                    || unknown(end, finding).isPresent()) {
                stay.add(new Plan.Left(finding, byHand));
            } else {
                // Another remedy has ended it with its own.
                mended.add(new Plan.Mended(finding, List.of()));
            }
        }
        return new Plan(start, rewriting.audit(), steps, rewriting.patches(), mended, stay, rewriting.surveys());
    }
}
