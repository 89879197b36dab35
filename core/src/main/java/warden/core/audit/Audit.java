package warden.core.audit;

import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.cloud.Cloud.UnreadStore;
import warden.core.site.Site;
import warden.core.site.SiteFile.Waiver;
import warden.core.site.SitePattern;
import warden.core.survey.SurveyedAccount;

/** The outcome of all checks on one set-up. Immutable. */
public final class Audit {
    private final AuditContext context;
    private final List<Finding> findings;
    private final List<UnknownAnswer> unknowns;
    private final List<Waived> waived;
    private final List<WaivedUnknown> waivedUnknowns;
    private final List<CleanAnswer> cleanAnswers;
    private final Scope scope;
    private final Map<Optional<String>, Map<Severity, Long>> countsBySite = new HashMap<>();
    private final Map<Optional<String>, Long> unknownBySite = new HashMap<>();
    private final Set<String> openAccounts;

    /**
     * What an audit was asked for.
     *
     * @param sites the sites that it is about
     * @param everySite whether they are all, so that what concerns no site is told too
     * @param checks the areas of the checks whose answers were kept, by identifier
     * @param everyCheck whether they are all
     * @param matched the waivers that cover a finding or an open question of any site
     */
    private record Scope(
            List<Site> sites, boolean everySite, Map<String, Area> checks, boolean everyCheck, Set<Waiver> matched) {
        Scope {
            sites = List.copyOf(sites);
            checks = Map.copyOf(checks);
            matched = Set.copyOf(matched);
        }
    }

    private Audit(
            AuditContext context,
            List<Finding> findings,
            List<UnknownAnswer> unknowns,
            List<Waived> waived,
            List<WaivedUnknown> waivedUnknowns,
            List<CleanAnswer> cleanAnswers,
            Scope scope) {
        this.context = context;
        this.findings = List.copyOf(findings);
        this.unknowns = List.copyOf(unknowns);
        this.waived = List.copyOf(waived);
        this.waivedUnknowns = List.copyOf(waivedUnknowns);
        this.cleanAnswers = List.copyOf(cleanAnswers);
        this.scope = scope;
        findings.forEach(finding -> countsBySite
                .computeIfAbsent(finding.site(), site -> new EnumMap<>(Severity.class))
                .merge(finding.severity(), 1L, Long::sum));
        unknowns.forEach(answer -> unknownBySite.merge(answer.verdict().site(), 1L, Long::sum));
        this.openAccounts = openAccounts(
                context,
                Stream.concat(unknowns.stream(), waivedUnknowns.stream().map(WaivedUnknown::answer))
                        .toList());
    }

    public AuditContext context() {
        return context;
    }

    /** Returns the findings, worst first, then by site, check and subject; one fact once. */
    public List<Finding> findings() {
        return findings;
    }

    /** Returns what could not be told, in the same order. */
    public List<UnknownAnswer> unknowns() {
        return unknowns;
    }

    /** Returns the findings that were agreed to be left. */
    public List<Waived> waived() {
        return waived;
    }

    /** Returns the questions that could not be answered and were agreed to be left. */
    public List<WaivedUnknown> waivedUnknowns() {
        return waivedUnknowns;
    }

    /** Returns the questions that were answered with "nothing is wrong", in the order of the catalogue. */
    public List<CleanAnswer> cleanAnswers() {
        return cleanAnswers;
    }

    /** Returns the sites that the audit is about. */
    public List<Site> sites() {
        return scope.sites();
    }

    /** True when no check's answers were left out, so that a site without findings is healthy. */
    public boolean everyCheck() {
        return scope.everyCheck();
    }

    /** True when a finding of this check about this site, or about none, would be among the findings. */
    boolean looksFor(String check, Optional<String> site) {
        return scope.checks().containsKey(check)
                && (scope.everySite()
                        || scope.sites().stream().anyMatch(each -> site.filter(each.name()::equals)
                                .isPresent()));
    }

    /** What was answered to a question. */
    private record Said(String check, Verdict verdict) {}

    /** A question whose answer is that nothing is wrong. */
    public record CleanAnswer(CheckCard card, Verdict.Clean verdict) {}

    /** A question that could not be answered. */
    public record UnknownAnswer(CheckCard card, Verdict.Unknown verdict) {}

    /** A finding and the agreement to leave it. */
    public record Waived(Finding finding, Waiver waiver) {}

    /** A question that could not be answered, and the agreement to leave it. */
    public record WaivedUnknown(UnknownAnswer answer, Waiver waiver) {}

    private static final Comparator<Optional<String>> BY_SITE =
            Comparator.comparing(site -> site.map(name -> "0" + name).orElse("1"));
    private static final Comparator<Finding> WORST_FIRST = Comparator.comparing(Finding::severity)
            .thenComparing(Finding::site, BY_SITE)
            .thenComparing(finding -> finding.card().id())
            .thenComparing(Finding::subject)
            .thenComparing(Finding::place)
            .thenComparing(Finding::says);
    private static final Comparator<UnknownAnswer> BY_CARD = Comparator.<UnknownAnswer, Severity>comparing(
                    answer -> answer.card().severity())
            .thenComparing(answer -> answer.verdict().site(), BY_SITE)
            .thenComparing(answer -> answer.card().id())
            .thenComparing(answer -> answer.verdict().subject());

    /**
     * Asks every question.
     *
     * @param wanted which checks' answers to keep; those that may speak for them are asked too
     */
    public static Audit of(AuditContext context, List<Check> checks, Predicate<CheckCard> wanted) {
        return of(context, checks, wanted, check -> {});
    }

    /**
     * Asks every question.
     *
     * @param wanted which checks' answers to keep; those that may speak for them are asked too
     * @param answered is told of each check when it has answered
     */
    public static Audit of(
            AuditContext context, List<Check> checks, Predicate<CheckCard> wanted, Consumer<Check> answered) {
        List<Finding> findings = new ArrayList<>();
        List<UnknownAnswer> unknowns = new ArrayList<>();
        List<CleanAnswer> clean = new ArrayList<>();
        List<CheckCard> cards = checks.stream().map(Check::card).toList();
        List<CheckCard> kinds = cards.stream().filter(wanted).toList();
        List<Check> asked = checks.stream()
                .filter(check -> wanted.test(check.card())
                        || kinds.stream().anyMatch(kind -> Precedence.maySpeakFor(kind, check.card())))
                .toList();
        List<List<Verdict>> answers = Round.verdicts(context, asked, answered);
        Followed followed = Followed.of(context);
        Map<String, Integer> answering = new HashMap<>();
        for (int i = 0; i < asked.size(); i++) {
            if (!answers.get(i).isEmpty()) {
                answering.merge(asked.get(i).card().id(), 1, Integer::sum);
            }
        }
        Map<Said, Check> said = new HashMap<>();
        for (int i = 0; i < asked.size(); i++) {
            Check check = asked.get(i);
            boolean isAnsweredTwice = answering.getOrDefault(check.card().id(), 0) > 1;
            for (Verdict verdict : followed.only(answers.get(i))) {
                // What several providers are asked of one thing, each in its own way, some of them answer alike.
                Check first =
                        isAnsweredTwice ? said.putIfAbsent(new Said(check.card().id(), verdict), check) : null;
                if (first != null && first != check) {
                    continue;
                }
                if (verdict instanceof Verdict.Flagged flagged) {
                    findings.add(flagged.finding());
                } else if (verdict instanceof Verdict.Unknown unknown) {
                    unknowns.add(new UnknownAnswer(check.card(), unknown));
                } else if (wanted.test(check.card())) {
                    clean.add(new CleanAnswer(check.card(), (Verdict.Clean) verdict));
                }
            }
        }
        List<Finding> kept = new ArrayList<>();
        List<Waived> waived = new ArrayList<>();
        for (Finding finding : Precedence.applied(findings)) {
            if (wanted.test(finding.card())) {
                waiver(context, finding.card(), finding.subject())
                        .ifPresentOrElse(agreed -> waived.add(new Waived(finding, agreed)), () -> kept.add(finding));
            }
        }
        kept.sort(WORST_FIRST);
        waived.sort(Comparator.comparing(Waived::finding, WORST_FIRST));
        List<UnknownAnswer> open = new ArrayList<>();
        List<WaivedUnknown> waivedUnknowns = new ArrayList<>();
        for (UnknownAnswer answer : unknowns) {
            if (wanted.test(answer.card())) {
                waiver(context, answer.card(), answer.verdict().subject())
                        .ifPresentOrElse(
                                agreed -> waivedUnknowns.add(new WaivedUnknown(answer, agreed)),
                                () -> open.add(answer));
            }
        }
        open.sort(BY_CARD);
        waivedUnknowns.sort(Comparator.comparing(WaivedUnknown::answer, BY_CARD));
        Set<Waiver> matched = Stream.concat(
                        waived.stream().map(Waived::waiver),
                        waivedUnknowns.stream().map(WaivedUnknown::waiver))
                .collect(Collectors.toSet());
        Scope scope = new Scope(
                followed.sites(),
                true,
                cards.stream()
                        .filter(wanted)
                        .collect(Collectors.toMap(CheckCard::id, CheckCard::area, (one, same) -> one)),
                cards.stream().allMatch(wanted),
                matched);
        return new Audit(context, kept, open, waived, waivedUnknowns, clean, scope);
    }

    private static Optional<Waiver> waiver(AuditContext context, CheckCard card, String subject) {
        LocalDate today = today(context);
        return context.file().waivers().stream()
                .filter(waiver -> waiver.covers(card.id(), subject))
                .filter(waiver -> !today.isAfter(waiver.until()))
                .findFirst();
    }

    private static LocalDate today(AuditContext context) {
        return context.at().atZone(ZoneOffset.UTC).toLocalDate();
    }

    /** A waiver that keeps nothing from the report, and why. */
    public record IdleWaiver(Waiver waiver, String why) {}

    /** Returns the waivers that have ended, and those of checks that ran, and found nothing that they match. */
    public List<IdleWaiver> idleWaivers() {
        List<IdleWaiver> idle = new ArrayList<>();
        for (Waiver waiver : context.file().waivers()) {
            if (today(context).isAfter(waiver.until())) {
                idle.add(new IdleWaiver(waiver, "ended on " + waiver.until()));
            } else if (!scope.matched().contains(waiver) && ran(waiver)) {
                idle.add(new IdleWaiver(waiver, "matches no finding"));
            }
        }
        return idle;
    }

    /** A check of pipelines, or of a folder, has nothing to look at where none is given. */
    private boolean ran(Waiver waiver) {
        return Optional.ofNullable(scope.checks().get(waiver.check()))
                .filter(area -> area != Area.PIPELINE || !context.pipelines().isEmpty())
                .filter(area -> area != Area.CONTENT || context.folder().isPresent())
                .isPresent();
    }

    /**
     * Returns this audit with only what concerns these sites. A question that is open for their account as a whole, or for somebody who may be
     * their publisher, concerns them.
     */
    public Audit onlySites(List<Site> wanted) {
        Set<String> names = wanted.stream().map(Site::name).collect(Collectors.toSet());
        Set<SurveyedAccount> accounts = wanted.stream().map(Site::account).collect(Collectors.toSet());
        Predicate<Optional<String>> concerns =
                site -> site.filter(names::contains).isPresent();
        Predicate<UnknownAnswer> isOpen =
                answer -> concerns.test(answer.verdict().site())
                        || accounts.stream().anyMatch(account -> isOpenFor(context, account, answer));
        return new Audit(
                context,
                findings.stream()
                        .filter(finding -> concerns.test(finding.site()))
                        .toList(),
                unknowns.stream().filter(isOpen).toList(),
                waived.stream()
                        .filter(agreed -> concerns.test(agreed.finding().site()))
                        .toList(),
                waivedUnknowns.stream()
                        .filter(agreed -> isOpen.test(agreed.answer()))
                        .toList(),
                cleanAnswers.stream()
                        .filter(answer -> concerns.test(answer.verdict().site()))
                        .toList(),
                new Scope(wanted, false, scope.checks(), scope.everyCheck(), scope.matched()));
    }

    /**
     * Returns what can be said of a site as a whole. A question that is open for the account as a whole, or for somebody who may be the site's
     * publisher, is open for each of its sites.
     */
    public Standing standing(Site site) {
        Optional<String> name = Optional.of(site.name());
        boolean isManaged =
                site.pattern().filter(SitePattern.MANAGED_FRONT::equals).isPresent();
        boolean saysNothing = unknownCount(name) == 0 && !countsBySite.containsKey(name);
        if (isManaged || (site.pattern().isEmpty() && saysNothing)) {
            return Standing.NOT_JUDGED;
        }
        boolean nothingIsWrong = scope.everyCheck()
                && saysNothing
                && !openAccounts.contains(site.account().number())
                && waived.stream().noneMatch(agreed -> agreed.finding().site().equals(name))
                && waivedUnknowns.stream()
                        .noneMatch(agreed -> agreed.answer().verdict().site().equals(name));
        return nothingIsWrong ? Standing.HEALTHY : Standing.OPEN;
    }

    /** True when nothing is wrong with the site, as far as everything that serves it is modelled. */
    public boolean isHealthy(Site site) {
        return standing(site) == Standing.HEALTHY;
    }

    /** Returns the numbers of the accounts about which, as a whole, something is not known. */
    private static Set<String> openAccounts(AuditContext context, List<UnknownAnswer> unknowns) {
        return context.accounts().stream()
                .filter(account -> unknowns.stream().anyMatch(answer -> isOpenFor(context, account, answer)))
                .map(SurveyedAccount::number)
                .collect(Collectors.toSet());
    }

    private static boolean isOpenFor(AuditContext context, SurveyedAccount account, UnknownAnswer answer) {
        if (answer.verdict().site().isPresent()) {
            return false;
        }
        return context.concernsAll(account, answer.verdict().subject());
    }

    /** Returns the stores that are known to be there, that were not read, and that are no site's; what they are for is not known. */
    public List<UnreadStore> unreadStores() {
        if (!scope.everySite()) {
            return List.of();
        }
        Set<String> open = unknowns.stream()
                .filter(answer -> answer.verdict().site().isEmpty())
                .map(answer -> answer.verdict().subject())
                .collect(Collectors.toSet());
        return context.clouds().stream()
                .flatMap(cloud -> cloud.unreadStores().stream())
                .filter(store -> open.contains(store.id()))
                .toList();
    }

    /** Returns how many findings there are of each severity, for one site or, when absent, for all. */
    public Map<Severity, Long> counts(Optional<String> site) {
        Map<Severity, Long> counts = new EnumMap<>(Severity.class);
        for (Severity severity : Severity.values()) {
            counts.put(
                    severity,
                    site.isPresent()
                            ? countsBySite.getOrDefault(site, Map.of()).getOrDefault(severity, 0L)
                            : countsBySite.values().stream()
                                    .mapToLong(each -> each.getOrDefault(severity, 0L))
                                    .sum());
        }
        return counts;
    }

    /** Returns how many questions are open, for one site or, when absent, for all. */
    public long unknownCount(Optional<String> site) {
        return site.isPresent() ? unknownBySite.getOrDefault(site, 0L) : unknowns.size();
    }
}
