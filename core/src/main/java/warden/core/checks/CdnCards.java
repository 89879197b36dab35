package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about cdn that are put to the sites of every provider. */
public final class CdnCards {
    private CdnCards() {}

    public static final CheckCard SECURITY_HEADERS_MISSING = new CheckCard(
            "security-headers-missing",
            Area.CDN,
            Severity.MEDIUM,
            "no HSTS, or none of: content type sniffing, framing, content security, referrer policies",
            "distribution, response-headers-policy",
            "Browsers may be led to plain HTTP, into another site's frame, or take a file for what it is not.",
            "Set a response headers policy on the behaviour, such as the managed SecurityHeadersPolicy.",
            "CloudFront Developer Guide, \"Use managed response headers policies\"");

    public static final CheckCard STALE_AFTER_DEPLOY = new CheckCard(
            "stale-after-deploy",
            Area.CDN,
            Severity.MEDIUM,
            "pages are cached at the edge for longer than an hour and no known pipeline invalidates",
            "distribution, cache-policy, object, pipeline-file",
            "After a deployment visitors see the old version, each place of the world for another while.",
            "Store pages with Cache-Control: no-cache, or invalidate the distribution after each deployment.",
            "CloudFront Developer Guide, \"Manage how long content stays in the cache (expiration)\"");

    public static final CheckCard COMPRESSION_OFF = new CheckCard(
            "compression-off",
            Area.CDN,
            Severity.LOW,
            "a behaviour that serves text does not compress",
            "distribution, bucket-objects",
            "Visitors wait for, and you pay for, several times the bytes.",
            "Turn on compression in the behaviour, with a cache policy that accepts gzip and Brotli.",
            "CloudFront Developer Guide, \"Serve compressed files\"");

    public static final CheckCard VIEWER_PLAIN_HTTP = new CheckCard(
            "viewer-plain-http",
            Area.CDN,
            Severity.HIGH,
            "a behaviour serves content over plain HTTP (medium where it is not the site's pages)",
            "distribution",
            "Everybody on the way can read and change what visitors get.",
            "Set the viewer protocol policy to redirect-to-https.",
            "CloudFront Developer Guide, \"Require HTTPS for communication between viewers and CloudFront\"");

    public static final CheckCard VIEWER_TLS_OLD = new CheckCard(
            "viewer-tls-old",
            Area.CDN,
            Severity.MEDIUM,
            "a custom certificate is served with a minimum protocol below TLS 1.2",
            "distribution",
            "TLS 1.0 and 1.1 have known weaknesses, and no current browser needs them.",
            "Set the security policy to TLSv1.2_2021 or later.",
            "CloudFront Developer Guide, \"Supported protocols and ciphers between viewers and CloudFront\"");

    public static final CheckCard HOST_NOT_ON_DISTRIBUTION = new CheckCard(
            "host-not-on-distribution",
            Area.CDN,
            Severity.HIGH,
            "DNS leads a host to the distribution, which does not list it: 403",
            "zone-records, distribution",
            "Visitors get a certificate warning over HTTPS and 403 over HTTP.",
            "Add the host to the distribution's alternate domain names, with a certificate that covers it.",
            "CloudFront Developer Guide, \"Use custom URLs by adding alternate domain names (CNAMEs)\"");

    public static final CheckCard HOST_ON_NO_RECORD = new CheckCard(
            "host-on-no-record",
            Area.CDN,
            Severity.MEDIUM,
            "the distribution lists a host that DNS does not lead to it",
            "distribution, zone-records",
            "The host shows something else, and nobody else can use it at the CDN.",
            "Lead the host to the distribution by an alias record, or remove it from the distribution.",
            "Route 53 Developer Guide, \"Routing traffic to an Amazon CloudFront distribution by using your domain name\"");

    public static final CheckCard ORIGIN_HOST_FORWARDED = new CheckCard(
            "origin-host-forwarded",
            Area.CDN,
            Severity.HIGH,
            "the viewer's Host header is sent to a storage origin: refused",
            "distribution, origin-request-policy",
            "The storage service goes by the Host header and looks for a bucket named like the site: visitors get 403 or 404.",
            "Use an origin request policy that leaves Host out, such as AllViewerExceptHostHeader.",
            "CloudFront Developer Guide, \"Use managed origin request policies\"");

    public static final CheckCard ORIGIN_BUCKET_GONE = new CheckCard(
            "origin-bucket-gone",
            Area.CDN,
            Severity.CRITICAL,
            "the origin's bucket is not in the account and may be anyone's: content can be taken over",
            "distribution, bucket-list",
            "Whoever creates a bucket of that name serves whatever they like under your host and certificate.",
            "Remove the origin, or create the bucket in your own account before somebody else does.",
            "CloudFront Developer Guide, \"Use various origins with CloudFront distributions\"");

    public static final CheckCard ROOT_OBJECT_MISSING = new CheckCard(
            "root-object-missing",
            Area.CDN,
            Severity.HIGH,
            "REST origin, no default root object (or one with a leading slash, or no such object): / fails or lists",
            "distribution, bucket-objects",
            "The REST endpoint knows no index documents: the front page answers 403 or, worse, lists the bucket.",
            "Set the distribution's default root object to the index document, without a slash in front.",
            "CloudFront Developer Guide, \"Specify a default root object\"");

    public static final CheckCard FOLDER_INDEX_UNSERVED = new CheckCard(
            "folder-index-unserved",
            Area.CDN,
            Severity.MEDIUM,
            "REST origin, pages in sub-folders as folder/index.html, and nothing rewrites folder/",
            "distribution, bucket-objects",
            "A link to the folder gets an error, though its page is there.",
            "Have a function at the edge turn addresses that end with a slash into the folder's index document, or use the website endpoint as origin.",
            "CloudFront Developer Guide, \"Specify a default root object\"");

    public static final CheckCard ORIGIN_PATH_MISSING = new CheckCard(
            "origin-path-missing",
            Area.CDN,
            Severity.HIGH,
            "the origin path leads where no object is",
            "distribution, bucket-objects",
            "Every page is missing.",
            "Correct the origin path, or upload the site under it.",
            "CloudFront Developer Guide, \"Origin settings\", section \"Origin path\"");

    public static final CheckCard DISTRIBUTION_OFF = new CheckCard(
            "distribution-off",
            Area.CDN,
            Severity.HIGH,
            "the site's distribution is disabled, or still rolling out (says which)",
            "distribution, zone-records",
            "Visitors get nothing; or some get the old state and some the new one.",
            "Enable the distribution; or wait until its status is Deployed, and survey again.",
            "CloudFront API Reference, \"Distribution\"");

    public static final CheckCard CDN_LOGGING_OFF = new CheckCard(
            "cdn-logging-off",
            Area.CDN,
            Severity.LOW,
            "no access log",
            "distribution",
            "Nobody can tell who asked for what, or what visitors were answered.",
            "Turn standard logging on.",
            "CloudFront Developer Guide, \"Configure standard logging (access logs)\"");
}
