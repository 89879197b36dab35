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
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.check.Area;
import warden.core.check.Audit;
import warden.core.check.Finding;
import warden.core.check.Severity;
import warden.core.document.Shown;
import warden.core.reach.Ability;
import warden.core.reach.Extent;
import warden.core.reach.Matrix.Row;
import warden.core.reach.Matrix.Table;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SitePattern;
import warden.core.storage.Bucket;
import warden.core.survey.Need;
import warden.report.AuditPage.Cell;
import warden.report.AuditPage.Evidence;
import warden.report.AuditPage.FindingView;
import warden.report.AuditPage.Link;
import warden.report.AuditPage.MatrixRow;
import warden.report.AuditPage.MatrixView;
import warden.report.AuditPage.Node;
import warden.report.AuditPage.SiteView;
import warden.report.AuditPage.UnknownView;
import warden.report.AuditPage.WaivedView;

/** An audit as one page that needs nothing else: no network, no scripts; for screens, paper, keyboards and screen readers. */
public final class HtmlReport {
    private static final int MOST_UNKNOWNS = 1_000;
    private static final int MOST_SUBJECTS = 3;
    private static final int NODE = 180;
    private static final int NODE_NAME = 20;
    /** More pictures than that nobody looks at, and no browser shows quickly. */
    private static final int MOST_SITES = 200;

    private static final Set<Area> BEFORE_EDGE = Set.of(Area.DNS, Area.CERTIFICATE);
    private static final Set<Area> OF_PUBLISHING = Set.of(Area.CREDENTIAL, Area.PIPELINE, Area.CONTENT);

    private final Audit audit;

    private HtmlReport(Audit audit) {
        this.audit = audit;
    }

    /**
     * Returns the page.
     *
     * @param gate the least severity that fails the audit; absent when none does
     * @param tables the matrices to show
     * @param closed the ARNs of buckets that strangers should not even read
     * @param version of the program
     */
    public static String of(
            Audit audit, Optional<Severity> gate, List<Table> tables, Set<String> closed, String version) {
        AuditPage page = new HtmlReport(audit).page(gate, tables, closed, version);
        StringOutput out = new StringOutput();
        TemplateEngine.createPrecompiled(null, ContentType.Html, null, "warden.report.page")
                .render("audit.jte", page, out);
        return out.toString();
    }

    private AuditPage page(Optional<Severity> gate, List<Table> tables, Set<String> closed, String version) {
        String style = style();
        ShownSites sites = ShownSites.of(audit, MOST_SITES);
        long failing = audit.findings().stream()
                .filter(finding -> gate.isPresent() && finding.severity().isAtLeast(gate.get()))
                .count();
        boolean clean = audit.everyCheck()
                && audit.findings().isEmpty()
                && audit.unknowns().isEmpty();
        String verdict = failing > 0
                ? failing + (failing == 1 ? " finding needs" : " findings need") + " attention"
                : clean
                        ? "Nothing is wrong"
                        : audit.unknowns().isEmpty() && audit.findings().isEmpty()
                                ? "No findings of the checks asked"
                                : audit.findings().isEmpty()
                                        ? "No findings, but something is unknown"
                                        : "Nothing urgent";
        List<MissingReading> missing = MissingReading.of(audit);
        return new AuditPage(
                "default-src 'none'; style-src 'sha256-" + hash(style) + "'; base-uri 'none'; form-action 'none'",
                style,
                verdict,
                failing > 0 ? "bad" : clean ? "good" : "open",
                about(),
                counts(),
                accounts(),
                sites.sites().stream().map(this::site).toList(),
                sites.left(),
                audit.findings().stream().map(HtmlReport::finding).toList(),
                missing.stream().limit(MOST_UNKNOWNS).map(HtmlReport::unknown).toList(),
                missing.size() <= MOST_UNKNOWNS
                        ? ""
                        : (missing.size() - MOST_UNKNOWNS) + " readings more are missing; the JSON report has all.",
                audit.waived().stream()
                        .map(agreed -> new WaivedView(
                                agreed.finding().card().id(),
                                shown(agreed.finding().subject()),
                                agreed.waiver().until().toString(),
                                shown(agreed.waiver().reason())))
                        .toList(),
                Arrays.stream(Ability.values()).map(Ability::word).toList(),
                tables.stream().map(table -> matrix(table, closed)).toList(),
                shown(audit.setup().estate().accounts().stream()
                        .map(account -> account.survey().header().file())
                        .collect(Collectors.joining(", "))),
                version);
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
        String accounts = audit.setup().estate().accounts().stream()
                .map(account -> Lines.account(account.survey().header()))
                .collect(Collectors.joining("; "));
        return shown("Audit as of " + audit.setup().at() + " of " + accounts + ".");
    }

    private List<AuditPage.AccountView> accounts() {
        return audit.setup().estate().accounts().size() < 2
                ? List.of()
                : audit.sumsByAccount().stream()
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
        all.add(new AuditPage.Count("waived", audit.waived().size()));
        return all;
    }

    /** The parts that the site has, in the order in which a request meets them, and the publisher behind them. */
    private SiteView site(Site site) {
        List<String[]> parts = new ArrayList<>();
        List<Set<Integer>> between = new ArrayList<>();
        parts.add(new String[] {
            "host", site.hosts().isEmpty() ? site.name() : site.hosts().get(0)
        });
        boolean hasEdge =
                !site.distributions().isEmpty() || !site.unreadDistributions().isEmpty();
        if (!site.distributions().isEmpty()) {
            parts.add(new String[] {"edge", site.distributions().get(0).id()});
            between.add(Set.of(0));
        } else if (hasEdge) {
            parts.add(new String[] {
                "edge, not read", lastPart(site.unreadDistributions().get(0).arn())
            });
            between.add(Set.of(0));
        }
        parts.add(new String[] {
            "storage", site.buckets().stream().findFirst().map(Bucket::name).orElse("not known")
        });
        between.add(hasEdge ? Set.of(1) : Set.of(0, 1));
        List<Publisher> publishers = audit.setup().publishersOf(site);
        if (!publishers.isEmpty()) {
            String more = publishers.size() > 1 ? " +" + (publishers.size() - 1) : "";
            parts.add(new String[] {"publisher", publishers.get(0).principal().name() + more});
            between.add(Set.of(2));
        }
        if (publishers.isEmpty()) {
            audit.setup().unreadPublishers().stream()
                    .filter(unread -> unread.site().filter(site::equals).isPresent())
                    .findFirst()
                    .ifPresent(unread -> {
                        String name = lastPart(unread.subject());
                        boolean isOne = unread.subject().startsWith("arn:") && !name.equals("*");
                        parts.add(new String[] {"publisher, not read", isOne ? name : "not known"});
                        between.add(Set.of(2));
                    });
        }
        List<Node> nodes = new ArrayList<>();
        List<Link> links = new ArrayList<>();
        List<String> words = new ArrayList<>();
        for (int i = 0; i < parts.size(); i++) {
            nodes.add(new Node(parts.get(i)[0], shortened(shown(parts.get(i)[1])), i * (NODE + 60)));
            words.add(parts.get(i)[0] + " " + shown(parts.get(i)[1]));
            if (i > 0) {
                Link link = link(site, between.get(i - 1), (i - 1) * (NODE + 60) + NODE);
                links.add(link);
                words.add("between " + parts.get(i - 1)[0] + " and " + parts.get(i)[0] + " " + link.word());
            }
        }
        return new SiteView(
                shown(site.name()),
                site.pattern().map(SitePattern::word).orElse("pattern not known"),
                "The chain of parts: " + String.join(", ", words),
                nodes,
                links,
                sum(site));
    }

    private static String lastPart(String arn) {
        return arn.substring(arn.lastIndexOf('/') + 1);
    }

    private static String shortened(String name) {
        return Lines.column(name, NODE_NAME).strip();
    }

    /** Judges what joins two parts by the worst finding about it. */
    private Link link(Site site, Set<Integer> about, int from) {
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
            return new Link(from, from + 60, "broken", "✕", worst.get().word());
        }
        if (open) {
            return new Link(from, from + 60, "unknown", "?", "unknown");
        }
        return worst.map(severity -> new Link(from, from + 60, "weak", "!", severity.word()))
                .orElseGet(() -> audit.everyCheck()
                        ? new Link(from, from + 60, "sound", "✓", "sound")
                        : new Link(from, from + 60, "unknown", "–", "not all checks asked"));
    }

    /** Returns which link of the chain an area is about. */
    private static int indexOf(Area area) {
        return BEFORE_EDGE.contains(area) ? 0 : OF_PUBLISHING.contains(area) ? 2 : 1;
    }

    private String sum(Site site) {
        Map<Severity, Long> counts = audit.counts(Optional.of(site.name()));
        String findings = Arrays.stream(Severity.values())
                .filter(severity -> counts.get(severity) > 0)
                .map(severity -> counts.get(severity) + " " + severity.word())
                .collect(Collectors.joining(", "));
        long unknown = audit.unknownCount(Optional.of(site.name()));
        return (audit.isHealthy(site) ? "Healthy" : findings.isEmpty() ? "No findings" : "Findings: " + findings)
                + (unknown == 0 ? "." : "; " + unknown + " unknown.");
    }

    private static FindingView finding(Finding finding) {
        return new FindingView(
                finding.severity().word(),
                finding.card().id(),
                shown(finding.subject()),
                shown(finding.says()),
                finding.card().why(),
                shown(finding.remedy()),
                finding.because().stream()
                        .map(at -> new Evidence(shown(Lines.cite(at)), shown(at.quote())))
                        .toList(),
                finding.witness()
                        .map(witness -> Shown.clean(Json.line(json -> json.text(
                                        "who", witness.who().spelled())
                                .text("action", witness.action())
                                .text("on", witness.on())
                                .object("context", () -> witness.context().forEach(json::text)))))
                        .orElse(""));
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

    private static MatrixView matrix(Table table, Set<String> closed) {
        return new MatrixView(
                shown(table.bucket().name()),
                table.rows().stream().map(row -> row(table, row, closed)).toList());
    }

    private static MatrixRow row(Table table, Row row, Set<String> closed) {
        boolean stranger = row.isStrangers();
        List<Cell> cells = new ArrayList<>();
        row.abilities().forEach((ability, extent) -> {
            boolean read =
                    ability == Ability.READ && !closed.contains(table.bucket().arn());
            cells.add(cell(extent, stranger && !read && extent.isSome()));
        });
        return new MatrixRow(MatrixText.called(row), cells);
    }

    private static Cell cell(Extent extent, boolean danger) {
        return switch (extent.kind()) {
            case NONE -> new Cell("–", "none");
            case UNKNOWN -> new Cell("?", "unknown");
            case ALL -> new Cell(danger ? "! all" : "all", danger ? "danger" : "some");
            case SOME -> {
                if (MatrixText.isOverTls(extent)) {
                    yield new Cell((danger ? "! " : "") + "over TLS", danger ? "danger" : "some");
                }
                String which = shown(String.join("; ", extent.which()));
                yield new Cell(
                        (danger ? "! " : "") + (which.length() > 90 ? "part" : which), danger ? "danger" : "some");
            }
        };
    }
}
