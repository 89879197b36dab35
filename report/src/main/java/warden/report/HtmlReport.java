package warden.report;

import gg.jte.ContentType;
import gg.jte.TemplateEngine;
import gg.jte.output.StringOutput;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Matrix;
import warden.core.access.Matrix.Row;
import warden.core.audit.AccountSum;
import warden.core.audit.Area;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Judgement;
import warden.core.audit.Severity;
import warden.core.audit.Standing;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SiteFile.Waiver;
import warden.core.site.SitePattern;
import warden.core.survey.Need;
import warden.report.AuditPage.Cell;
import warden.report.AuditPage.Evidence;
import warden.report.AuditPage.FindingView;
import warden.report.AuditPage.Link;
import warden.report.AuditPage.MatrixRow;
import warden.report.AuditPage.MatrixView;
import warden.report.AuditPage.Part;
import warden.report.AuditPage.SiteView;
import warden.report.AuditPage.UnknownView;
import warden.report.AuditPage.WaivedView;

/** An audit as one page that needs nothing else: no network, no scripts; for screens, paper, keyboards and screen readers. */
public final class HtmlReport {
    private static final int MOST_UNKNOWNS = 1_000;
    private static final int MOST_SUBJECTS = 3;
    private static final int MOST_GROUPED = 20;
    /** More pictures than that nobody looks at, and no browser shows quickly. */
    private static final int MOST_SITES = 200;

    private static final Set<Area> BEFORE_EDGE = Set.of(Area.DNS, Area.CERTIFICATE);
    private static final Set<Area> OF_PUBLISHING = Set.of(Area.CREDENTIAL, Area.PIPELINE, Area.CONTENT);

    private final Audit audit;
    private final Judgement judgement;
    private final Names names;
    private final Replay replay;

    private HtmlReport(Audit audit, Judgement judgement) {
        this.audit = audit;
        this.judgement = judgement;
        this.names = new Names(audit.context().clouds());
        this.replay = new Replay(audit);
    }

    /**
     * Returns the page.
     *
     * @param tables the matrices to show
     * @param closed the ARNs of buckets that strangers should not even read
     * @param version of the program
     */
    public static String of(Audit audit, Judgement judgement, List<Matrix> tables, Set<String> closed, String version) {
        AuditPage page = new HtmlReport(audit, judgement).page(tables, closed, version);
        StringOutput out = new StringOutput();
        TemplateEngine.createPrecompiled(null, ContentType.Html, null, "warden.report.page")
                .render("audit.jte", page, out);
        return out.toString();
    }

    private AuditPage page(List<Matrix> tables, Set<String> closed, String version) {
        String style = style();
        ShownSites sites = ShownSites.of(audit, MOST_SITES);
        Headline headline = Headline.of(audit);
        FirstLook look = FirstLook.of(audit, names, MOST_GROUPED);
        SumTable sums = SumTable.of(audit, MOST_SITES);
        NotTold notTold = new NotTold(audit, names);
        List<MissingReading> missing = MissingReading.of(audit);
        return new AuditPage(
                "default-src 'none'; style-src 'sha256-" + hash(style) + "'; base-uri 'none'; form-action 'none'",
                style,
                headline.words(),
                headline.state().name().toLowerCase(Locale.ROOT),
                about(),
                gate(),
                counts(),
                look.groups().stream().map(this::group).toList(),
                look.left(),
                sums.rows().stream().map(HtmlReport::sum).toList(),
                audit.unknowns().isEmpty() ? "" : shown(notTold.what() + "."),
                notTold.statement(),
                Leftovers.inOrder(audit).stream()
                        .map(finding -> shown(names.of(finding.subject())))
                        .toList(),
                accounts(),
                Stream.concat(sites.sites().stream().map(this::site), noSite(sums).stream())
                        .toList(),
                sites.left(),
                IntStream.range(0, audit.findings().size())
                        .mapToObj(i -> finding(i + 1, audit.findings().get(i)))
                        .toList(),
                missing.stream().limit(MOST_UNKNOWNS).map(HtmlReport::unknown).toList(),
                missing.size() <= MOST_UNKNOWNS
                        ? ""
                        : (missing.size() - MOST_UNKNOWNS) + " readings more are missing; the JSON report has all.",
                waived(),
                Arrays.stream(Ability.values()).map(Ability::word).toList(),
                tables.stream().map(table -> matrix(table, closed)).toList(),
                shown(String.join(", ", audit.context().surveyFiles())),
                version);
    }

    private List<WaivedView> waived() {
        List<WaivedView> all = new ArrayList<>();
        audit.waived()
                .forEach(agreed -> all.add(
                        waived(agreed.finding().card().id(), agreed.finding().subject(), agreed.waiver())));
        audit.waivedUnknowns()
                .forEach(agreed -> all.add(waived(
                        agreed.answer().card().id() + ", not known",
                        agreed.answer().verdict().subject(),
                        agreed.waiver())));
        return all;
    }

    private static WaivedView waived(String check, String subject, Waiver waiver) {
        return new WaivedView(check, shown(subject), waiver.until().toString(), shown(waiver.reason()));
    }

    private String gate() {
        String gate = GateWords.of(judgement);
        String since = judgement
                .since()
                .map(each -> " " + AuditText.since(audit, each))
                .orElse("");
        return shown(gate.substring(0, 1).toUpperCase(Locale.ROOT) + gate.substring(1) + "." + since);
    }

    private AuditPage.GroupView group(FirstLook.Group group) {
        return new AuditPage.GroupView(
                group.heading().heading(),
                group.entries().stream()
                        .map(entry -> new AuditPage.EntryView(
                                entry.number(),
                                entry.first().severity().word(),
                                entry.consequence().does(),
                                shown(entry.name()),
                                shown(entry.detail())))
                        .toList());
    }

    private static AuditPage.SumView sum(SumTable.Row row) {
        return new AuditPage.SumView(
                shown(row.name()),
                row.about(),
                Stream.concat(row.counts().values().stream(), Stream.of(row.unknown()))
                        .toList(),
                row.word());
    }

    private static String style() {
        try (InputStream in = HtmlReport.class.getResourceAsStream("audit.css")) {
            if (in == null) {
                throw new IllegalStateException("the page's style is not in the program");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    private static String hash(String style) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(style.getBytes(StandardCharsets.UTF_8));
            return Base64.getEncoder().encodeToString(digest);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("every Java platform has SHA-256", impossible);
        }
    }

    private static String shown(String text) {
        return Lines.brief(text);
    }

    private String about() {
        String accounts = audit.context().accounts().stream()
                .map(account ->
                        Lines.account(account.survey().header(), audit.context().at()))
                .collect(Collectors.joining("; "));
        return shown("Audit as of " + audit.context().at() + " of " + accounts + ".");
    }

    private List<AuditPage.AccountView> accounts() {
        return audit.context().accounts().size() < 2
                ? List.of()
                : AccountSum.of(audit).stream()
                        .map(sum -> new AuditPage.AccountView(
                                sum.account()
                                        .map(account -> shown(account.number()))
                                        .orElse("(no account)"),
                                sum.sites(),
                                Stream.concat(sum.counts().values().stream(), Stream.of(sum.unknown()))
                                        .toList()))
                        .toList();
    }

    private List<AuditPage.Count> counts() {
        Map<Severity, Long> counts = audit.counts(Optional.empty());
        List<AuditPage.Count> all = new ArrayList<>();
        for (Severity severity : Severity.values()) {
            all.add(new AuditPage.Count(severity.word(), counts.get(severity)));
        }
        all.add(new AuditPage.Count("unknown", audit.unknowns().size()));
        all.add(new AuditPage.Count(
                "waived", audit.waived().size() + audit.waivedUnknowns().size()));
        return all;
    }

    /** The parts that the site has, in the order in which a request meets them, and the publisher behind them. */
    private SiteView site(Site site) {
        List<String[]> parts = new ArrayList<>();
        List<Set<Integer>> between = new ArrayList<>();
        parts.add(new String[] {
            "host", site.hosts().isEmpty() ? site.name() : site.hosts().get(0)
        });
        boolean hasEdge = !site.edgeIds().isEmpty() || !site.unreadEdgeIds().isEmpty();
        if (!site.edgeIds().isEmpty()) {
            parts.add(new String[] {"edge", names.idOf(site.edgeIds().get(0))});
            between.add(Set.of(0));
        } else if (hasEdge) {
            parts.add(new String[] {
                "edge, not read", lastPart(site.unreadEdgeIds().get(0))
            });
            between.add(Set.of(0));
        }
        parts.add(new String[] {
            "storage", site.storeIds().stream().findFirst().map(names::idOf).orElse("not known")
        });
        between.add(hasEdge ? Set.of(1) : Set.of(0, 1));
        List<Publisher> publishers = audit.context().publishersOf(site);
        if (!publishers.isEmpty()) {
            String more = publishers.size() > 1 ? " +" + (publishers.size() - 1) : "";
            parts.add(new String[] {"publisher", names.idOf(publishers.get(0).id()) + more});
            between.add(Set.of(2));
        }
        if (publishers.isEmpty()) {
            audit.context().unreadCredentials().stream()
                    .filter(unread -> unread.site().filter(site::equals).isPresent())
                    .findFirst()
                    .ifPresent(unread -> {
                        String name = lastPart(unread.subject());
                        parts.add(new String[] {"publisher, not read", unread.isOne() ? name : "not known"});
                        between.add(Set.of(2));
                    });
        }
        List<Part> chain = new ArrayList<>();
        for (int i = 0; i < parts.size(); i++) {
            chain.add(new Part(
                    parts.get(i)[0],
                    shown(parts.get(i)[1]),
                    i == 0 ? Optional.empty() : Optional.of(link(site, between.get(i - 1)))));
        }
        return new SiteView(
                shown(site.name()),
                site.pattern().map(SitePattern::word).orElse("pattern not known"),
                chain,
                sum(site));
    }

    /** What concerns no site has its card, too, so that the cards add up. */
    private static Optional<SiteView> noSite(SumTable table) {
        return table.rows().stream()
                .filter(SumTable.Row::isOfNoSite)
                .findFirst()
                .map(row -> new SiteView(
                        row.name(),
                        "what concerns the account, or a thing that no site uses",
                        List.of(),
                        "Findings: " + words(row.counts())
                                + (row.unknown() == 0 ? "." : "; " + row.unknown() + " unknown.")));
    }

    private static String words(Map<Severity, Long> counts) {
        String words = Lines.counts(counts);
        return words.isEmpty() ? "none" : words;
    }

    private static String lastPart(String arn) {
        return arn.substring(arn.lastIndexOf('/') + 1);
    }

    /** Judges what joins two parts by the worst finding about it. */
    private Link link(Site site, Set<Integer> about) {
        Optional<Severity> worst = audit.findings().stream()
                .filter(finding -> finding.site().filter(site.name()::equals).isPresent())
                .filter(finding -> about.contains(indexOf(finding.card().area())))
                .map(Finding::severity)
                .min(java.util.Comparator.naturalOrder());
        boolean open = audit.unknowns().stream()
                .filter(answer ->
                        answer.verdict().site().filter(site.name()::equals).isPresent())
                .anyMatch(answer -> about.contains(indexOf(answer.card().area())));
        if (worst.filter(severity -> severity.isAtLeast(Severity.HIGH)).isPresent()) {
            return new Link("broken", "✕", worst.get().word());
        }
        if (open) {
            return new Link("unknown", "?", "unknown");
        }
        return worst.map(severity -> new Link("weak", "!", severity.word()))
                .orElseGet(() -> audit.everyCheck() && audit.standing(site) != Standing.NOT_JUDGED
                        ? new Link("sound", "✓", "sound")
                        : new Link("unknown", "–", audit.everyCheck() ? "not judged" : "not all checks asked"));
    }

    /** Returns which link of the chain an area is about. */
    private static int indexOf(Area area) {
        return BEFORE_EDGE.contains(area) ? 0 : OF_PUBLISHING.contains(area) ? 2 : 1;
    }

    private String sum(Site site) {
        Map<Severity, Long> counts = audit.counts(Optional.of(site.name()));
        boolean isFound = counts.values().stream().anyMatch(count -> count > 0);
        long unknown = audit.unknownCount(Optional.of(site.name()));
        String word = audit.standing(site).word();
        String standing = word.isEmpty() ? "" : word.substring(0, 1).toUpperCase(Locale.ROOT) + word.substring(1);
        return (isFound
                        ? "Findings: " + words(counts) + (word.isEmpty() ? "" : "; " + word)
                        : standing.isEmpty() ? "No findings" : standing)
                + (unknown == 0 ? "." : "; " + unknown + " unknown.");
    }

    private FindingView finding(int number, Finding finding) {
        return new FindingView(
                number,
                judgement.isNew(finding),
                finding.severity().word(),
                finding.card().id(),
                shown(names.of(finding.subject())),
                shown(finding.says()),
                finding.card().why(),
                shown(finding.remedy()),
                finding.because().stream()
                        .map(at -> new Evidence(shown(Lines.cite(at)), shown(at.quote())))
                        .toList(),
                replay.of(finding));
    }

    private static UnknownView unknown(MissingReading missing) {
        Need need = missing.need();
        int more = missing.subjects().size() - MOST_SUBJECTS;
        String of = missing.subjects().isEmpty()
                ? ""
                : ", of "
                        + missing.subjects().stream()
                                .limit(MOST_SUBJECTS)
                                .map(HtmlReport::shown)
                                .collect(Collectors.joining(", "))
                        + (more > 0 ? " and " + more + " more" : "");
        return new UnknownView(
                shown(need.aspect() + " of " + need.of()),
                shown(need.why()),
                shown(need.permission()),
                String.join(", ", missing.checks()) + of);
    }

    private MatrixView matrix(Matrix table, Set<String> closed) {
        return new MatrixView(
                shown(table.name()),
                table.rows().stream().map(row -> row(table, row, closed)).toList());
    }

    private MatrixRow row(Matrix table, Row row, Set<String> closed) {
        boolean stranger = row.isStrangers();
        List<Cell> cells = new ArrayList<>();
        row.abilities().forEach((ability, extent) -> {
            boolean read = ability == Ability.READ && !closed.contains(table.store());
            cells.add(cell(extent, stranger && !read && extent.isSome()));
        });
        return new MatrixRow(MatrixText.called(row, names), cells);
    }

    private static Cell cell(Extent extent, boolean danger) {
        return switch (extent.kind()) {
            case NONE -> new Cell("–", "none");
            case UNKNOWN -> new Cell("?", "unknown");
            case ALL -> new Cell(danger ? "! all" : "all", danger ? "danger" : "some");
            case SOME -> {
                String which = MatrixText.isOverTls(extent) ? "over TLS" : shown(String.join("; ", extent.which()));
                yield new Cell(
                        (danger ? "! " : "")
                                + (extent.mayBeWider() ? "at least " : "")
                                + (which.length() > 90 ? "part" : which)
                                + (extent.mayBeWider() ? ", the rest not known" : ""),
                        danger ? "danger" : "some");
            }
        };
    }
}
