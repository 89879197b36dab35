package warden.core.audit;

import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import warden.core.algebra.TooComplexException;
import warden.core.survey.Need;

/**
 * Asks all checks. Those that ask of the same things are asked together, of a few things at a time, so that what was worked out for one thing
 * serves all of them and is let go of afterwards; the things are shared out among the processors. What checks share remembers its answers, and an answer does
 * not depend on who asks first.
 */
final class Round {
    /** Things that one processor takes at a time: enough to be worth taking, few enough to be shared out evenly. */
    private static final int BATCH = 16;

    private final AuditContext context;
    private final Map<Check, List<Verdict>> verdicts = new IdentityHashMap<>();

    private Round(AuditContext context) {
        this.context = context;
    }

    /** A check whose question is ready. */
    private record Ready(Check check, Asking asking) {}

    /** Checks that ask of the same things. */
    private record Group(List<? extends Judged> subjects, List<Ready> checks) {}

    /**
     * Returns the verdicts of each check, in the order of the checks; of one check, in the order of the things that it asks of.
     *
     * @param answered is told of each check when it has answered
     */
    static List<List<Verdict>> verdicts(AuditContext context, List<Check> checks, Consumer<Check> answered) {
        Round round = new Round(context);
        for (Group group : round.groups(checks)) {
            round.ask(group);
            group.checks().forEach(ready -> answered.accept(ready.check()));
        }
        return checks.stream().map(round.verdicts::get).toList();
    }

    private List<Group> groups(List<Check> checks) {
        Map<List<? extends Judged>, Group> groups = new IdentityHashMap<>();
        List<Group> inOrder = new ArrayList<>();
        for (Check check : checks) {
            try {
                Asking asking = check.asking(context);
                Group group = groups.get(asking.subjects());
                if (group == null) {
                    group = new Group(asking.subjects(), new ArrayList<>());
                    groups.put(asking.subjects(), group);
                    inOrder.add(group);
                }
                group.checks().add(new Ready(check, asking));
            } catch (TooComplexException tooComplex) {
                verdicts.put(check, List.of(unknown(check, tooComplex)));
            }
        }
        return inOrder;
    }

    private void ask(Group group) {
        int batches = (group.subjects().size() + BATCH - 1) / BATCH;
        IntStream places = IntStream.range(0, batches);
        List<List<List<Verdict>>> byBatch = (batches > 1 ? places.parallel() : places)
                .mapToObj(batch -> batch(group, batch * BATCH))
                .toList();
        for (int i = 0; i < group.checks().size(); i++) {
            int place = i;
            Ready ready = group.checks().get(i);
            List<Verdict> all = new ArrayList<>();
            byBatch.forEach(batch -> all.addAll(batch.get(place)));
            try {
                all.addAll(ready.asking().unread().get());
                verdicts.put(ready.check(), ready.asking().told().apply(all));
            } catch (TooComplexException tooComplex) {
                verdicts.put(ready.check(), List.of(unknown(ready.check(), tooComplex)));
            }
        }
    }

    /** Returns, for each check, its verdicts on the things from a place on. */
    private static List<List<Verdict>> batch(Group group, int from) {
        List<List<Verdict>> verdicts = new ArrayList<>();
        group.checks().forEach(ready -> verdicts.add(new ArrayList<>()));
        int to = Math.min(group.subjects().size(), from + BATCH);
        // One check of all of these things, then the next: the processor keeps at hand what it runs.
        for (int i = 0; i < verdicts.size(); i++) {
            for (int at = from; at < to; at++) {
                verdicts.get(i).addAll(group.checks().get(i).asking().of().apply(at));
            }
        }
        for (int at = from; at < to; at++) {
            group.subjects().get(at).letGo();
        }
        return verdicts;
    }

    /** A check that gives up on what is too complex leaves its question open for the whole account. */
    private Verdict unknown(Check check, TooComplexException tooComplex) {
        String account = context.accounts().get(0).number();
        return new Verdict.Unknown(
                account,
                Optional.empty(),
                List.of(new Need(check.card().looksAt(), account, "too complex: " + tooComplex.getMessage(), "")));
    }
}
