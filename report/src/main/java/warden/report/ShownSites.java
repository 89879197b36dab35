package warden.report;

import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import warden.core.audit.Audit;
import warden.core.audit.Severity;
import warden.core.site.Site;

/**
 * The sites that a report lists: all, or of many those with the worst findings.
 *
 * @param sites in alphabetical order when they are all, else the worst first
 * @param rest how many are left out
 * @param healthy with how many of those nothing is wrong
 */
record ShownSites(List<Site> sites, long rest, long healthy) {
    ShownSites {
        sites = List.copyOf(sites);
    }

    static ShownSites of(Audit audit, int most) {
        if (audit.sites().size() <= most) {
            return new ShownSites(audit.sites(), 0, 0);
        }
        Comparator<Site> worstFirst = ShownSites.<Site>worstFirst(site -> audit.counts(Optional.of(site.name())))
                .thenComparing(site -> -audit.unknownCount(Optional.of(site.name())))
                .thenComparing(Site::name);
        List<Site> sorted = audit.sites().stream().sorted(worstFirst).toList();
        List<Site> rest = sorted.subList(most, sorted.size());
        return new ShownSites(
                sorted.subList(0, most),
                rest.size(),
                rest.stream().filter(audit::isHealthy).count());
    }

    /** Returns the order in which what has more of the worst findings goes first. */
    static <T> Comparator<T> worstFirst(Function<T, Map<Severity, Long>> counts) {
        Comparator<T> order = Comparator.comparing(each -> 0);
        for (Severity severity : Severity.values()) {
            order = order.thenComparing(each -> -counts.apply(each).get(severity));
        }
        return order;
    }

    /** Says what is left out; empty when nothing is. */
    String left() {
        return rest == 0
                ? ""
                : "and " + Lines.count(rest, "site") + " more"
                        + (healthy == 0 ? "" : ", " + (healthy == rest ? "all" : healthy) + " healthy");
    }
}
