package warden.report;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Who is hurt by what a check finds, and how: the words under which a first look at an audit tells it.
 *
 * @param group the heading
 * @param does one or two words that follow the heading
 */
record Consequence(Group group, String does) {
    /** The headings, in the order in which they are read. */
    enum Group {
        STRANGERS("Strangers can"),
        CREDENTIAL("A leaked credential can"),
        VISITORS("Visitors cannot"),
        TEAM("Your team cannot"),
        GUARD("Nothing guards against"),
        WASTE("Nobody needs");

        private final String heading;

        Group(String heading) {
            this.heading = heading;
        }

        String heading() {
            return heading;
        }
    }

    private static final Map<String, Consequence> BY_CHECK = new HashMap<>();

    private static void put(Group group, String does, String... checks) {
        for (String check : checks) {
            BY_CHECK.put(check, new Consequence(group, does));
        }
    }

    static {
        put(Group.STRANGERS, "change rules", "anyone-can-change-rules");
        put(Group.STRANGERS, "write", "anyone-can-write", "origin-identity-too-strong", "viewer-methods-too-wide");
        put(Group.STRANGERS, "delete", "anyone-can-delete");
        put(Group.STRANGERS, "list", "anyone-can-list");
        put(
                Group.STRANGERS,
                "go around",
                "open-around-cdn",
                "open-endpoint-around-cdn",
                "record-around-cdn",
                "origin-identity-any-distribution",
                "origin-identity-other-distribution");
        put(
                Group.STRANGERS,
                "read",
                "open-without-site",
                "old-versions-readable",
                "object-acl-open",
                "policy-wider-than-needed",
                "content-private-files",
                "account-network-open",
                "content-source-maps",
                "pipeline-state-exposed",
                "pipeline-uploads-everything");
        put(
                Group.STRANGERS,
                "get in",
                "outside-account-access",
                "service-without-source",
                "policy-allow-not-principal",
                "pipeline-secret-in-file",
                "content-secret");
        put(Group.STRANGERS, "take over", "origin-bucket-gone", "record-dangling", "bucket-host-mismatch");
        put(
                Group.STRANGERS,
                "publish",
                "trust-too-wide",
                "trust-any-principal",
                "trust-pull-requests",
                "trust-outside-account",
                "pipeline-untrusted-trigger",
                "pipeline-unpinned-step");
        put(
                Group.STRANGERS,
                "listen in",
                "viewer-plain-http",
                "viewer-tls-old",
                "plain-http-to-storage",
                "account-plain-http",
                "account-tls-old",
                "redirect-to-plain-http",
                "content-mixed",
                "certificate-weak-key");
        put(Group.STRANGERS, "misuse", "cors-too-wide", "security-headers-missing");
        put(Group.CREDENTIAL, "do all", "publisher-is-admin", "root-key");
        put(Group.CREDENTIAL, "gain more", "publisher-can-escalate");
        put(Group.CREDENTIAL, "change rules", "publisher-can-change-rules");
        put(Group.CREDENTIAL, "reach others", "publisher-beyond-its-sites", "publisher-shared", "assignment-too-wide");
        put(
                Group.CREDENTIAL,
                "do more",
                "publisher-excess-services",
                "publisher-excess-actions",
                "pipeline-token-too-wide");
        put(Group.CREDENTIAL, "erase", "publisher-can-lose-versions");
        put(
                Group.CREDENTIAL,
                "last long",
                "publisher-long-lived-key",
                "key-old",
                "key-unused",
                "keys-two-active",
                "account-key-access",
                "principal-secret-long",
                "leftover-publisher");
        put(Group.CREDENTIAL, "sign in", "publisher-console-login");
        put(
                Group.VISITORS,
                "open",
                "guard-contradicts-grant",
                "policy-invalid",
                "policy-names-bucket-not-objects",
                "policy-names-other-bucket",
                "policy-template-text",
                "hosting-off",
                "account-kind-unsupported",
                "web-host-unregistered",
                "index-missing",
                "index-invalid",
                "page-not-served",
                "single-page-unrouted",
                "redirect-broken",
                "encrypted-beyond-readers",
                "requester-pays",
                "expires-live-content",
                "origin-identity-missing",
                "origin-identity-not-allowed",
                "origin-identity-not-signing",
                "origin-identity-on-website-endpoint",
                "origin-wrong-region",
                "origin-path-missing",
                "origin-host-forwarded",
                "root-object-missing",
                "folder-index-unserved",
                "host-not-on-distribution",
                "distribution-off",
                "pipeline-not-extracted",
                "content-archive-only",
                "content-index-nested",
                "content-broken-link",
                "content-wrong-type");
        put(
                Group.VISITORS,
                "see errors",
                "error-unset",
                "error-missing",
                "error-response-missing",
                "single-page-masks-errors");
        put(
                Group.VISITORS,
                "find",
                "host-unresolved",
                "host-on-no-record",
                "apex-or-www-missing",
                "apex-cname",
                "zone-not-delegated",
                "zone-duplicate",
                "domain-expiring",
                "ipv6-record-missing");
        put(
                Group.VISITORS,
                "trust",
                "certificate-missing",
                "cdn-custom-domain-no-https",
                "certificate-not-covering",
                "certificate-wrong-region",
                "certificate-not-issued",
                "certificate-expiring",
                "certificate-not-renewing",
                "certificate-authority-barred");
        put(Group.VISITORS, "see the new", "stale-after-deploy", "pipeline-no-invalidation");
        put(Group.VISITORS, "load fast", "compression-off", "content-heavy", "content-cache-policy");
        put(Group.VISITORS, "read", "content-template-text");
        put(
                Group.TEAM,
                "publish",
                "publisher-cannot-publish",
                "principal-secret-expiring",
                "cdn-classic-retiring",
                "pipeline-wrong-target",
                "pipeline-opens-objects");
        put(Group.TEAM, "undo", "versioning-off", "pipeline-delete-without-net");
        put(Group.TEAM, "look back", "cdn-logging-off", "storage-logging-off");
        put(Group.TEAM, "be sure", "pipeline-deploys-untested", "pipeline-leaves-old-files", "policy-unknown-action");
        put(
                Group.GUARD,
                "opening",
                "guard-off",
                "account-guard-off",
                "ownership-lets-acls",
                "account-allows-open-containers");
        put(Group.WASTE, "the cost", "dedicated-ip-tls", "versions-kept-forever");
        put(
                Group.WASTE,
                "the rest",
                "hosting-unused",
                "origin-identity-legacy",
                "origin-identity-unused",
                "policy-dead-statement",
                "policy-stale-principal",
                "leftover-certificate",
                "leftover-distribution",
                "leftover-zone");
    }

    /** Returns the consequence of what a check finds. */
    static Consequence of(String check) {
        Consequence known = BY_CHECK.get(check);
        if (known == null) {
            throw new IllegalArgumentException("no consequence is told for the check " + check);
        }
        return known;
    }

    /** Returns which of these checks have no consequence, for the test that demands one of each. */
    static List<String> untold(List<String> checks) {
        Set<String> known = BY_CHECK.keySet();
        return checks.stream().filter(check -> !known.contains(check)).toList();
    }
}
