package warden.core.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.site.Site;
import warden.core.site.SitePattern;

/**
 * A site of which nobody has stated whether visitors are meant to read its store themselves, with a finding that ends either way.
 *
 * @param finding the one that has two right answers
 */
public record Choice(Site site, Finding finding) {
    private static final Set<String> TWO_RIGHT_ANSWERS =
            Set.of("open-around-cdn", "open-endpoint-around-cdn", "guard-contradicts-grant");
    private static final Set<SitePattern> WEB_CONTAINERS =
            Set.of(SitePattern.WEB_CONTAINER, SitePattern.WEB_CONTAINER_BEHIND_CDN);

    /** An answer, and the folder of its plan. */
    public enum Answer {
        /** Visitors, or an edge that does not sign, read the store as everybody. */
        OPEN("if-open"),
        /** Only the edge reads it. */
        SEALED("if-sealed");

        private final String folder;

        Answer(String folder) {
            this.folder = folder;
        }

        /** Returns the name of the folder. */
        public String folder() {
            return folder;
        }
    }

    /**
     * Returns what is to be chosen, each site once for each finding, the worst first. A site with nothing in front has no such choice: sealed, it
     * would be read by nobody.
     */
    static List<Choice> in(Audit audit, Predicate<Finding> asked) {
        List<Choice> choices = new ArrayList<>();
        for (Finding finding : audit.findings().stream().filter(asked).toList()) {
            if (!TWO_RIGHT_ANSWERS.contains(finding.card().id())) {
                continue;
            }
            List<? extends Site> sites = audit.context().sites().stream()
                    .filter(site -> site.storeIds().contains(finding.subject()))
                    .toList();
            if (sites.stream().allMatch(site -> site.meant().isEmpty() && isBehindEdge(site))) {
                sites.forEach(site -> choices.add(new Choice(site, finding)));
            }
        }
        return choices;
    }

    private static boolean isBehindEdge(Site site) {
        return !site.edgeIds().isEmpty() || !site.unreadEdgeIds().isEmpty();
    }

    /** Returns the pattern to state for an answer. */
    public SitePattern pattern(Answer answer) {
        return switch (answer) {
            case OPEN -> SitePattern.OPEN_BUCKET_BEHIND_CDN;
            case SEALED ->
                site.found().filter(WEB_CONTAINERS::contains).isPresent()
                        ? SitePattern.WEB_CONTAINER_BEHIND_CDN
                        : SitePattern.SEALED_BUCKET_BEHIND_CDN;
        };
    }

    /** Returns why a plan made for an answer does not end the finding; absent where it does. */
    Optional<String> remainsIn(Plan plan) {
        return plan.left().stream()
                .filter(left -> isAbout(left.finding()))
                .map(left -> left.byHand().why())
                .findFirst()
                .or(() -> plan.end().unknowns().stream()
                        .filter(open -> isIt(open.card().id(), open.verdict().subject()))
                        .map(open -> "whether it ends it cannot be told")
                        .findFirst());
    }

    /** True for a finding of the same check about the same store. */
    boolean isAbout(Finding other) {
        return isIt(other.card().id(), other.subject());
    }

    private boolean isIt(String check, String subject) {
        return finding.card().id().equals(check) && finding.subject().equals(subject);
    }
}
