package warden.core.aws.mend;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.audit.AuditContext;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.mend.Change;
import warden.core.mend.Mender;
import warden.core.mend.Proposal;

/** Says what to change about findings in accounts of this provider, by what they are about. */
public final class AwsMender implements Mender {
    @Override
    public Proposal propose(AuditContext context, Finding finding) {
        return AwsContext.in(context)
                .flatMap(aws -> of(aws, finding))
                .orElseGet(() -> Proposal.byHand(finding, REASONS));
    }

    /** Why findings of a check are left to a person. */
    private static final Map<String, String> REASONS = Map.ofEntries(
            Map.entry("folder-index-unserved", "it takes a function at the edge, whose code is yours to write"),
            Map.entry("cdn-logging-off", "the log needs a bucket in which ACLs are in force, which is yours to choose"),
            Map.entry("stale-after-deploy", "it is mended in the pipeline, or by how the pages are stored"),
            Map.entry("single-page-masks-errors", "addresses that answer with a page would answer with an error"),
            Map.entry("distribution-off", "whether it is meant to be off is not stated"),
            Map.entry("origin-bucket-gone", "the bucket has to be made, or the origin to be given up"),
            Map.entry("origin-host-forwarded", "which headers the origin needs is not told by anything that was read"),
            Map.entry("policy-template-text", "what should stand there is not told by anything that was read"),
            Map.entry("policy-unknown-action", "what was meant is not certain"),
            Map.entry("policy-allow-not-principal", "whom it is meant for is not stated"),
            Map.entry("policy-invalid", "what was meant is not certain"),
            Map.entry("trust-any-principal", "who is to work as the role is not stated"),
            Map.entry("trust-outside-account", "whether the account is trusted is for its owner to say"),
            Map.entry("publisher-console-login", "a password that is taken away cannot be given back"),
            Map.entry("root-key", "only the root user can delete its keys"),
            Map.entry("publisher-shared", "each site's pipeline has to change to a credential of its own"),
            Map.entry("zone-not-delegated", "it is changed at the registrar"),
            Map.entry("domain-expiring", "it is changed at the registrar"),
            Map.entry("zone-duplicate", "which of the zones is asked is the registrar's setting"),
            Map.entry("page-not-served", "its cause is told by no check"),
            Map.entry("index-missing", "the page has to be uploaded"),
            Map.entry("error-missing", "the page has to be uploaded"));

    private static Optional<Proposal> of(AwsContext context, Finding finding) {
        AwsCloud cloud = context.cloud();
        String subject = finding.subject();
        Optional<Proposal> atBucket = cloud.accountOf(subject)
                .flatMap(account -> new CertificateRemedies(account, context.at()).of(finding))
                .or(() -> Leftovers.of(cloud, finding))
                .or(() -> Bucket.nameIn(subject).flatMap(name -> ofBucket(cloud, name, finding)));
        return atBucket.or(() -> edges(cloud)
                        .filter(edge -> edge.distribution().arn().equals(subject))
                        .findFirst()
                        .flatMap(edge -> ofEdge(cloud, edge, finding)))
                .or(() -> cloud.accountOf(subject)
                        .filter(account -> subject.startsWith("arn:aws:iam:"))
                        .flatMap(account -> new CredentialRemedies(context, account, subject).of(finding)))
                .or(() -> cloud.accounts().stream()
                        .filter(account -> subject.startsWith("origin-access-"))
                        .flatMap(account -> OriginSigners.removal(account, subject).stream())
                        .findFirst()
                        .map(Proposal::of))
                .or(() -> ofAccount(cloud, finding))
                .or(() -> ofHost(cloud, finding));
    }

    private static Optional<Proposal> ofBucket(AwsCloud cloud, String name, Finding finding) {
        return cloud.ownerOf(name)
                .flatMap(account -> new BucketRemedies(cloud, account, account.bucket(name)).of(finding));
    }

    private record Edge(Account account, Distribution distribution) {}

    private static Stream<Edge> edges(AwsCloud cloud) {
        return cloud.accounts().stream().flatMap(account -> account.edges().distributions().stream()
                .map(distribution -> new Edge(account, distribution)));
    }

    /** Some findings about an edge are mended at the bucket that it fetches from. */
    private static Optional<Proposal> ofEdge(AwsCloud cloud, Edge edge, Finding finding) {
        return new EdgeRemedies(cloud, edge.account(), edge.distribution())
                .of(finding)
                .or(() -> edge.distribution().origins().stream()
                        .flatMap(origin -> origin.bucket().stream())
                        .distinct()
                        .flatMap(name -> ofBucket(cloud, name, finding).stream())
                        .findFirst());
    }

    private static Optional<Proposal> ofAccount(AwsCloud cloud, Finding finding) {
        if (!finding.card().id().equals("account-guard-off")) {
            return Optional.empty();
        }
        return cloud.accountOf(finding.subject()).map(account -> Proposal.of(AccountGuard.block(account)));
    }

    private static Optional<Proposal> ofHost(AwsCloud cloud, Finding finding) {
        String host = finding.subject();
        if (finding.card().id().equals("apex-or-www-missing")) {
            return Optional.of(OtherForm.of(cloud, host));
        }
        List<ZoneRecords.Held> records = ZoneRecords.of(cloud.accounts(), host);
        List<Change> changes =
                switch (finding.card().id()) {
                    case "record-dangling" ->
                        records.stream()
                                .filter(held -> List.of("A", "AAAA", "CNAME").contains(held.type()))
                                .map(held -> ZoneRecords.delete(
                                        held, "Take the " + held.type() + " record of " + host + " away"))
                                .toList();
                    case "ipv6-record-missing" ->
                        records.stream()
                                .filter(held -> held.type().equals("A"))
                                .filter(held -> held.set().find("AliasTarget").isPresent())
                                .map(held ->
                                        ZoneRecords.beside(held, "AAAA", "Lead " + host + " to the edge over IPv6 too"))
                                .toList();
                    case "record-around-cdn" ->
                        cloud.accounts().stream()
                                .flatMap(account -> account.edges().distributions().stream())
                                .filter(edge -> edge.aliases().contains(host))
                                .findFirst()
                                .map(edge -> ZoneRecords.leadTo(
                                        records, edge.domain(), "Lead " + host + " to its distribution"))
                                .orElse(List.of());
                    default -> List.of();
                };
        return Proposal.ofAll(changes);
    }
}
