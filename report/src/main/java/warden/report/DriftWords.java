package warden.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.access.Ability;
import warden.core.access.Gain;
import warden.core.cloud.Changes.Allowed;
import warden.core.cloud.Changes.OfCredential;
import warden.core.cloud.Changes.OfName;
import warden.core.cloud.Changes.Presence;
import warden.core.cloud.Changes.Trusted;
import warden.core.cloud.Cloud;
import warden.core.drift.Drift;

/** Says the parts of a drift in sentences. */
final class DriftWords {
    private static final int MOST_ACTIONS = 6;
    private static final int MOST_STORES = 3;

    private final Names names;

    DriftWords(List<Cloud> clouds) {
        this.names = new Names(clouds);
    }

    /** A sentence, and what stands below it. */
    record Said(boolean isWorse, String sentence, List<String> below) {}

    static String verdict(Drift drift, boolean worse) {
        if (drift.isEmpty()) {
            return drift.incomparable().isEmpty()
                    ? "Nothing changed in meaning."
                    : "Nothing changed in meaning, as far as both sides were read.";
        }
        return worse ? "Something got worse." : "Something changed, and nothing got worse.";
    }

    List<Said> reach(Drift.ReachEntry entry) {
        List<Said> said = new ArrayList<>();
        String where = stores(entry.stores());
        entry.gained()
                .ifPresent(gain -> said.add(new Said(
                        entry.isWorse(),
                        who(entry) + " can now " + what(entry.ability(), gain) + " in " + where + ".",
                        below(gain))));
        entry.lost()
                .ifPresent(gain -> said.add(new Said(
                        false,
                        who(entry) + " can no longer " + what(entry.ability(), gain) + " in " + where + ".",
                        below(gain))));
        return said;
    }

    private String who(Drift.ReachEntry entry) {
        return switch (entry.who()) {
            case "anyone" -> "Anyone";
            case "any-account" -> "Any account's principals";
            default -> names.of(entry.who());
        };
    }

    private static String what(Ability ability, Gain gain) {
        String all = String.join(", ", gain.which());
        String verb =
                switch (ability) {
                    case READ -> "read";
                    case LIST -> "list";
                    case WRITE -> "write";
                    case DELETE -> "delete";
                    case CHANGE_RULES -> "change the rules";
                };
        boolean isWhole = all.equals("*") || all.isEmpty();
        if (ability == Ability.LIST) {
            return isWhole ? "list the objects" : "list the objects, " + all + ",";
        }
        return verb + (isWhole ? ability == Ability.CHANGE_RULES ? "" : " everything" : " (" + all + ")");
    }

    private String stores(List<String> stores) {
        String some = stores.stream().limit(MOST_STORES).map(names::brief).collect(Collectors.joining(", "));
        return stores.size() <= MOST_STORES ? some : some + " and " + (stores.size() - MOST_STORES) + " more";
    }

    private static List<String> below(Gain gain) {
        List<String> lines = new ArrayList<>();
        lines.add("for instance: " + gain.witness().who() + " " + gain.witness().action() + " "
                + gain.witness().on()
                + (gain.witness().context().isEmpty()
                        ? ""
                        : " with "
                                + gain.witness().context().entrySet().stream()
                                        .map(entry -> entry.getKey() + "=" + entry.getValue())
                                        .collect(Collectors.joining(", "))));
        gain.because().forEach(each -> lines.add(Lines.cite(each)));
        return lines;
    }

    Said visit(Drift.VisitEntry entry) {
        return new Said(
                entry.isWorse(),
                entry.url() + ": " + entry.old().outcomes().get(0).said() + " → "
                        + entry.now().outcomes().get(0).said(),
                List.of(entry.now().why()));
    }

    Said credential(OfCredential entry) {
        String name = names.of(entry.credential());
        String is =
                switch (entry.presence()) {
                    case NEW -> " is new";
                    case GONE -> " is gone";
                    case CHANGED -> " changed";
                };
        List<String> below = new ArrayList<>();
        actions("it may now: ", entry.presence() == Presence.NEW ? "it may: " : "", entry.gained(), below);
        actions("it may no longer: ", entry.presence() == Presence.GONE ? "it could: " : "", entry.lost(), below);
        trusted("may now work as it: ", entry.trustGained(), below);
        trusted("may no longer work as it: ", entry.trustLost(), below);
        return new Said(entry.isWorse(), name + is + (entry.publishes() ? " (it publishes)" : "") + ".", below);
    }

    private static void actions(String usual, String instead, List<Allowed> all, List<String> below) {
        if (all.isEmpty()) {
            return;
        }
        String some = all.stream()
                .limit(MOST_ACTIONS)
                .map(each -> each.action() + (each.on().equals("*") ? "" : " on " + each.on()))
                .collect(Collectors.joining(", "));
        below.add((instead.isEmpty() ? usual : instead)
                + some
                + (all.size() > MOST_ACTIONS ? " and " + (all.size() - MOST_ACTIONS) + " more actions" : ""));
    }

    private static void trusted(String words, List<Trusted> all, List<String> below) {
        for (Trusted each : all) {
            String claims = new TreeMap<>(each.claims())
                    .entrySet().stream().map(Map.Entry::toString).collect(Collectors.joining(", "));
            below.add(each.who() + (claims.isEmpty() ? "" : " (" + claims + ")") + " " + words.replaceFirst(": $", ""));
        }
    }

    static Said name(OfName entry) {
        String kind = entry.kind().name().toLowerCase(Locale.ROOT);
        String change =
                switch (entry.change()) {
                    case NEW -> "is new" + entry.after().map(to -> ": " + to).orElse("");
                    case GONE ->
                        "is gone"
                                + entry.before().map(to -> ", it led to " + to).orElse("");
                    case MOVED ->
                        "leads elsewhere: " + entry.before().orElse("") + " → "
                                + entry.after().orElse("");
                    case ENDS_SOONER ->
                        "ends sooner: " + entry.before().orElse("") + " → "
                                + entry.after().orElse("");
                };
        return new Said(false, "The " + kind + " " + entry.name() + " " + change + ".", List.of());
    }

    List<Said> findings(Drift.Findings findings) {
        List<Said> said = new ArrayList<>();
        findings.fresh()
                .forEach(each -> said.add(new Said(
                        true,
                        "New: " + each.severity().word() + " " + each.card().id() + ". " + names.said(each),
                        each.because().stream().map(Lines::cite).toList())));
        findings.changed()
                .forEach(each -> said.add(new Said(
                        each.isWorse(),
                        (each.isWorse() ? "Worse: " : "Better: ")
                                + each.finding().card().id() + " from "
                                + each.from().word() + " to "
                                + each.to().word() + ". " + names.said(each.finding()),
                        List.of())));
        findings.gone()
                .forEach(each -> said.add(new Said(
                        false,
                        "Gone: " + each.severity().word() + " " + each.card().id() + ". " + names.said(each),
                        List.of())));
        findings.form()
                .forEach(each -> said.add(
                        new Said(false, "Of form only: " + each.card().id() + ". " + names.said(each), List.of())));
        return said;
    }

    /** A part and its sentences. */
    record Part(String title, List<Said> said) {}

    /** Returns the parts that have something to say, in the order in which a person wants to know. */
    List<Part> parts(Drift drift) {
        return Stream.of(
                        new Part(
                                "Who gained, who lost",
                                drift.reach().stream()
                                        .flatMap(each -> reach(each).stream())
                                        .toList()),
                        new Part(
                                "What visitors get",
                                drift.visits().stream().map(this::visit).toList()),
                        new Part(
                                "Credentials",
                                drift.credentials().stream()
                                        .map(this::credential)
                                        .toList()),
                        new Part(
                                "Names",
                                drift.names().stream().map(DriftWords::name).toList()),
                        new Part("Findings", findings(drift.findings())))
                .filter(part -> !part.said().isEmpty())
                .toList();
    }

    static Optional<String> formOnly(Drift drift) {
        return drift.formOnly() == 0
                ? Optional.empty()
                : Optional.of("Only in form: " + Lines.count(drift.formOnly(), "reading")
                        + (drift.formOnly() == 1 ? " differs" : " differ") + " in text and not in meaning.");
    }
}
