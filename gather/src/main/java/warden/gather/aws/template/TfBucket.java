package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.document.Json;
import warden.core.document.JsonReader;

/**
 * The settings of a plan's or a source's bucket as the provider answers. Source: the tool's documentation of each resource; S3 API Reference, the calls
 * that read each setting.
 */
final class TfBucket {
    private TfBucket() {}

    static Object block(Fields of) {
        return BucketDefaults.block(
                of.flag("block_public_acls").orElse(false),
                of.flag("ignore_public_acls").orElse(false),
                of.flag("block_public_policy").orElse(false),
                of.flag("restrict_public_buckets").orElse(false));
    }

    /** Returns the grants of an access list that is written out. */
    static Object acl(Fields of) {
        List<Object> grants = new ArrayList<>();
        for (Fields grant : of.items("grant")) {
            grants.add(BucketDefaults.grant(
                    grantee(grant.at("grantee")), grant.text("permission").orElse("")));
        }
        String owner = of.at("owner").name("id").filter(id -> !id.isEmpty()).orElse(BucketDefaults.OWNER);
        return Json.object("Owner", Json.object("ID", owner), "Grants", grants);
    }

    /** Returns the grants that stand in the bucket itself; its owner may do everything besides only where it is said. */
    static Object ownGrants(List<Fields> blocks) {
        List<Object> grants = new ArrayList<>();
        for (Fields block : blocks) {
            for (String permission : block.texts("permissions")) {
                grants.add(BucketDefaults.grant(grantee(block), permission));
            }
        }
        return Json.object("Owner", Json.object("ID", BucketDefaults.OWNER), "Grants", grants);
    }

    private static Object grantee(Fields of) {
        String type = of.text("type").orElse("");
        return switch (type) {
            case "Group" -> Json.object("Type", type, "URI", of.text("uri").orElse(""));
            case "CanonicalUser" ->
                Json.object("Type", type, "ID", of.name("id").orElse(""));
            default -> throw new NotTold("to whom an access list grants");
        };
    }

    /** Reads a rule that stands in the bucket itself. */
    static Object ownLifecycle(Fields rule) {
        Map<String, Object> out = Json.object(
                "ID",
                rule.text("id").orElse(""),
                "Status",
                rule.flag("enabled").orElse(false) ? "Enabled" : "Disabled",
                "Filter",
                filter(rule));
        Map<String, Object> expiration = expiration(rule.at("expiration"));
        if (!expiration.isEmpty()) {
            out.put("Expiration", expiration);
        }
        said(rule.at("noncurrent_version_expiration"), "days")
                .ifPresent(days ->
                        out.put("NoncurrentVersionExpiration", Json.object("NoncurrentDays", Shapes.number(days))));
        said(rule, "abort_incomplete_multipart_upload_days")
                .filter(days -> !days.equals("0"))
                .ifPresent(days -> out.put(
                        "AbortIncompleteMultipartUpload", Json.object("DaysAfterInitiation", Shapes.number(days))));
        transitions(rule).ifPresent(all -> out.put("Transitions", all));
        return out;
    }

    private static Map<String, Object> expiration(Fields ends) {
        Map<String, Object> expiration = new LinkedHashMap<>();
        if (ends.isThere()) {
            said(ends, "days")
                    .filter(days -> !days.equals("0"))
                    .ifPresent(days -> expiration.put("Days", Shapes.number(days)));
            said(ends, "date").ifPresent(date -> expiration.put("Date", date));
            ends.flag("expired_object_delete_marker")
                    .ifPresent(flag -> expiration.put("ExpiredObjectDeleteMarker", flag));
        }
        return expiration;
    }

    private static Optional<List<Object>> transitions(Fields rule) {
        List<Object> transitions = new ArrayList<>();
        rule.items("transition")
                .forEach(each -> transitions.add(Json.object(
                        "Days", each.text("days").map(Shapes::number), "StorageClass", each.text("storage_class"))));
        return Optional.of(transitions).filter(all -> !all.isEmpty());
    }

    static Object website(Fields of) {
        Map<String, Object> site = new LinkedHashMap<>();
        of.at("index_document")
                .text("suffix")
                .ifPresent(index -> site.put("IndexDocument", Json.object("Suffix", index)));
        of.at("error_document").text("key").ifPresent(error -> site.put("ErrorDocument", Json.object("Key", error)));
        Fields redirect = of.at("redirect_all_requests_to");
        if (redirect.isThere()) {
            site.put(
                    "RedirectAllRequestsTo",
                    Json.object(
                            "HostName",
                            redirect.name("host_name"),
                            "Protocol",
                            redirect.text("protocol").filter(word -> !word.isEmpty())));
        }
        List<Object> rules = new ArrayList<>();
        for (Fields rule : of.items("routing_rule")) {
            Fields when = rule.at("condition");
            Fields to = rule.at("redirect");
            rules.add(Json.object(
                    "Condition",
                    when.isThere()
                            ? Optional.of(Json.object(
                                    "HttpErrorCodeReturnedEquals",
                                    said(when, "http_error_code_returned_equals"),
                                    "KeyPrefixEquals",
                                    said(when, "key_prefix_equals")))
                            : Optional.empty(),
                    "Redirect",
                    Json.object(
                            "HostName",
                            said(to, "host_name"),
                            "HttpRedirectCode",
                            said(to, "http_redirect_code"),
                            "Protocol",
                            said(to, "protocol"),
                            "ReplaceKeyPrefixWith",
                            said(to, "replace_key_prefix_with"),
                            "ReplaceKeyWith",
                            said(to, "replace_key_with"))));
        }
        if (!rules.isEmpty()) {
            site.put("RoutingRules", rules);
        }
        if (of.text("routing_rules").filter(text -> !text.isEmpty()).isPresent()) {
            site.put(
                    "RoutingRules",
                    JsonReader.read(of.text("routing_rules").get())
                            .root()
                            .orElseThrow(() -> new NotTold("its routing rules, which are no JSON")));
        }
        return site;
    }

    static Optional<String> said(Fields of, String attribute) {
        return of.text(attribute).filter(text -> !text.isEmpty());
    }

    static Object encryption(List<Fields> rules) {
        return Json.object(
                "ServerSideEncryptionConfiguration",
                Json.object(
                        "Rules",
                        rules.stream()
                                .map(rule -> {
                                    Fields usual = rule.at("apply_server_side_encryption_by_default");
                                    return Json.object(
                                            "ApplyServerSideEncryptionByDefault",
                                            Json.object(
                                                    "SSEAlgorithm",
                                                    usual.text("sse_algorithm").orElse("AES256"),
                                                    "KMSMasterKeyID",
                                                    usual.name("kms_master_key_id")
                                                            .filter(key -> !key.isEmpty())),
                                            "BucketKeyEnabled",
                                            rule.flag("bucket_key_enabled").orElse(false));
                                })
                                .toList()));
    }

    static Object lifecycle(Fields rule) {
        Map<String, Object> out = Json.object(
                "ID", rule.text("id").orElse(""), "Status", rule.text("status").orElse(""));
        Fields filter = rule.at("filter");
        out.put("Filter", filter.isThere() ? filter(filter) : filter(rule));
        if (rule.at("expiration").isThere()) {
            out.put("Expiration", expiration(rule.at("expiration")));
        }
        Fields old = rule.at("noncurrent_version_expiration");
        if (old.isThere()) {
            out.put(
                    "NoncurrentVersionExpiration",
                    Json.object(
                            "NoncurrentDays",
                            old.text("noncurrent_days").map(Shapes::number),
                            "NewerNoncurrentVersions",
                            old.text("newer_noncurrent_versions").map(Shapes::number)));
        }
        Fields abort = rule.at("abort_incomplete_multipart_upload");
        if (abort.isThere()) {
            out.put(
                    "AbortIncompleteMultipartUpload",
                    Json.object(
                            "DaysAfterInitiation",
                            abort.text("days_after_initiation").map(Shapes::number)));
        }
        transitions(rule).ifPresent(all -> out.put("Transitions", all));
        return out;
    }

    /** Reads a filter, a rule of older days that names its prefix itself, or the part of a filter that holds several wishes. */
    static Map<String, Object> filter(Fields of) {
        if (of.at("and").isThere()) {
            return filter(of.at("and"));
        }
        List<Object> tags = new ArrayList<>();
        of.at("tags").members().forEach((key, value) -> tags.add(Json.object("Key", key, "Value", value.told())));
        if (of.at("tag").isThere()) {
            tags.add(Json.object(
                    "Key", of.at("tag").text("key"), "Value", of.at("tag").text("value")));
        }
        return new LifecycleFilter()
                .with("Prefix", said(of, "prefix").filter(prefix -> !prefix.isEmpty()))
                .tagged(tags)
                .with("ObjectSizeGreaterThan", size(of, "object_size_greater_than"))
                .with("ObjectSizeLessThan", size(of, "object_size_less_than"))
                .document();
    }

    /** A plan spells a size that is not given as nothing, or as nought. */
    static Optional<Object> size(Fields of, String name) {
        return said(of, name).filter(size -> !size.equals("0")).map(Shapes::number);
    }

    static Object cors(Fields rule) {
        return Json.object(
                "AllowedHeaders",
                rule.texts("allowed_headers"),
                "AllowedMethods",
                rule.texts("allowed_methods"),
                "AllowedOrigins",
                rule.names("allowed_origins"),
                "ExposeHeaders",
                rule.texts("expose_headers"),
                "MaxAgeSeconds",
                rule.text("max_age_seconds").map(Shapes::number));
    }

    static Object ownWebsite(Fields of) {
        Map<String, Object> site = new LinkedHashMap<>();
        said(of, "index_document").ifPresent(index -> site.put("IndexDocument", Json.object("Suffix", index)));
        said(of, "error_document").ifPresent(error -> site.put("ErrorDocument", Json.object("Key", error)));
        said(of, "redirect_all_requests_to")
                .ifPresent(to -> site.put(
                        "RedirectAllRequestsTo",
                        Json.object(
                                "HostName",
                                to.replaceFirst("^[a-z]+://", ""),
                                "Protocol",
                                to.contains("://")
                                        ? Optional.of(to.substring(0, to.indexOf("://")))
                                        : Optional.empty())));
        if (said(of, "routing_rules").isPresent()) {
            throw new NotTold("its routing rules, which stand in the bucket itself");
        }
        return site;
    }
}
