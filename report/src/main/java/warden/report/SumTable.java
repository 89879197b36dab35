package warden.report;

import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Standing;
import warden.core.cloud.Cloud.UnreadStore;
import warden.core.site.Site;
import warden.core.site.SitePattern;

/**
 * The rows of a report's table of sites: every site, the buckets that are there and were not read, and what concerns no site, so that the
 * columns add up to the audit's counts.
 *
 * @param rows in the order in which they are shown
 * @param left says which sites are left out; empty when none is
 */
record SumTable(List<Row> rows, String left) {
    private static final String NO_SITE = "(no site)";

    SumTable {
        rows = List.copyOf(rows);
    }

    /**
     * A row.
     *
     * @param about the site's pattern, or what else the row is about
     * @param word what can be said of it as a whole; empty where the counts say it all
     */
    record Row(String name, String about, Map<Severity, Long> counts, long unknown, String word) {
        Row {
            counts = Collections.unmodifiableMap(new EnumMap<>(counts));
        }

        /** True for the row of what concerns no site. */
        boolean isOfNoSite() {
            return name.equals(NO_SITE);
        }
    }

    /** Returns the table of at most so many sites; what concerns no site has its rows in any case. */
    static SumTable of(Audit audit, int most) {
        ShownSites shown = ShownSites.of(audit, most);
        List<Row> rows = new ArrayList<>();
        for (Site site : shown.sites()) {
            Standing standing = audit.standing(site);
            rows.add(new Row(
                    site.name(),
                    site.pattern().map(SitePattern::word).orElse("not known"),
                    audit.counts(Optional.of(site.name())),
                    audit.unknownCount(Optional.of(site.name())),
                    standing.word()));
        }
        Map<String, List<Severity>> found = audit.findings().stream()
                .filter(finding -> finding.site().isEmpty())
                .collect(Collectors.groupingBy(
                        Finding::subject, Collectors.mapping(Finding::severity, Collectors.toList())));
        Map<String, Long> open = audit.unknowns().stream()
                .filter(answer -> answer.verdict().site().isEmpty())
                .collect(Collectors.groupingBy(answer -> answer.verdict().subject(), Collectors.counting()));
        for (UnreadStore bucket : audit.unreadStores().stream().limit(most).toList()) {
            List<Severity> own = found.getOrDefault(bucket.id(), List.of());
            rows.add(new Row(
                    bucket.name(), "bucket, not read", Severity.counts(own), open.getOrDefault(bucket.id(), 0L), ""));
            found.remove(bucket.id());
            open.remove(bucket.id());
        }
        List<Severity> rest = found.values().stream().flatMap(List::stream).toList();
        long restOpen = open.values().stream().mapToLong(Long::longValue).sum();
        if (restOpen > 0 || !rest.isEmpty()) {
            rows.add(new Row(NO_SITE, "", Severity.counts(rest), restOpen, ""));
        }
        return new SumTable(rows, shown.left());
    }
}
