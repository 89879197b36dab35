package warden.core.aws.mend;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.access.Truth;
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
                .orElseGet(() -> Proposal.byHand(reason(finding), finding.remedy()));
    }

    /** Says why a finding is left to a person, as far as its check tells. */
    private static String reason(Finding finding) {
        return switch (finding.card().area()) {
            case PIPELINE -> "it is mended in the pipeline's own file";
            case CONTENT -> "it is mended where the site is built";
            case CERTIFICATE -> "a certificate is issued only when its names are proven";
            default -> "no change of a surveyed setting is known to end it";
        };
    }

    private static Optional<Proposal> of(AwsContext context, Finding finding) {
        AwsCloud cloud = context.cloud();
        String subject = finding.subject();
        Optional<Proposal> ofBucket = Bucket.nameIn(subject).flatMap(name -> cloud.accounts().stream()
                .filter(account -> account.ownsBucket(name) == Truth.TRUE)
                .findFirst()
                .flatMap(account -> new BucketRemedies(cloud, account, account.bucket(name)).of(finding)));
        return ofBucket.or(() -> edges(cloud)
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

    private record Edge(Account account, Distribution distribution) {}

    private static Stream<Edge> edges(AwsCloud cloud) {
        return cloud.accounts().stream().flatMap(account -> account.distributions().stream()
                .map(distribution -> new Edge(account, distribution)));
    }

    /** Some findings about an edge are mended at the bucket that it fetches from. */
    private static Optional<Proposal> ofEdge(AwsCloud cloud, Edge edge, Finding finding) {
        return new EdgeRemedies(cloud, edge.account(), edge.distribution())
                .of(finding)
                .or(() -> edge.distribution().origins().stream()
                        .flatMap(origin -> origin.bucket().stream())
                        .distinct()
                        .flatMap(name -> cloud.accounts().stream()
                                .filter(account -> account.ownsBucket(name) == Truth.TRUE)
                                .map(account -> new BucketRemedies(cloud, account, account.bucket(name))))
                        .flatMap(remedies -> remedies.of(finding).stream())
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
                    default -> List.of();
                };
        return changes.isEmpty() ? Optional.empty() : Optional.of(new Proposal.Changes(changes));
    }
}
