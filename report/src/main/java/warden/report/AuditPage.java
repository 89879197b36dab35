package warden.report;

import java.util.List;

/**
 * What the page of an audit shows, in the words and places in which it shows it. Made by {@link HtmlReport}; read by the template, which
 * escapes every text.
 *
 * @param contentSecurityPolicy lets the page's own style in, and nothing else
 * @param style the page's style sheet, which holds nothing from outside
 * @param verdictClass {@code bad}, {@code open} or {@code good}
 * @param accounts what was found in each of several accounts; empty for one
 * @param moreSites says how many sites are left out; empty when none is
 */
public record AuditPage(
        String contentSecurityPolicy,
        String style,
        String verdict,
        String verdictClass,
        String about,
        List<Count> counts,
        List<AccountView> accounts,
        List<SiteView> sites,
        String moreSites,
        List<FindingView> findings,
        List<UnknownView> unknowns,
        String moreUnknowns,
        List<WaivedView> waived,
        List<String> abilities,
        List<MatrixView> matrices,
        String surveys,
        String version) {
    public AuditPage {
        counts = List.copyOf(counts);
        accounts = List.copyOf(accounts);
        sites = List.copyOf(sites);
        findings = List.copyOf(findings);
        unknowns = List.copyOf(unknowns);
        waived = List.copyOf(waived);
        abilities = List.copyOf(abilities);
        matrices = List.copyOf(matrices);
    }

    /** How many there are of one severity. */
    public record Count(String name, long number) {}

    /** What was found in one account; the counts in the order of the page's. */
    public record AccountView(String name, long sites, List<Long> counts) {
        public AccountView {
            counts = List.copyOf(counts);
        }
    }

    /**
     * A site as a chain of parts.
     *
     * @param chainInWords the same as the picture, for those who do not see it
     */
    public record SiteView(
            String name, String pattern, String chainInWords, List<Node> nodes, List<Link> links, String sum) {
        public SiteView {
            nodes = List.copyOf(nodes);
            links = List.copyOf(links);
        }
    }

    /** A part of the chain; {@code x} is its left edge in the picture's units. */
    public record Node(String kind, String name, int x) {
        public int middle() {
            return x + 90;
        }
    }

    /**
     * What joins two parts.
     *
     * @param state {@code sound}, {@code weak}, {@code broken} or {@code unknown}
     * @param mark the same as a sign
     * @param word the same in words
     */
    public record Link(int from, int to, String state, String mark, String word) {
        public int middle() {
            return (from + to) / 2;
        }
    }

    /**
     * A finding.
     *
     * @param witness a question that shows it, as JSON; empty when there is none
     */
    public record FindingView(
            String severity,
            String check,
            String subject,
            String says,
            String why,
            String remedy,
            List<Evidence> because,
            String witness) {
        public FindingView {
            because = List.copyOf(because);
        }
    }

    /** A place, and what stands there. */
    public record Evidence(String place, String quote) {}

    /**
     * A reading that would settle something.
     *
     * @param open the questions that it leaves open
     */
    public record UnknownView(String reading, String why, String permission, String open) {}

    /** A finding that was agreed to be left. */
    public record WaivedView(String check, String subject, String until, String reason) {}

    /** The matrix of one bucket. */
    public record MatrixView(String bucket, List<MatrixRow> rows) {
        public MatrixView {
            rows = List.copyOf(rows);
        }
    }

    /** An actor's row. */
    public record MatrixRow(String who, List<Cell> cells) {
        public MatrixRow {
            cells = List.copyOf(cells);
        }
    }

    /** How far one ability reaches; {@code state} is {@code danger}, {@code some}, {@code none} or {@code unknown}. */
    public record Cell(String word, String state) {}
}
