package warden.core.drift;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.audit.Audit;
import warden.core.audit.Audit.UnknownAnswer;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Precedence;
import warden.core.audit.Verdict;
import warden.core.cloud.Changes;
import warden.core.cloud.Changes.NameChange;
import warden.core.cloud.Changes.NameKind;
import warden.core.cloud.Changes.OfCredential;
import warden.core.cloud.Changes.OfName;
import warden.core.cloud.Changes.OfReach;
import warden.core.cloud.Cloud;
import warden.core.cloud.Following;
import warden.core.document.Placeholders;
import warden.core.site.Publisher;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyedAccount;
import warden.core.trace.Case;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.Visit;

/** Finds out what changed in meaning between two states of the same accounts, each as its audit shows it. */
public final class DriftFinder {
    /** What is said of a document's form, and of nothing that anybody can do. */
    private static final Set<String> OF_FORM =
            Set.of("policy-dead-statement", "policy-wider-than-needed", "policy-old-version");

    private final Audit old;
    private final Audit now;
    private final List<OfReach> reach = new ArrayList<>();
    private final List<OfCredential> credentials = new ArrayList<>();
    private final List<OfName> names = new ArrayList<>();
    private final Incomparable open = new Incomparable();
    private final Map<String, String> partners = new LinkedHashMap<>();

    private DriftFinder(Audit old, Audit now) {
        this.old = old;
        this.now = now;
    }

    /** Compares two audits that were made with the same site file as of the same instant. */
    public static Drift between(Audit old, Audit now) {
        return new DriftFinder(old, now).find();
    }

    private Drift find() {
        Set<String> publishers = publishers();
        for (Cloud cloud : now.context().clouds()) {
            // One provider's clouds stand together, so there is one on each side.
            old.context().clouds().stream()
                    .filter(other -> other.getClass().equals(cloud.getClass()))
                    .findFirst()
                    .ifPresent(other -> {
                        Changes changes = cloud.since(other, publishers);
                        reach.addAll(changes.reach());
                        credentials.addAll(changes.credentials());
                        names.addAll(changes.names());
                        hosts(other, cloud);
                        changes.incomparable().forEach(open::add);
                        partners.putAll(changes.partners());
                    });
        }
        List<Drift.VisitEntry> visits = visits();
        Drift.Findings findings = findings();
        return new Drift(
                Drift.merged(reach, publishers),
                visits,
                credentials,
                names,
                findings,
                formOnly(visits, findings),
                open.needs().stream()
                        .sorted(Comparator.comparing(Need::of).thenComparing(Need::aspect))
                        .toList());
    }

    private Set<String> publishers() {
        return Stream.of(old, now)
                .flatMap(each -> each.context().publishers().stream())
                .map(Publisher::id)
                .collect(Collectors.toSet());
    }

    private void hosts(Cloud before, Cloud after) {
        Set<String> then = hosts(before);
        Set<String> today = hosts(after);
        Set<String> all = new TreeSet<>(then);
        all.addAll(today);
        for (String host : all) {
            boolean isNew = !then.contains(host);
            Cloud without = isNew ? before : after;
            if (then.contains(host) == today.contains(host) || without.isOwnAddress(host)) {
                continue;
            }
            Optional<Need> unknown = without.unknownHost(host);
            if (unknown.isPresent()) {
                open.add(unknown.get());
                continue;
            }
            NameChange change = isNew ? NameChange.NEW : NameChange.GONE;
            names.add(new OfName(host, NameKind.HOST, change, Optional.empty(), Optional.empty()));
        }
    }

    private static Set<String> hosts(Cloud cloud) {
        return cloud.sites().stream().flatMap(site -> site.hosts().stream()).collect(Collectors.toSet());
    }

    // --- what visitors get

    private List<Drift.VisitEntry> visits() {
        Set<String> hosts = new TreeSet<>();
        for (Audit each : List.of(old, now)) {
            each.context().clouds().forEach(cloud -> hosts.addAll(hosts(cloud)));
        }
        Following before = old.context().everywhere().following(false);
        Following after = now.context().everywhere().following(false);
        Map<String, Case> cases = new TreeMap<>();
        for (String host : hosts) {
            Stream.concat(before.cases(host).stream(), after.cases(host).stream())
                    .filter(each -> !Placeholders.isIn(each.address().toString()))
                    .forEach(each -> cases.putIfAbsent(each.address().toString(), each));
        }
        List<Drift.VisitEntry> visits = new ArrayList<>();
        for (Map.Entry<String, Case> each : cases.entrySet()) {
            Visit visit = Visit.get(each.getValue().address(), now.context().at());
            Trace one = before.trace(visit);
            Trace other = after.trace(visit);
            if (spelled(one, name -> name).equals(spelled(other, this::oldName))) {
                continue;
            }
            if (!one.isCertain() || !other.isCertain()) {
                List<Need> needs = Stream.concat(one.needs().stream(), other.needs().stream())
                        .distinct()
                        .toList();
                needs.forEach(open::add);
                if (needs.isEmpty()) {
                    open.add(new Need("visit", each.getKey(), "what answers there is not certain", ""));
                }
                continue;
            }
            visits.add(new Drift.VisitEntry(each.getKey(), one, other, isWorse(each.getValue(), one, other)));
        }
        return visits;
    }

    private String oldName(String text) {
        String renamed = text;
        for (Map.Entry<String, String> partner : partners.entrySet()) {
            renamed = renamed.replace(partner.getKey(), partner.getValue());
        }
        return renamed;
    }

    private static Set<String> spelled(Trace trace, UnaryOperator<String> called) {
        Set<String> outcomes = new TreeSet<>();
        for (Outcome outcome : trace.outcomes()) {
            outcomes.add(called.apply(
                    outcome.status() + " " + outcome.object() + " " + outcome.location() + " " + outcome.failure()));
        }
        if (trace.open()) {
            outcomes.add("and more");
        }
        return outcomes;
    }

    /** Straight at the store, what was closed should stay so; everywhere else, what came should come as well as before. */
    private static boolean isWorse(Case each, Trace old, Trace now) {
        Outcome before = old.outcomes().get(0);
        Outcome after = now.outcomes().get(0);
        if (each.isAroundEdge()) {
            return !isPage(before) && isPage(after);
        }
        boolean wasSecured = each.address().toString().startsWith("http:") && leadsToSecure(before);
        return rank(after) > rank(before) || (wasSecured && !leadsToSecure(after));
    }

    private static boolean isPage(Outcome outcome) {
        return outcome.status().isPresent() && outcome.status().getAsInt() / 100 == 2;
    }

    private static boolean leadsToSecure(Outcome outcome) {
        return outcome.location().filter(to -> to.startsWith("https:")).isPresent();
    }

    /** From what a visitor wants most to what he wants least. */
    private static int rank(Outcome outcome) {
        if (outcome.status().isEmpty()) {
            return 4;
        }
        int status = outcome.status().getAsInt();
        if (status < 400) {
            return 0;
        }
        return status < 500 ? (outcome.object().isPresent() ? 1 : 2) : 3;
    }

    // --- findings

    private Drift.Findings findings() {
        Map<String, Finding> before = byMeaning(old, name -> name);
        Map<String, Finding> after = byMeaning(now, this::oldName);
        List<Finding> fresh = new ArrayList<>();
        List<Finding> gone = new ArrayList<>();
        List<Finding> form = new ArrayList<>();
        List<Drift.Changed> changed = new ArrayList<>();
        Answers inOld = new Answers(old, name -> name);
        Answers inNew = new Answers(now, this::oldName);
        after.forEach((meaning, finding) -> {
            Finding same = before.get(meaning);
            if (same == null) {
                told(finding, oldName(finding.subject()), inOld, inNew, fresh, form);
            } else if (same.severity() != finding.severity()) {
                // One that says how bad it is at least leaves a question of its own open.
                Optional<UnknownAnswer> worse =
                        inOld.of(same, same.subject()).or(() -> inNew.of(finding, same.subject()));
                worse.ifPresentOrElse(
                        answer -> answer.verdict().needs().forEach(open::add),
                        () -> changed.add(new Drift.Changed(finding, same.severity(), finding.severity())));
            }
        });
        before.forEach((meaning, finding) -> {
            if (!after.containsKey(meaning)) {
                told(finding, finding.subject(), inNew, inOld, gone, form);
            }
        });
        return new Drift.Findings(fresh, gone, changed, form);
    }

    private static Map<String, Finding> byMeaning(Audit audit, UnaryOperator<String> called) {
        Map<String, Finding> all = new LinkedHashMap<>();
        Stream.concat(audit.findings().stream(), audit.waived().stream().map(Audit.Waived::finding))
                .forEach(finding -> all.put(
                        finding.card().id() + "\n" + called.apply(finding.subject()) + "\n"
                                + called.apply(finding.mark()),
                        finding));
        return all;
    }

    /** Adds a finding that one side has to where it is told, unless the other side may have it as well. */
    private void told(
            Finding finding, String subject, Answers without, Answers with, List<Finding> found, List<Finding> form) {
        Optional<UnknownAnswer> hides = without.of(finding, subject)
                .or(() -> without.ofNoneThatAnswers(finding, subject, with))
                .or(() -> with.moreSpecific(finding, subject).or(() -> without.moreSpecific(finding, subject)));
        if (hides.isPresent()) {
            hides.get().verdict().needs().forEach(open::add);
            return;
        }
        // What it rests on may be among what cannot be compared.
        if (without.answers(finding, subject) || !isLacking(finding)) {
            (OF_FORM.contains(finding.card().id()) ? form : found).add(finding);
        }
    }

    private boolean isLacking(Finding finding) {
        return finding.because().stream().anyMatch(each -> open.lacks(each.aspect(), oldName(each.subject())));
    }

    /** What a side answered, and what it could not answer, by what it is about as the old side calls it. */
    private static final class Answers {
        private final Map<String, List<UnknownAnswer>> bySubject = new HashMap<>();
        private final Map<String, List<UnknownAnswer>> bySite = new HashMap<>();
        private final Map<String, List<UnknownAnswer>> byCheck = new HashMap<>();
        private final Set<String> known = new HashSet<>();
        private final Set<String> asked = new HashSet<>();
        private final Set<String> accounts = new HashSet<>();
        private final UnaryOperator<String> called;

        Answers(Audit audit, UnaryOperator<String> called) {
            this.called = called;
            Stream.concat(
                            audit.unknowns().stream(),
                            audit.waivedUnknowns().stream().map(Audit.WaivedUnknown::answer))
                    .forEach(this::add);
            audit.cleanAnswers()
                    .forEach(answer ->
                            known.add(key(answer.card(), answer.verdict().subject())));
            Stream.concat(audit.findings().stream(), audit.waived().stream().map(Audit.Waived::finding))
                    .forEach(finding -> known.add(key(finding.card(), finding.subject())));
            asked.addAll(known);
            audit.context().accounts().forEach(account -> accounts.add(called.apply(account.number())));
        }

        private void add(UnknownAnswer answer) {
            Verdict.Unknown verdict = answer.verdict();
            asked.add(key(answer.card(), verdict.subject()));
            bySubject
                    .computeIfAbsent(called.apply(verdict.subject()), key -> new ArrayList<>())
                    .add(answer);
            byCheck.computeIfAbsent(answer.card().id(), key -> new ArrayList<>())
                    .add(answer);
            verdict.site().ifPresent(site -> bySite.computeIfAbsent(site, key -> new ArrayList<>())
                    .add(answer));
        }

        private String key(CheckCard card, String subject) {
            return card.id() + "\n" + called.apply(subject);
        }

        private Stream<UnknownAnswer> concerning(Finding finding, String subject) {
            return Stream.of(
                            bySubject.getOrDefault(subject, List.of()),
                            finding.site()
                                    .map(site -> bySite.getOrDefault(site, List.of()))
                                    .orElse(List.of()),
                            accounts.stream()
                                    .flatMap(account -> bySubject.getOrDefault(account, List.of()).stream())
                                    .toList())
                    .flatMap(List::stream);
        }

        /** Returns the open question behind which the finding may be. */
        Optional<UnknownAnswer> of(Finding finding, String subject) {
            return concerning(finding, subject)
                    .filter(answer -> answer.card().id().equals(finding.card().id()))
                    .findFirst();
        }

        /** True when the finding's check says something certain of this subject. */
        boolean answers(Finding finding, String subject) {
            return known.contains(finding.card().id() + "\n" + subject);
        }

        /**
         * Returns the check's open question about something of which the other side is not asked, such as a list that was not read: the finding's
         * subject may be in it, unless the check answered for that subject. What both sides are asked of is a subject of its own.
         */
        Optional<UnknownAnswer> ofNoneThatAnswers(Finding finding, String subject, Answers other) {
            if (answers(finding, subject)) {
                return Optional.empty();
            }
            return byCheck.getOrDefault(finding.card().id(), List.of()).stream()
                    .filter(answer -> !other.asked.contains(
                            key(answer.card(), answer.verdict().subject())))
                    .findFirst();
        }

        /** Returns the open question whose answer would be told in the finding's place. */
        Optional<UnknownAnswer> moreSpecific(Finding finding, String subject) {
            return concerning(finding, subject)
                    .filter(answer -> Precedence.maySpeakFor(finding.card(), answer.card()))
                    .findFirst();
        }
    }

    // --- what differs in form only

    private int formOnly(List<Drift.VisitEntry> visits, Drift.Findings findings) {
        Map<String, List<String>> before = readings(old, name -> name);
        Map<String, List<String>> after = readings(now, this::oldName);
        Set<String> told = told(visits, findings);
        int count = 0;
        for (Map.Entry<String, List<String>> reading : after.entrySet()) {
            List<String> same = before.get(reading.getKey());
            if (same != null && !same.equals(reading.getValue()) && !told.contains(reading.getKey())) {
                count++;
            }
        }
        return count;
    }

    private static Map<String, List<String>> readings(Audit audit, UnaryOperator<String> called) {
        Map<String, List<String>> all = new LinkedHashMap<>();
        for (SurveyedAccount account : audit.context().accounts()) {
            for (SurveyLine line : account.survey().lines()) {
                all.computeIfAbsent(line.aspect() + " " + called.apply(line.of()), key -> new ArrayList<>())
                        .add(line.outcome() + " " + line.body());
            }
        }
        return all;
    }

    /** Returns the readings that something told rests on. */
    private Set<String> told(List<Drift.VisitEntry> visits, Drift.Findings findings) {
        Stream<Citation> cited = Stream.of(
                        reach.stream()
                                .flatMap(each -> Stream.concat(each.gained().stream(), each.lost().stream()))
                                .flatMap(gain -> gain.because().stream()),
                        visits.stream()
                                .flatMap(each -> Stream.of(each.old(), each.now()))
                                .flatMap(trace -> trace.steps().stream())
                                .flatMap(step -> step.because().stream()),
                        credentials.stream()
                                .flatMap(each -> Stream.concat(each.gained().stream(), each.lost().stream()))
                                .flatMap(each -> each.because().stream()),
                        credentials.stream()
                                .flatMap(each -> Stream.concat(each.trustGained().stream(), each.trustLost().stream()))
                                .flatMap(each -> each.because().stream()),
                        Stream.of(findings.fresh(), findings.gone())
                                .flatMap(List::stream)
                                .flatMap(finding -> finding.because().stream()))
                .flatMap(each -> each);
        Set<String> told = new HashSet<>();
        cited.forEach(each -> told.add(each.aspect() + " " + oldName(each.subject())));
        return told;
    }
}
