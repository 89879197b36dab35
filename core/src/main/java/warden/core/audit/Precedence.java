package warden.core.audit;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.survey.Citation;

/** One fact, one finding: where several checks see the same fact, only the most specific reports it. */
public final class Precedence {
    private static final Set<String> WIDER = Set.of(
            "anyone-can-change-rules",
            "anyone-can-write",
            "anyone-can-delete",
            "anyone-can-list",
            "origin-identity-too-strong");
    /** For each check, those that go before it when they report about the same subject and place. */
    private static final Map<String, Set<String>> BEFORE = Map.ofEntries(
            Map.entry(
                    "policy-invalid",
                    Set.of("policy-names-bucket-not-objects", "policy-names-other-bucket", "policy-template-text")),
            Map.entry(
                    "policy-dead-statement",
                    Set.of("policy-names-bucket-not-objects", "policy-names-other-bucket", "policy-template-text")),
            Map.entry("policy-names-other-bucket", Set.of("policy-template-text")),
            Map.entry("service-without-source", Set.of("origin-identity-any-distribution")),
            Map.entry("bucket-host-mismatch", Set.of("record-dangling")),
            Map.entry("host-on-no-record", Set.of("host-unresolved")),
            Map.entry("certificate-not-renewing", Set.of("certificate-expiring")),
            Map.entry("leftover-certificate", Set.of("certificate-wrong-region")),
            Map.entry("origin-identity-not-allowed", Set.of("encrypted-beyond-readers")),
            Map.entry("trust-pull-requests", Set.of("trust-too-wide", "trust-any-principal")),
            Map.entry("content-index-nested", Set.of("content-archive-only")),
            Map.entry("policy-wider-than-needed", WIDER));
    /** For each check, those that go before it when they report about another part of the same site. */
    private static final Map<String, Set<String>> BEFORE_IN_SITE =
            Map.of("certificate-missing", Set.of("certificate-not-issued", "certificate-wrong-region"));

    private static final String PAGE = "page-not-served";
    /** The checks that name why pages do not come. */
    private static final Set<String> CAUSES_OF_OUTAGE = Set.of(
            "guard-contradicts-grant",
            "encrypted-beyond-readers",
            "requester-pays",
            "hosting-off",
            "index-missing",
            "index-invalid",
            "redirect-broken",
            "single-page-unrouted",
            "folder-index-unserved",
            "error-missing",
            "bucket-host-mismatch",
            "policy-invalid",
            "policy-template-text",
            "policy-names-bucket-not-objects",
            "policy-names-other-bucket",
            "policy-stale-principal",
            "origin-identity-missing",
            "origin-identity-not-allowed",
            "origin-identity-not-signing",
            "origin-identity-on-website-endpoint",
            "origin-bucket-gone",
            "origin-path-missing",
            "origin-wrong-region",
            "origin-host-forwarded",
            "root-object-missing",
            "distribution-off",
            "host-unresolved",
            "host-not-on-distribution",
            "host-on-no-record",
            "record-dangling",
            "zone-not-delegated",
            "zone-duplicate",
            "certificate-missing",
            "certificate-not-issued",
            "certificate-not-covering",
            "certificate-wrong-region",
            "certificate-expiring",
            "certificate-authority-barred",
            "domain-expiring",
            "leftover-distribution");

    private static final Set<String> GO_BEFORE_IN_SITE =
            BEFORE_IN_SITE.values().stream().flatMap(Set::stream).collect(Collectors.toUnmodifiableSet());

    /** Of one subject there may be thousands of findings; few checks go before another. */
    private static final Set<String> GO_BEFORE = Stream.concat(
                    Stream.of("publisher-is-admin"), BEFORE.values().stream().flatMap(Set::stream))
            .collect(Collectors.toUnmodifiableSet());

    private static final String ADMIN = "publisher-is-admin";
    private static final Set<String> TOO_MUCH = Set.of(
            "publisher-beyond-its-sites",
            "publisher-can-escalate",
            "publisher-can-change-rules",
            "publisher-excess-services",
            "publisher-excess-actions",
            "publisher-can-lose-versions");

    private Precedence() {}

    /** True for a check whose findings may keep back those of a wanted one, so that it must be asked too. */
    public static boolean maySpeakFor(CheckCard wanted, CheckCard other) {
        String id = wanted.id();
        return BEFORE.getOrDefault(id, Set.of()).contains(other.id())
                || BEFORE_IN_SITE.getOrDefault(id, Set.of()).contains(other.id())
                || (TOO_MUCH.contains(id) && other.id().equals(ADMIN))
                || (id.equals(PAGE) && CAUSES_OF_OUTAGE.contains(other.id()))
                || (wanted.area() != Area.LEFTOVERS && other.area() == Area.LEFTOVERS);
    }

    /** Returns the findings without those that another reports more specifically. */
    static List<Finding> applied(List<Finding> findings) {
        Map<String, List<Finding>> bySubject = new HashMap<>();
        Map<Optional<String>, List<Finding>> bySite = new HashMap<>();
        Set<String> sitesOfCauses = new HashSet<>();
        Set<String> readingsOfCauses = new HashSet<>();
        for (Finding finding : findings) {
            String id = finding.card().id();
            if (GO_BEFORE.contains(id)) {
                bySubject
                        .computeIfAbsent(finding.subject(), subject -> new ArrayList<>())
                        .add(finding);
            }
            if (GO_BEFORE_IN_SITE.contains(id)) {
                bySite.computeIfAbsent(finding.site(), site -> new ArrayList<>())
                        .add(finding);
            }
            if (CAUSES_OF_OUTAGE.contains(id)) {
                finding.site().ifPresent(sitesOfCauses::add);
                finding.because().forEach(cited -> readingsOfCauses.add(reading(cited)));
            }
        }
        Set<String> leftovers = findings.stream()
                .filter(finding -> finding.card().area() == Area.LEFTOVERS)
                .map(Finding::subject)
                .collect(Collectors.toSet());
        List<Finding> kept = new ArrayList<>();
        for (Finding finding : findings) {
            // What is to be deleted need not be put right in small things first.
            boolean isSmall =
                    finding.severity() == Severity.LOW && finding.card().area() != Area.LEFTOVERS;
            if (isSmall && leftovers.contains(finding.subject())) {
                continue;
            }
            // A cause in the same site, or one that is read where what the visitor gets is decided.
            boolean hasCause = finding.site().filter(sitesOfCauses::contains).isPresent()
                    || finding.because().stream().anyMatch(decides -> readingsOfCauses.contains(reading(decides)));
            if (finding.card().id().equals(PAGE) && hasCause) {
                continue;
            }
            boolean said = bySubject.getOrDefault(finding.subject(), List.of()).stream()
                            .anyMatch(other -> goesBefore(other, finding))
                    || bySite.getOrDefault(finding.site(), List.of()).stream()
                            .anyMatch(other -> goesBefore(other, finding));
            if (!said) {
                kept.add(finding);
            }
        }
        return kept;
    }

    private static String reading(Citation cited) {
        return cited.aspect() + " " + cited.subject();
    }

    private static boolean goesBefore(Finding other, Finding finding) {
        if (!other.subject().equals(finding.subject())) {
            return finding.site().isPresent()
                    && finding.site().equals(other.site())
                    && BEFORE_IN_SITE
                            .getOrDefault(finding.card().id(), Set.of())
                            .contains(other.card().id());
        }
        if (other.card().id().equals(ADMIN) && TOO_MUCH.contains(finding.card().id())) {
            return true;
        }
        boolean samePlace = other.place().isEmpty()
                || finding.place().isEmpty()
                || (finding.place() + "/").startsWith(other.place() + "/");
        return samePlace
                && BEFORE.getOrDefault(finding.card().id(), Set.of())
                        .contains(other.card().id());
    }
}
