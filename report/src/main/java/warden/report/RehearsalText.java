package warden.report;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import warden.core.rehearse.Rehearsal;
import warden.core.rehearse.RehearsedUses.Refused;
import warden.core.rehearse.StorageChanges;

/** A rehearsal for people, on a screen. */
public final class RehearsalText {
    private static final int MOST = 10;
    private static final int FEW = 5;

    private final Rehearsal rehearsal;
    private final Style style;
    private final StringBuilder out = new StringBuilder();

    private RehearsalText(Rehearsal rehearsal, Style style) {
        this.rehearsal = rehearsal;
        this.style = style;
    }

    public static String of(Rehearsal rehearsal, Style style) {
        RehearsalText text = new RehearsalText(rehearsal, style);
        text.verdict();
        text.refusals();
        text.notSimulated();
        text.unused();
        text.storage();
        text.visits();
        text.edges();
        text.hosts();
        return text.out.toString();
    }

    private void line(String text) {
        out.append(text.stripTrailing()).append('\n');
    }

    private void item(String text) {
        line("  " + Lines.wrapped(Lines.brief(text), "    ", style));
    }

    private void title(String text) {
        line("");
        line(style.strong(text));
    }

    private void verdict() {
        line("");
        String calls = counted(rehearsal.uses().calls(), "call") + " as " + rehearsal.as();
        if (rehearsal.works()) {
            line(style.good("The deployment would work") + ": " + calls + ", none refused.");
            return;
        }
        if (rehearsal.isRefused()) {
            line(style.warning("The deployment would " + (rehearsal.isLenient() ? "be refused" : "not work")) + ": "
                    + calls + ", " + rehearsal.uses().refusedCalls()
                    + (rehearsal.isLenient() ? " would have been refused." : " refused."));
        } else if (!rehearsal.isProof()) {
            line(style.notice("Whether the deployment would work is not known") + ": " + calls
                    + ", none refused, but some asked what is not simulated.");
        } else {
            line(style.warning("The command failed") + ": " + calls + ", none refused.");
        }
        line("The command ended "
                + (rehearsal.ended().isPresent() ? "with " + rehearsal.ended().getAsInt() + "." : "by a signal."));
    }

    private static String counted(long count, String what) {
        return count + " " + what + (count == 1 ? "" : "s");
    }

    private void refusals() {
        List<Refused> refusals = rehearsal.uses().refusals();
        if (refusals.isEmpty()) {
            return;
        }
        title(rehearsal.isLenient() ? "Would have been refused" : "Refused");
        refusals.stream()
                .limit(MOST)
                .forEach(each -> item(each.action() + " on " + each.on() + ", needed by call " + each.call() + " ("
                        + each.operation() + ")"
                        + (each.times() > 1 ? " and " + counted(each.times() - 1, "other") : "") + ": "
                        + each.says()));
        more(refusals.size(), rehearsal.uses().isCut() ? "at least " : "");
        if (!rehearsal.isLenient()) {
            item("what comes behind a refusal may need more: --keep-going refuses nothing, and shows all");
        }
        if (rehearsal.proposal().isEmpty()) {
            // What was refused was another's, whom the deployment became.
            return;
        }
        title("Statements that would allow it, where no deny stands against them");
        rehearsal.proposal().lines().forEach(each -> line("  " + Lines.brief(each)));
    }

    private void more(int all, String atLeast) {
        if (all > MOST) {
            line("  and " + atLeast + (all - MOST) + " more; --format json has all");
        }
    }

    private void notSimulated() {
        if (rehearsal.isProof()) {
            return;
        }
        title("Not simulated, or not known, so that this is no proof");
        rehearsal.uses().notSimulated().forEach((call, times) -> item(call + ", " + counted(times, "time")));
    }

    private void unused() {
        boolean isWhole = rehearsal.works() || rehearsal.isLenient();
        title("Allowed and not used" + (isWhole ? "" : ", as far as the command came"));
        List<String> unused = rehearsal.unused();
        if (unused.isEmpty()) {
            line("  nothing");
            return;
        }
        item(counted(unused.size(), "action") + ": " + listed(unused));
        rehearsal.worst().forEach(this::item);
        item("a policy of what was used: gentle-warden trim --rehearsal RECORD, with the file of --record");
    }

    private static String listed(List<String> all) {
        String some = all.stream().limit(FEW).collect(Collectors.joining(", "));
        return all.size() > FEW ? some + " and " + (all.size() - FEW) + " more" : some;
    }

    private void storage() {
        StorageChanges changes = rehearsal.changes();
        title("Changed in storage");
        Map<String, List<StorageChanges.Change>> byStore = changes.changes().stream()
                .collect(Collectors.groupingBy(StorageChanges.Change::store, TreeMap::new, Collectors.toList()));
        if (byStore.isEmpty()) {
            line("  nothing");
        }
        byStore.forEach((store, own) -> {
            StorageChanges here = new StorageChanges(own);
            item(store.substring(store.lastIndexOf(':') + 1) + ": " + here.count(StorageChanges.Kind.UPLOADED)
                    + " uploaded, " + here.count(StorageChanges.Kind.OVERWRITTEN) + " overwritten, "
                    + here.count(StorageChanges.Kind.DELETED) + " deleted");
        });
        rehearsal
                .notable()
                .forEach(each -> item("look at " + each.change().key() + " ("
                        + each.change().kind().word() + "): " + each.why()));
    }

    private void visits() {
        if (rehearsal.visits().isEmpty() && rehearsal.unread().isEmpty()) {
            return;
        }
        title("What visitors get, before and after");
        rehearsal.visits().stream()
                .limit(MOST)
                .forEach(each -> item((each.isWorse() ? "worse: " : "") + each.url() + ": "
                        + each.old().outcomes().get(0).said() + " → "
                        + each.now().outcomes().get(0).said()));
        more(rehearsal.visits().size(), "");
        if (!rehearsal.unread().isEmpty()) {
            item(counted(rehearsal.unread().size(), "address or reading")
                            .replace("address or readings", "addresses or readings")
                    + " of which it is not known: "
                    + rehearsal.unread().stream().limit(3).collect(Collectors.joining(", ")));
        }
    }

    private void edges() {
        if (rehearsal.invalidated().isEmpty() && rehearsal.stale().isEmpty()) {
            return;
        }
        title("Edges");
        byEdge(rehearsal.invalidated()).forEach((edge, paths) -> item(edge + ": invalidated " + listed(paths)));
        byEdge(rehearsal.stale())
                .forEach((edge, paths) -> item(edge + ": changed, and not invalidated: " + listed(paths)));
    }

    /** Returns the paths by the last part of their edge's name. */
    private static Map<String, List<String>> byEdge(List<String> all) {
        return all.stream()
                .collect(Collectors.groupingBy(
                        each -> each.substring(each.lastIndexOf('/', each.indexOf(' ')) + 1, each.indexOf(' ')),
                        TreeMap::new,
                        Collectors.mapping(each -> each.substring(each.indexOf(' ') + 1), Collectors.toList())));
    }

    private void hosts() {
        if (!rehearsal.refusedHosts().isEmpty()) {
            title("Other hosts that the command tried to reach, and was kept from");
            rehearsal.refusedHosts().forEach((host, times) -> item(host + ", " + counted(times, "time")));
            item("--let-through HOST lets one through");
        }
        if (rehearsal.late() > 0) {
            title("After the end");
            item(counted(rehearsal.late(), "call")
                    + " came when the command had ended: something that it started goes on");
        }
    }
}
