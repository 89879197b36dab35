package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about pipelines that each provider answers in its own way. */
public final class PipelineCards {
    private PipelineCards() {}

    public static final CheckCard PIPELINE_WRONG_TARGET = new CheckCard(
            "pipeline-wrong-target",
            Area.PIPELINE,
            Severity.HIGH,
            "bucket, distribution or region differ from the surveyed ones",
            "pipeline-file, bucket-list, distribution-list, bucket-location",
            "The deployment goes nowhere, or to somebody else, and the site stays as it was.",
            "Name the bucket, the distribution and the region that the site has.",
            "AWS CLI User Guide, \"Using high-level (s3) commands\"");

    public static final CheckCard PIPELINE_NO_INVALIDATION = new CheckCard(
            "pipeline-no-invalidation",
            Area.PIPELINE,
            Severity.MEDIUM,
            "publishes behind a CDN that caches and does not invalidate",
            "pipeline-file, distribution, cache-policy",
            "Visitors see the old version until each edge forgets it by itself.",
            "Invalidate the distribution after the upload, or store pages with Cache-Control: no-cache.",
            "CloudFront Developer Guide, \"Invalidate files to remove content\"");

    public static final CheckCard PIPELINE_DELETE_WITHOUT_NET = new CheckCard(
            "pipeline-delete-without-net",
            Area.PIPELINE,
            Severity.MEDIUM,
            "deletes what is gone in a bucket without versioning",
            "pipeline-file, bucket-versioning",
            "One build that comes out empty deletes the site, and nothing brings it back.",
            "Turn versioning on, with a rule that lets old versions expire.",
            "S3 User Guide, \"Retaining multiple versions of objects with S3 Versioning\"");

    public static final CheckCard PIPELINE_STATE_EXPOSED = new CheckCard(
            "pipeline-state-exposed",
            Area.PIPELINE,
            Severity.CRITICAL,
            "deployment state is stored where the public, or the site's readers, can read it",
            "pipeline-file, bucket-objects, bucket-policy, bucket-acl, distribution",
            "The state names every part of the set-up, and often holds passwords and keys in plain text.",
            "Keep state in a bucket of its own that only the pipeline's role can read, and replace the secrets that were in it.",
            "S3 User Guide, \"Blocking public access to your Amazon S3 storage\"");
}
