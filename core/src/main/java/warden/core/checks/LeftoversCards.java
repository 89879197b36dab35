package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about leftovers that are put to the sites of every provider. */
public final class LeftoversCards {
    private LeftoversCards() {}

    public static final CheckCard LEFTOVER_DISTRIBUTION = new CheckCard(
            "leftover-distribution",
            Area.LEFTOVERS,
            Severity.LOW,
            "disabled, or no host and no traffic hint leads to it",
            "distribution, zone-records, pipeline-file",
            "It serves, or waits to serve, what nobody looks after any more.",
            "Disable and delete the distribution.",
            "CloudFront Developer Guide, \"Delete a distribution\"");

    public static final CheckCard LEFTOVER_ZONE = new CheckCard(
            "leftover-zone",
            Area.LEFTOVERS,
            Severity.LOW,
            "a zone with nothing but its own NS and SOA",
            "zone-records",
            "It is paid for, and a registrar that still points there serves nothing.",
            "Delete the zone, once no registrar delegates to it.",
            "Route 53 Developer Guide, \"Deleting a public hosted zone\"");

    public static final CheckCard LEFTOVER_PUBLISHER = new CheckCard(
            "leftover-publisher",
            Area.LEFTOVERS,
            Severity.MEDIUM,
            "a publishing credential whose site is gone",
            "iam-user, iam-role, iam-policy, bucket-list",
            "Nobody would notice its use; and whoever creates a bucket of the old name gets what it uploads.",
            "Delete the credential.",
            "IAM User Guide, \"Security best practices in IAM\"");
}
