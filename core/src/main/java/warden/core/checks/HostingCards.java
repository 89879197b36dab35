package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about hosting that are put to the sites of every provider. */
public final class HostingCards {
    private HostingCards() {}

    public static final CheckCard HOSTING_OFF = new CheckCard(
            "hosting-off",
            Area.HOSTING,
            Severity.HIGH,
            "something (a record, an origin) uses the website endpoint, and hosting is off",
            "bucket-website, zone-records, distribution",
            "The website endpoint of such a bucket answers 404 to everything.",
            "Turn website hosting on and name the index document, or use the REST endpoint through a distribution.",
            "S3 User Guide, \"Enabling website hosting\"");

    public static final CheckCard HOSTING_UNUSED = new CheckCard(
            "hosting-unused",
            Area.HOSTING,
            Severity.LOW,
            "hosting is on, nothing uses the website endpoint, and the site is meant to be sealed",
            "bucket-website, zone-records, distribution",
            "The endpoint waits for somebody to open the bucket: then it serves the site without the edge.",
            "Turn website hosting off.",
            "S3 User Guide, \"Enabling website hosting\"");

    public static final CheckCard INDEX_MISSING = new CheckCard(
            "index-missing",
            Area.HOSTING,
            Severity.HIGH,
            "the index document does not exist at the root (says where it does, if nested)",
            "bucket-website, bucket-objects",
            "Visitors of the front page get an error.",
            "Upload the index document to the root of the bucket, or name the one that is there.",
            "S3 User Guide, \"Configuring an index document\"");

    public static final CheckCard INDEX_INVALID = new CheckCard(
            "index-invalid",
            Area.HOSTING,
            Severity.HIGH,
            "the index suffix contains a slash or is empty",
            "bucket-website",
            "No folder has an index document, so the front page and every folder fail.",
            "Name the index document by its file name alone, such as index.html.",
            "S3 API Reference, \"IndexDocument\"");

    public static final CheckCard ERROR_UNSET = new CheckCard(
            "error-unset",
            Area.HOSTING,
            Severity.LOW,
            "no error document (CDN: no custom error response) and routing is pages",
            "bucket-website, distribution",
            "Who follows a broken link gets the storage service's own error page, which says nothing of the site.",
            "Upload an error page and name it as the error document, or as the CDN's custom error response.",
            "S3 User Guide, \"Configuring a custom error document\"");

    public static final CheckCard ERROR_MISSING = new CheckCard(
            "error-missing",
            Area.HOSTING,
            Severity.MEDIUM,
            "the error document, or a custom error page, does not exist",
            "bucket-website, distribution, bucket-objects",
            "Who follows a broken link gets a bare error about the error page.",
            "Upload the error page under the name that is set, or name the one that is there.",
            "S3 User Guide, \"Configuring a custom error document\"; CloudFront Developer Guide, \"Generate custom error responses\"");

    public static final CheckCard SINGLE_PAGE_UNROUTED = new CheckCard(
            "single-page-unrouted",
            Area.HOSTING,
            Severity.HIGH,
            "routing is single-page and a deep link does not lead to the index document",
            "bucket-website, distribution, bucket-policy, bucket-objects",
            "Who opens or reloads a link into the application gets an error instead of it.",
            "Name the index document as error document too, or answer 403 and 404 by a custom error response with the index and status 200.",
            "CloudFront Developer Guide, \"Generate custom error responses\"; S3 User Guide, \"Configuring a custom error document\"");

    public static final CheckCard SINGLE_PAGE_MASKS_ERRORS = new CheckCard(
            "single-page-masks-errors",
            Area.HOSTING,
            Severity.LOW,
            "routing is pages and every unknown URL answers 200 with the index",
            "bucket-website, distribution, bucket-objects",
            "Broken links look fine to visitors, crawlers and monitoring.",
            "Answer missing pages by an error page with status 404; or state routing: single-page in the site file if that is meant.",
            "CloudFront Developer Guide, \"Generate custom error responses\"");

    public static final CheckCard VERSIONING_OFF = new CheckCard(
            "versioning-off",
            Area.HOSTING,
            Severity.MEDIUM,
            "a bad deployment cannot be undone",
            "bucket-versioning",
            "An upload replaces what was there, and a delete is for good.",
            "Turn versioning on, with a lifecycle rule that expires old versions.",
            "S3 User Guide, \"Retaining multiple versions of objects with S3 Versioning\"");

    public static final CheckCard EXPIRES_LIVE_CONTENT = new CheckCard(
            "expires-live-content",
            Area.HOSTING,
            Severity.HIGH,
            "a lifecycle rule deletes, or archives out of reach, current objects of the site",
            "bucket-lifecycle, bucket-objects",
            "Pages vanish some days after the last deployment, without anybody having done anything.",
            "Limit the rule to old versions (NoncurrentVersionExpiration), or to a prefix that holds no pages.",
            "S3 User Guide, \"Lifecycle configuration elements\"");

    public static final CheckCard STORAGE_LOGGING_OFF = new CheckCard(
            "storage-logging-off",
            Area.HOSTING,
            Severity.LOW,
            "an open bucket keeps no access log",
            "bucket-logging, bucket-policy",
            "Nobody can tell who fetched what, or find out how a leak was used.",
            "Turn server access logging on, into a bucket of its own.",
            "S3 User Guide, \"Logging requests with server access logging\"");
}
