package warden.report;

import java.util.Comparator;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.Audit;
import warden.core.audit.Finding;

/** What nobody uses any more, in the order in which it can be deleted. */
final class Leftovers {
    /** Who publishes goes first, then what fetches, then what that shows and signs with; names that may lead there last. */
    private static final List<String> ORDER = List.of(
            "leftover-publisher",
            "leftover-distribution",
            "origin-identity-unused",
            "leftover-certificate",
            "leftover-zone");

    private Leftovers() {}

    /** Returns the findings about things to delete. */
    static List<Finding> inOrder(Audit audit) {
        return audit.findings().stream()
                .filter(finding -> finding.card().area() == Area.LEFTOVERS
                        || ORDER.contains(finding.card().id()))
                .sorted(Comparator.comparingInt((Finding finding) ->
                                ORDER.indexOf(finding.card().id()))
                        .thenComparing(Finding::subject))
                .toList();
    }
}
