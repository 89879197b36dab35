package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.AwsCloud;
import warden.core.mend.Change;
import warden.core.mend.Proposal;

/**
 * The other form of a domain, with or without {@code www}, led to the edge that serves the one form, where its certificate covers both. Source:
 * CloudFront Developer Guide, "Requirements for alternate domain names"; Route 53 Developer Guide, "Routing traffic to a CloudFront distribution".
 */
final class OtherForm {
    private static final String WWW = "www.";

    private OtherForm() {}

    /** Returns what to do about a form that does not exist. */
    static Proposal of(AwsCloud cloud, String missing) {
        String served = missing.startsWith(WWW) ? missing.substring(WWW.length()) : WWW + missing;
        List<ZoneRecords.Held> records = ZoneRecords.of(cloud.accounts(), served);
        for (Account account : cloud.accounts()) {
            Optional<Distribution> edge = account.edges().distributions().stream()
                    .filter(each -> each.aliases().contains(served))
                    .findFirst();
            if (edge.isPresent()) {
                return EdgeRemedies.isCovered(account, edge.get(), missing) && !records.isEmpty()
                        ? new Proposal.Changes(changes(account, edge.get(), records, served, missing))
                        : Proposal.byHand(
                                records.isEmpty()
                                        ? "the records of " + served + " are not ones that can be copied"
                                        : "the certificate of " + served + " does not cover " + missing,
                                "Have a certificate issued in us-east-1 for " + served + " and " + missing
                                        + ", show it at the distribution "
                                        + edge.get().id() + ", list " + missing
                                        + " among its hosts, and lead a record of " + missing + " to it.");
            }
        }
        return Proposal.byHand(
                "no distribution that was read serves " + served,
                "Make a bucket named " + missing + " whose website redirects all requests to " + served
                        + ", and lead a record of " + missing + " to its website endpoint.");
    }

    private static List<Change> changes(
            Account account, Distribution edge, List<ZoneRecords.Held> records, String served, String missing) {
        List<Change> changes = new ArrayList<>();
        changes.add(EdgeRemedies.listing(account, edge, missing));
        records.stream()
                .filter(held -> List.of("A", "AAAA", "CNAME").contains(held.type()))
                .forEach(held -> changes.add(
                        ZoneRecords.likewise(held, missing, "Lead " + missing + " where " + served + " leads")));
        return changes;
    }
}
