package warden.core.check;

import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import warden.core.account.Account;
import warden.core.algebra.TooComplexException;
import warden.core.policy.Arn;
import warden.core.site.Site;
import warden.core.site.SiteFile.Waiver;
import warden.core.storage.Bucket;
import warden.core.survey.Need;

/** The outcome of all checks on one set-up. Immutable. */
public final class Audit {
    private final Setup setup;
    private final List<Finding> findings;
    private final List<UnknownAnswer> unknowns;
    private final List<Waived> waived;
    private final List<CleanAnswer> cleanAnswers;
    private final List<Site> sites;
    private final boolean everyCheck;
    private final Map<Optional<String>, Map<Severity, Long>> countsBySite = new HashMap<>();
    private final Map<Optional<String>, Long> unknownBySite = new HashMap<>();
    private final Map<String, Account> accountsBySite = new HashMap<>();
    private final Set<String> openAccounts;

    private Audit(
            Setup setup,
            List<Finding> findings,
            List<UnknownAnswer> unknowns,
            List<Waived> waived,
            List<CleanAnswer> cleanAnswers,
            List<Site> sites,
            boolean everyCheck) {
        this.setup = setup;
        this.findings = List.copyOf(findings);
        this.unknowns = List.copyOf(unknowns);
        this.waived = List.copyOf(waived);
        this.cleanAnswers = List.copyOf(cleanAnswers);
        this.sites = List.copyOf(sites);
        this.everyCheck = everyCheck;
        findings.forEach(finding -> countsBySite
                .computeIfAbsent(finding.site(), site -> new EnumMap<>(Severity.class))
                .merge(finding.severity(), 1L, Long::sum));
        unknowns.forEach(answer -> unknownBySite.merge(answer.verdict().site(), 1L, Long::sum));
        setup.estate().sites().forEach(site -> accountsBySite.putIfAbsent(site.name(), site.account()));
        this.openAccounts = openAccounts(setup, unknowns);
    }

    public Setup setup() {
        return setup;
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

    /** Returns the questions that were answered with "nothing is wrong", in the order of the catalogue. */
    public List<CleanAnswer> cleanAnswers() {
        return cleanAnswers;
    }

    /** Returns the sites that the audit is about. */
    public List<Site> sites() {
        return sites;
    }

    /** True when no check's answers were left out, so that a site without findings is healthy. */
    public boolean everyCheck() {
        return everyCheck;
    }

    /** A question whose answer is that nothing is wrong. */
    public record CleanAnswer(CheckCard card, Verdict.Clean verdict) {}

    /** A question that could not be answered. */
    public record UnknownAnswer(CheckCard card, Verdict.Unknown verdict) {}

    /** A finding and the agreement to leave it. */
    public record Waived(Finding finding, Waiver waiver) {}

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
     * @param wanted which checks' answers to keep; all are asked, since one may speak for another
     */
    public static Audit of(Setup setup, List<Check> checks, Predicate<CheckCard> wanted) {
        return of(setup, checks, wanted, check -> {});
    }

    /**
     * Asks every question.
     *
     * @param wanted which checks' answers to keep; all are asked, since one may speak for another
     * @param answered is told of each check when it has answered, by whichever thread asked it
     */
    public static Audit of(Setup setup, List<Check> checks, Predicate<CheckCard> wanted, Consumer<Check> answered) {
        List<Finding> findings = new ArrayList<>();
        List<UnknownAnswer> unknowns = new ArrayList<>();
        List<CleanAnswer> clean = new ArrayList<>();
        // What checks share remembers its answers, and an answer does not depend on who asks first; the order of the
        // catalogue is kept.
        List<List<Verdict>> answers = checks.parallelStream()
                .map(check -> answers(check, setup, answered))
                .toList();
        for (int i = 0; i < checks.size(); i++) {
            Check check = checks.get(i);
            for (Verdict verdict : answers.get(i)) {
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
            Optional<Waiver> waiver = waiver(setup, finding);
            if (!wanted.test(finding.card())) {
                continue;
            }
            waiver.ifPresentOrElse(agreed -> waived.add(new Waived(finding, agreed)), () -> kept.add(finding));
        }
        kept.sort(WORST_FIRST);
        waived.sort(Comparator.comparing(Waived::finding, WORST_FIRST));
        List<UnknownAnswer> open = unknowns.stream()
                .filter(answer -> wanted.test(answer.card()))
                .sorted(BY_CARD)
                .toList();
        boolean everyCheck = checks.stream().map(Check::card).allMatch(wanted);
        return new Audit(setup, kept, open, waived, clean, setup.estate().sites(), everyCheck);
    }

    /** A check that gives up on what is too complex leaves its question open for the whole account. */
    private static List<Verdict> answers(Check check, Setup setup, Consumer<Check> answered) {
        try {
            return check.examine(setup);
        } catch (TooComplexException tooComplex) {
            String account = setup.estate().accounts().get(0).number();
            return List.of(new Verdict.Unknown(
                    account,
                    Optional.empty(),
                    List.of(new Need(check.card().looksAt(), account, "too complex: " + tooComplex.getMessage(), ""))));
        } finally {
            answered.accept(check);
        }
    }

    private static Optional<Waiver> waiver(Setup setup, Finding finding) {
        LocalDate today = setup.at().atZone(ZoneOffset.UTC).toLocalDate();
        return setup.estate().file().waivers().stream()
                .filter(waiver -> waiver.covers(finding.card().id(), finding.subject()))
                .filter(waiver -> !today.isAfter(waiver.until()))
                .findFirst();
    }

    /** A waiver that keeps nothing from the report, and why. */
    public record IdleWaiver(Waiver waiver, String why) {}

    /** Returns the waivers that have ended, and those that match no finding. */
    public List<IdleWaiver> idleWaivers() {
        LocalDate today = setup.at().atZone(ZoneOffset.UTC).toLocalDate();
        List<IdleWaiver> idle = new ArrayList<>();
        for (Waiver waiver : setup.estate().file().waivers()) {
            if (today.isAfter(waiver.until())) {
                idle.add(new IdleWaiver(waiver, "ended on " + waiver.until()));
            } else if (waived.stream().noneMatch(agreed -> agreed.waiver().equals(waiver))) {
                idle.add(new IdleWaiver(waiver, "matches no finding"));
            }
        }
        return idle;
    }

    /** Returns this audit with only what concerns the site of this name, or with this host. */
    public Audit onlySite(String nameOrHost) {
        List<String> names = setup.estate().sites().stream()
                .filter(site -> site.name().equals(nameOrHost) || site.hosts().contains(nameOrHost))
                .map(Site::name)
                .toList();
        Predicate<Optional<String>> concerns =
                site -> site.filter(names::contains).isPresent();
        return new Audit(
                setup,
                findings.stream()
                        .filter(finding -> concerns.test(finding.site()))
                        .toList(),
                unknowns.stream()
                        .filter(answer -> concerns.test(answer.verdict().site()))
                        .toList(),
                waived.stream()
                        .filter(agreed -> concerns.test(agreed.finding().site()))
                        .toList(),
                cleanAnswers.stream()
                        .filter(answer -> concerns.test(answer.verdict().site()))
                        .toList(),
                sites.stream().filter(site -> names.contains(site.name())).toList(),
                everyCheck);
    }

    /**
     * True when every check was asked about the site, and each answered that nothing is wrong. A question that is open for the account as a
     * whole, or for somebody who may be the site's publisher, is open for each of its sites.
     */
    public boolean isHealthy(Site site) {
        Optional<String> name = Optional.of(site.name());
        return everyCheck
                && unknownCount(name) == 0
                && !countsBySite.containsKey(name)
                && !openAccounts.contains(site.account().number());
    }

    /** Returns the numbers of the accounts about which, as a whole, something is not known. */
    private static Set<String> openAccounts(Setup setup, List<UnknownAnswer> unknowns) {
        Set<String> open = new HashSet<>();
        for (UnknownAnswer answer : unknowns) {
            String subject = answer.verdict().subject();
            boolean ofNoSite = answer.verdict().site().isEmpty();
            for (Account account : ofNoSite ? setup.estate().accounts() : List.<Account>of()) {
                String number = account.number();
                boolean concerns = subject.equals(number)
                        || subject.equals("arn:aws:iam::" + number + ":root")
                        || (subject.startsWith("arn:aws:iam::" + number + ":") && setup.mayPublish(subject));
                if (concerns) {
                    open.add(number);
                }
            }
        }
        return open;
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

    /**
     * What was found in one account.
     *
     * @param account absent for what cannot be told to be one account's
     * @param sites how many sites are the account's
     * @param healthy how many of them nothing is wrong with
     * @param unknown how many questions are open
     */
    public record AccountSum(
            Optional<Account> account, long sites, long healthy, Map<Severity, Long> counts, long unknown) {
        public AccountSum {
            counts = Collections.unmodifiableMap(new EnumMap<>(counts));
        }
    }

    /** Returns what was found by account, in the order of the surveys; what is no account's last, if there is any. */
    public List<AccountSum> sumsByAccount() {
        Map<Optional<Account>, List<Finding>> found = findings.stream().collect(Collectors.groupingBy(this::accountOf));
        Map<Optional<Account>, Long> open = unknowns.stream()
                .collect(Collectors.groupingBy(
                        answer -> accountOf(
                                answer.verdict().site(), answer.verdict().subject()),
                        Collectors.counting()));
        List<Optional<Account>> accounts = new ArrayList<>();
        setup.estate().accounts().forEach(account -> accounts.add(Optional.of(account)));
        accounts.add(Optional.empty());
        List<AccountSum> sums = new ArrayList<>();
        for (Optional<Account> account : accounts) {
            List<Finding> own = found.getOrDefault(account, List.of());
            List<Site> ownSites = sites.stream()
                    .filter(site -> Optional.of(site.account()).equals(account))
                    .toList();
            Map<Severity, Long> counts = new EnumMap<>(Severity.class);
            for (Severity severity : Severity.values()) {
                counts.put(
                        severity,
                        own.stream()
                                .filter(finding -> finding.severity() == severity)
                                .count());
            }
            long unknown = open.getOrDefault(account, 0L);
            if (account.isPresent() || !own.isEmpty() || unknown > 0) {
                sums.add(new AccountSum(
                        account,
                        ownSites.size(),
                        ownSites.stream().filter(this::isHealthy).count(),
                        counts,
                        unknown));
            }
        }
        return sums;
    }

    /** A finding is of its site's account, else of the one whose survey shows it. */
    private Optional<Account> accountOf(Finding finding) {
        String file = finding.because().get(0).file();
        return finding.site()
                .map(accountsBySite::get)
                .or(() -> setup.estate().accounts().stream()
                        .filter(account -> account.survey().header().file().equals(file))
                        .findFirst())
                .or(() -> accountOf(finding.site(), finding.subject()));
    }

    private Optional<Account> accountOf(Optional<String> site, String subject) {
        Optional<Account> ofSite = site.map(accountsBySite::get);
        if (ofSite.isPresent()) {
            return ofSite;
        }
        String number = Arn.parse(subject).map(Arn::account).orElse(subject);
        return setup.estate().accounts().stream()
                .filter(account -> account.number().equals(number))
                .findFirst()
                .or(() -> Bucket.nameIn(subject).flatMap(setup.estate()::ownerOf));
    }

    /** Returns how many questions are open, for one site or, when absent, for all. */
    public long unknownCount(Optional<String> site) {
        return site.isPresent() ? unknownBySite.getOrDefault(site, 0L) : unknowns.size();
    }
}
