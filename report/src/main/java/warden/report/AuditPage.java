package warden.report;

import java.util.List;
import java.util.Optional;

/**
 * What the page of an audit shows, in the words and places in which it shows it. Made by {@link HtmlReport}; read by the template, which
 * escapes every text.
 *
 * @param contentSecurityPolicy lets the page's own style in, and nothing else
 * @param style the page's style sheet, which holds nothing from outside
 * @param verdictClass {@code bad}, {@code open} or {@code good}
 * @param gate what the gate makes of it, and what changed since an earlier report; empty for nothing
 * @param groups the worst findings in the groups that a person thinks in
 * @param moreInGroups says how many findings are not in the groups; empty when all are
 * @param sums a row for each site, and for what concerns no site
 * @param notTold what could not be told; empty when everything was
 * @param statement the statement of permissions that would allow to read it; empty when none would
 * @param leftovers what can be deleted, in that order
 * @param accounts what was found in each of several accounts; empty for one
 * @param moreSites says how many sites are left out; empty when none is
 */
public record AuditPage(
        String contentSecurityPolicy,
        String style,
        String verdict,
        String verdictClass,
        String about,
        String gate,
        List<Count> counts,
        List<GroupView> groups,
        String moreInGroups,
        List<SumView> sums,
        String notTold,
        String statement,
        List<String> leftovers,
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
        groups = List.copyOf(groups);
        sums = List.copyOf(sums);
        leftovers = List.copyOf(leftovers);
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

    /** A group of findings under a heading. */
    public record GroupView(String heading, List<EntryView> entries) {
        public GroupView {
            entries = List.copyOf(entries);
        }
    }

    /**
     * A line of a group.
     *
     * @param number the place of the first finding that it tells, which is also where the page shows it in full
     */
    public record EntryView(int number, String severity, String does, String name, String detail) {}

    /** A row of the sums: the counts in the order of the page's, and a word such as {@code healthy}. */
    public record SumView(String name, String about, List<Long> counts, String word) {
        public SumView {
            counts = List.copyOf(counts);
        }
    }

    /** What was found in one account; the counts in the order of the page's. */
    public record AccountView(String name, long sites, List<Long> counts) {
        public AccountView {
            counts = List.copyOf(counts);
        }
    }

    /**
     * A site as a chain of parts.
     *
     * @param parts in the order in which a request meets them
     */
    public record SiteView(String name, String pattern, List<Part> parts, String sum) {
        public SiteView {
            parts = List.copyOf(parts);
        }
    }

    /**
     * A part of the chain.
     *
     * @param link what joins it to the part before; absent for the first
     */
    public record Part(String kind, String name, Optional<Link> link) {}

    /**
     * What joins two parts.
     *
     * @param state {@code sound}, {@code weak}, {@code broken} or {@code unknown}
     * @param mark the same as a sign
     * @param word the same in words
     */
    public record Link(String state, String mark, String word) {}

    /**
     * A finding.
     *
     * @param number its place among the findings, counted from 1
     * @param isNew whether an earlier report did not have it
     * @param replay the command that shows it again
     */
    public record FindingView(
            int number,
            boolean isNew,
            String severity,
            String check,
            String subject,
            String says,
            String why,
            String remedy,
            List<Evidence> because,
            String replay) {
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
