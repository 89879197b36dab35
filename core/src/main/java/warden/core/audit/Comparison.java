package warden.core.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.audit.Audit.UnknownAnswer;
import warden.core.audit.EarlierReport.Known;

/**
 * What changed between an earlier report and an audit, finding by finding.
 *
 * @param file the earlier report's name, as given
 * @param known the fingerprints of the findings that the earlier report had
 * @param gone the fingerprints of those that are looked for and not found any more, in the earlier report's order
 * @param unanswered the fingerprints of those that are not found, and of which it cannot be told now whether they are still there
 */
public record Comparison(String file, Set<String> known, List<String> gone, List<String> unanswered) {
    public Comparison {
        known = Set.copyOf(known);
        gone = List.copyOf(gone);
        unanswered = List.copyOf(unanswered);
    }

    static Comparison of(EarlierReport earlier, Audit audit, Set<String> accounts) {
        Set<String> present = Stream.concat(
                        audit.findings().stream(), audit.waived().stream().map(Audit.Waived::finding))
                .map(Finding::fingerprint)
                .collect(Collectors.toSet());
        List<String> gone = new ArrayList<>();
        List<String> unanswered = new ArrayList<>();
        for (Known finding : earlier.findings()) {
            if (present.contains(finding.fingerprint())) {
                continue;
            }
            boolean isLookedFor = accounts.contains(finding.account())
                    && audit.looksFor(finding.check(), finding.site())
                    && isAtHand(finding, audit.context());
            if (isLookedFor
                    && Stream.concat(
                                    audit.unknowns().stream(),
                                    audit.waivedUnknowns().stream().map(Audit.WaivedUnknown::answer))
                            .noneMatch(answer -> mayHide(answer, finding))) {
                gone.add(finding.fingerprint());
            } else {
                unanswered.add(finding.fingerprint());
            }
        }
        return new Comparison(
                earlier.file(),
                earlier.findings().stream().map(Known::fingerprint).collect(Collectors.toSet()),
                gone,
                unanswered);
    }

    /** A pipeline or a folder that this run was not given is not looked at. */
    private static boolean isAtHand(Known finding, AuditContext context) {
        if (finding.area().equals(Area.PIPELINE.word())) {
            return context.pipelines().stream()
                    .anyMatch(pipeline -> pipeline.subject().equals(finding.subject()));
        }
        boolean isFile = context.clouds().stream().noneMatch(cloud -> cloud.spells(finding.subject()));
        return !finding.area().equals(Area.CONTENT.word())
                || !isFile
                || context.folder().isPresent();
    }

    /** A question of the same check hides a finding when it is about the same thing or site, or about the account as a whole. */
    private static boolean mayHide(UnknownAnswer answer, Known finding) {
        String subject = answer.verdict().subject();
        return answer.card().id().equals(finding.check())
                && (subject.equals(finding.subject())
                        || subject.equals(finding.account())
                        || (finding.site().isPresent()
                                && answer.verdict().site().equals(finding.site())));
    }

    /** Returns how many of these findings the earlier report did not have. */
    public long countNew(List<Finding> findings) {
        return findings.stream().filter(this::isNew).count();
    }

    /** True for a finding that the earlier report did not have. */
    public boolean isNew(Finding finding) {
        return !known.contains(finding.fingerprint());
    }
}
