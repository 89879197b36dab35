package warden.gather.template;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
import warden.core.document.JsonReader;
import warden.core.document.Placeholders;

/**
 * Turns the resources of a plan, a state or a source into readings. Source: the provider's documentation of each resource type: arguments, defaults and
 * what a resource manages; the shapes of the readings are those of the calls that read them.
 */
final class TfDescription {
    private final Description all;
    private final List<TfResource> resources;
    /** The settings of buckets of which a resource of their own speaks, so that the bucket's own attributes do not. */
    private final Set<String> spokenOf = new LinkedHashSet<>();

    private final Map<String, List<TfResource>> byType = new HashMap<>();
    private final Map<String, Map<String, List<TfResource>>> byName = new HashMap<>();
    private final Map<String, Boolean> openAttachments = new HashMap<>();
    private @Nullable Map<String, String> zoneNames;

    TfDescription(Description all, List<TfResource> resources) {
        this.all = all;
        this.resources = resources;
        resources.forEach(each ->
                byType.computeIfAbsent(each.type(), key -> new ArrayList<>()).add(each));
    }

    void describe() {
        resources.stream()
                .filter(each -> each.change() != TfResource.Change.DELETED)
                .forEach(this::resource);
        resources.stream()
                .filter(each -> each.change() == TfResource.Change.DELETED)
                .forEach(this::deleted);
        resources.stream()
                .filter(each -> each.type().equals("aws_s3_bucket") && each.change() != TfResource.Change.DELETED)
                .forEach(this::ownSettings);
        resources.stream()
                .filter(each -> each.type().equals("aws_s3_bucket") && each.isCreated())
                .forEach(each -> all.makesBucket(Description.bucket(name(each, "bucket")), each.place()));
    }

    private static String name(TfResource each, String attribute) {
        return named(each, attribute).orElse(Placeholders.of(each.address()));
    }

    /** Returns what an attribute names, of which a part may be a placeholder; absent where nothing of it is told. */
    private static Optional<String> named(TfResource each, String attribute) {
        Object there = each.values().at(attribute).raw();
        if (there instanceof Partly partly) {
            return Optional.of(partly.text());
        }
        return there instanceof String text && !text.isEmpty() ? Optional.of(text) : Optional.empty();
    }

    private static String path(TfResource each) {
        return each.values().at("path").raw() instanceof String text && !text.isEmpty() ? text : "/";
    }

    private void reading(String aspect, String of, TfResource each, Function<Fields, Object> document) {
        all.found(aspect, of, each.place(), () -> document.apply(each.values()));
    }

    /** Returns the bucket that a setting's resource is of. */
    private String bucketOf(TfResource each) {
        return Description.bucket(named(each, "bucket").orElse(Placeholders.of(each.address() + ".bucket")));
    }

    private void setting(String aspect, TfResource each, Function<Fields, Object> document) {
        if (named(each, "bucket").isEmpty()) {
            all.setsOfAnyBucket(aspect);
        }
        spokenOf.add(aspect + " " + bucketOf(each));
        reading(aspect, bucketOf(each), each, document);
    }

    private void resource(TfResource each) {
        switch (each.type()) {
            case "aws_s3_bucket" -> {
                String region = all.region();
                reading(
                        "bucket-location",
                        Description.bucket(name(each, "bucket")),
                        each,
                        of -> Json.object("LocationConstraint", region.equals("us-east-1") ? null : region));
            }
            case "aws_s3_bucket_policy" ->
                setting("bucket-policy", each, of -> Json.object("Policy", policy(of, "policy")));
            case "aws_s3_bucket_public_access_block" -> setting("bucket-public-access", each, TfDescription::block);
            case "aws_s3_bucket_ownership_controls" ->
                setting(
                        "bucket-ownership",
                        each,
                        of -> BucketDefaults.ownership(
                                of.at("rule").text("object_ownership").orElse("")));
            case "aws_s3_bucket_acl" ->
                setting("bucket-acl", each, of -> {
                    if (of.at("access_control_policy").isThere()) {
                        throw new NotTold("what its own access list grants");
                    }
                    return BucketDefaults.readyMade(of.text("acl").orElse("private"));
                });
            case "aws_s3_bucket_website_configuration" -> setting("bucket-website", each, TfDescription::website);
            case "aws_s3_bucket_versioning" ->
                setting("bucket-versioning", each, of -> {
                    String status =
                            of.at("versioning_configuration").text("status").orElse("");
                    return status.equals("Disabled") ? Json.object() : Json.object("Status", status);
                });
            case "aws_s3_bucket_server_side_encryption_configuration" ->
                setting("bucket-encryption", each, of -> encryption(of.items("rule")));
            case "aws_s3_bucket_lifecycle_configuration" ->
                setting(
                        "bucket-lifecycle",
                        each,
                        of -> Json.object(
                                "Rules",
                                of.items("rule").stream()
                                        .map(TfDescription::lifecycle)
                                        .toList()));
            case "aws_s3_bucket_logging" ->
                setting(
                        "bucket-logging",
                        each,
                        of -> Json.object(
                                "LoggingEnabled",
                                Json.object(
                                        "TargetBucket",
                                        of.name("target_bucket").orElse(""),
                                        "TargetPrefix",
                                        of.text("target_prefix").orElse(""))));
            case "aws_s3_bucket_cors_configuration" ->
                setting(
                        "bucket-cors",
                        each,
                        of -> Json.object(
                                "CORSRules",
                                of.items("cors_rule").stream()
                                        .map(TfDescription::cors)
                                        .toList()));
            case "aws_s3_bucket_request_payment_configuration" ->
                setting(
                        "bucket-payer",
                        each,
                        of -> Json.object("Payer", of.text("payer").orElse("")));
            case "aws_s3_account_public_access_block" ->
                reading("account-public-access", all.account(), each, TfDescription::block);
            case "aws_cloudfront_distribution" -> {
                String id = id(each);
                reading(
                        "distribution",
                        all.distribution(id),
                        each,
                        of -> CfnDistribution.document(id, all.distribution(id), TfDistribution.asTemplate(of)));
            }
            case "aws_cloudfront_origin_access_identity" ->
                reading(
                        "origin-identity",
                        "origin-access-identity/" + id(each),
                        each,
                        of -> Json.object(
                                "CloudFrontOriginAccessIdentity",
                                Json.object(
                                        "Id",
                                        id(each),
                                        "S3CanonicalUserId",
                                        of.at("s3_canonical_user_id").raw() instanceof String known
                                                ? known
                                                : Placeholders.of(each.address() + ".s3_canonical_user_id"))));
            case "aws_cloudfront_origin_access_control" ->
                reading(
                        "origin-control",
                        "origin-access-control/" + id(each),
                        each,
                        of -> Json.object(
                                "OriginAccessControl",
                                Json.object(
                                        "Id",
                                        id(each),
                                        "OriginAccessControlConfig",
                                        Json.object(
                                                "Name",
                                                of.name("name").orElse(""),
                                                "SigningProtocol",
                                                of.text("signing_protocol").orElse(""),
                                                "SigningBehavior",
                                                of.text("signing_behavior").orElse(""),
                                                "OriginAccessControlOriginType",
                                                of.text("origin_access_control_origin_type")
                                                        .orElse("")))));
            case "aws_cloudfront_cache_policy" ->
                reading(
                        "cache-policy",
                        id(each),
                        each,
                        of -> Json.object(
                                "CachePolicy",
                                Json.object("Id", id(each), "CachePolicyConfig", TfDistribution.cachePolicy(of))));
            case "aws_cloudfront_response_headers_policy" ->
                reading(
                        "response-headers-policy",
                        id(each),
                        each,
                        of -> Json.object(
                                "ResponseHeadersPolicy",
                                Json.object(
                                        "Id",
                                        id(each),
                                        "ResponseHeadersPolicyConfig",
                                        TfDistribution.headersPolicy(of))));
            case "aws_cloudfront_origin_request_policy" ->
                all.unread("origin-request-policy", id(each), each.place(), "what the policy forwards");
            case "aws_cloudfront_function" ->
                reading(
                        "edge-function",
                        all.function(name(each, "name")),
                        each,
                        of -> Json.object("FunctionSummary", Json.object("Name", name(each, "name"))));
            case "aws_acm_certificate" -> certificate(each);
            case "aws_route53_zone" -> {
                String zone = "hostedzone/" + zoneId(each);
                reading(
                        "zone",
                        zone,
                        each,
                        of -> Json.object(
                                "HostedZone",
                                Json.object(
                                        "Id",
                                        "/" + zone,
                                        "Name",
                                        Shapes.dotted(of.text("name").orElse("")),
                                        "Config",
                                        Json.object("PrivateZone", of.at("vpc").isThere()))));
            }
            case "aws_route53_record" -> record(each);
            case "aws_iam_role" -> role(each);
            case "aws_iam_user" -> user(each);
            case "aws_iam_group" -> group(each);
            case "aws_iam_policy" -> {
                String arn = each.values().at("arn").raw() instanceof String known
                        ? known
                        : all.policy(path(each), name(each, "name"));
                reading(
                        "iam-policy",
                        arn,
                        each,
                        of -> Json.object(
                                "PolicyName",
                                name(each, "name"),
                                "Arn",
                                arn,
                                "DefaultVersionId",
                                "v1",
                                "PolicyVersionList",
                                List.of(Json.object(
                                        "Document",
                                        document(of, "policy"),
                                        "VersionId",
                                        "v1",
                                        "IsDefaultVersion",
                                        true))));
            }
            case "aws_iam_openid_connect_provider" -> {
                String host = each.values().at("url").raw() instanceof String url
                        ? url.replaceFirst("^https://", "")
                        : Placeholders.of(each.address());
                reading(
                        "oidc-provider",
                        "arn:aws:iam::" + all.account() + ":oidc-provider/" + host,
                        each,
                        of -> Json.object(
                                "Url",
                                host,
                                "ClientIDList",
                                of.texts("client_id_list"),
                                "ThumbprintList",
                                of.at("thumbprint_list").isUnknown() ? List.of() : of.texts("thumbprint_list")));
            }
            case "aws_codepipeline" -> {
                String pipeline = name(each, "name");
                reading("delivery-pipeline", all.deliveryPipeline(pipeline), each, of -> Delivery.ofPlan()
                        .pipeline(pipeline, of));
            }
            case "aws_amplify_app" ->
                reading(
                        "managed-app",
                        all.managedApp(id(each)),
                        each,
                        of -> Json.object(
                                "app",
                                Json.object(
                                        "appId", id(each),
                                        "appArn", all.managedApp(id(each)),
                                        "name", name(each, "name"),
                                        "defaultDomain", id(each) + ".amplifyapp.com")));
            case "aws_amplify_domain_association" -> {
                String domain = name(each, "domain_name");
                String arn = all.managedApp(name(each, "app_id")) + "/domains/" + domain;
                reading("managed-app-domain", arn, each, of -> Delivery.ofPlan().domain(arn, domain, of));
            }
            case "aws_kms_key" ->
                reading(
                        "key-policy",
                        each.values().at("arn").raw() instanceof String arn ? arn : all.key(id(each)),
                        each,
                        of -> {
                            if (!of.at("policy").isThere()) {
                                throw new NotTold("the key's policy, which is the default one");
                            }
                            return Json.object("Policy", policy(of, "policy"));
                        });
            case "aws_s3_object",
                    "aws_s3_bucket_object",
                    "aws_iam_role_policy",
                    "aws_iam_user_policy",
                    "aws_iam_group_policy",
                    "aws_iam_role_policy_attachment",
                    "aws_iam_user_policy_attachment",
                    "aws_iam_group_policy_attachment",
                    "aws_iam_policy_attachment",
                    "aws_iam_access_key",
                    "aws_iam_user_group_membership",
                    "aws_iam_group_membership",
                    "aws_iam_user_login_profile",
                    "aws_acm_certificate_validation" -> {}
            default -> all.passOver(each.type());
        }
    }

    private static String id(TfResource each) {
        return each.values().at("id").raw() instanceof String known && !known.isEmpty()
                ? known
                : Placeholders.of(each.address());
    }

    private static String zoneId(TfResource each) {
        return each.values().at("zone_id").raw() instanceof String known && !known.isEmpty() ? known : id(each);
    }

    // --- policies

    /** Returns a policy's text; what stands in it as text is told whole, or not at all. */
    private static String policy(Fields of, String attribute) {
        if (of.at(attribute).raw() instanceof HclFunctions.Encoded encoded) {
            return HclModule.spelled(encoded);
        }
        return of.text(attribute).orElseThrow(() -> new NotTold("its policy"));
    }

    private static Object document(Fields of, String attribute) {
        Object raw = of.at(attribute).raw();
        if (raw instanceof HclFunctions.Encoded encoded) {
            return new Fields(encoded.value()).policy();
        }
        if (raw instanceof Map<?, ?>) {
            return of.at(attribute).policy();
        }
        String text = policy(of, attribute);
        return JsonReader.read(text)
                .root()
                .map(Object.class::cast)
                .orElseThrow(() -> new NotTold("its policy, which is no JSON"));
    }

    // --- storage

    private static Object block(Fields of) {
        return BucketDefaults.block(
                of.flag("block_public_acls").orElse(false),
                of.flag("ignore_public_acls").orElse(false),
                of.flag("block_public_policy").orElse(false),
                of.flag("restrict_public_buckets").orElse(false));
    }

    private static Object website(Fields of) {
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

    private static Optional<String> said(Fields of, String attribute) {
        return of.text(attribute).filter(text -> !text.isEmpty());
    }

    private static Object encryption(List<Fields> rules) {
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

    private static Object lifecycle(Fields rule) {
        Map<String, Object> out = Json.object(
                "ID", rule.text("id").orElse(""), "Status", rule.text("status").orElse(""));
        Fields filter = rule.at("filter");
        out.put("Filter", filter.isThere() ? filter(filter) : filter(rule));
        Map<String, Object> expiration = new LinkedHashMap<>();
        Fields ends = rule.at("expiration");
        if (ends.isThere()) {
            said(ends, "days")
                    .filter(days -> !days.equals("0"))
                    .ifPresent(days -> expiration.put("Days", Shapes.number(days)));
            said(ends, "date").ifPresent(date -> expiration.put("Date", date));
            ends.flag("expired_object_delete_marker")
                    .ifPresent(flag -> expiration.put("ExpiredObjectDeleteMarker", flag));
            out.put("Expiration", expiration);
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
        List<Object> transitions = new ArrayList<>();
        rule.items("transition")
                .forEach(each -> transitions.add(Json.object(
                        "Days", each.text("days").map(Shapes::number), "StorageClass", each.text("storage_class"))));
        if (!transitions.isEmpty()) {
            out.put("Transitions", transitions);
        }
        return out;
    }

    /** Reads a filter, a rule of older days that names its prefix itself, or the part of a filter that holds several wishes. */
    private static Map<String, Object> filter(Fields of) {
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
    private static Optional<Object> size(Fields of, String name) {
        return said(of, name).filter(size -> !size.equals("0")).map(Shapes::number);
    }

    private static Object cors(Fields rule) {
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

    /** The bucket's own attributes of older days, where no resource of its own speaks of the same setting. */
    private void ownSettings(TfResource each) {
        String arn = Description.bucket(name(each, "bucket"));
        Fields of = each.values();
        if (of.isUnknown()) {
            return;
        }
        own("bucket-policy", arn, each, "policy", () -> Json.object("Policy", policy(of, "policy")));
        own(
                "bucket-acl",
                arn,
                each,
                "acl",
                () -> BucketDefaults.readyMade(of.text("acl").orElse("private")));
        own("bucket-website", arn, each, "website", () -> ownWebsite(of.at("website")));
        own(
                "bucket-versioning",
                arn,
                each,
                "versioning",
                () -> of.at("versioning").flag("enabled").orElse(false)
                        ? Json.object("Status", "Enabled")
                        : Json.object());
        own(
                "bucket-encryption",
                arn,
                each,
                "server_side_encryption_configuration",
                () -> encryption(of.at("server_side_encryption_configuration").items("rule")));
        own(
                "bucket-logging",
                arn,
                each,
                "logging",
                () -> Json.object(
                        "LoggingEnabled",
                        Json.object(
                                "TargetBucket",
                                of.at("logging").name("target_bucket").orElse(""),
                                "TargetPrefix",
                                of.at("logging").text("target_prefix").orElse(""))));
        own(
                "bucket-cors",
                arn,
                each,
                "cors_rule",
                () -> Json.object(
                        "CORSRules",
                        of.items("cors_rule").stream().map(TfDescription::cors).toList()));
    }

    private static Object ownWebsite(Fields of) {
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

    private void own(
            String aspect,
            String arn,
            TfResource each,
            String attribute,
            java.util.function.Supplier<Object> document) {
        boolean says = each.values().at(attribute).isThere()
                && !"".equals(each.values().at(attribute).raw());
        // What a plan knows only after the apply of a setting that another resource manages says nothing.
        if (says && !each.values().at(attribute).isUnknown() && !spokenOf.contains(aspect + " " + arn)) {
            all.found(aspect, arn, each.place(), document);
        }
    }

    // --- certificates and names

    private void certificate(TfResource each) {
        String arn = each.values().at("arn").raw() instanceof String known
                ? known
                : all.certificate(Placeholders.of(each.address()), all.region());
        if (!each.values().text("status").filter(status -> !status.isEmpty()).isPresent() || each.isCreated()) {
            all.unread("certificate", arn, each.place(), "whether the certificate is issued by then");
            return;
        }
        reading(
                "certificate",
                arn,
                each,
                of -> Json.object(
                        "Certificate",
                        Json.object(
                                "CertificateArn",
                                arn,
                                "DomainName",
                                of.text("domain_name").orElse(""),
                                "SubjectAlternativeNames",
                                of.texts("subject_alternative_names"),
                                "Status",
                                of.text("status").orElse(""),
                                "Type",
                                of.text("type").orElse(""),
                                "NotAfter",
                                of.text("not_after").filter(text -> !text.isEmpty()))));
    }

    private void record(TfResource each) {
        Fields of = each.values();
        String zone =
                of.at("zone_id").raw() instanceof String known ? known : Placeholders.of(each.address() + ".zone_id");
        try {
            Fields alias = of.at("alias");
            String name = of.name("fqdn")
                    .filter(text -> !Placeholders.isIn(text))
                    .or(() -> of.name("name"))
                    .orElse("");
            Optional<String> zoneName = zoneName(zone);
            String whole = zoneName.isPresent() && !name.equals(zoneName.get()) && !name.endsWith("." + zoneName.get())
                    ? name.isEmpty() ? zoneName.get() : name + "." + zoneName.get()
                    : name;
            all.records()
                    .add(
                            zone,
                            each.place(),
                            Records.record(
                                    whole,
                                    of.text("type").orElse(""),
                                    of.text("ttl"),
                                    of.names("records"),
                                    alias.isThere()
                                            ? Optional.of(Records.alias(
                                                    alias.name("name").orElse(""), alias.name("zone_id")))
                                            : Optional.empty(),
                                    of.text("set_identifier").filter(text -> !text.isEmpty())));
        } catch (NotTold open) {
            all.records().unknown(zone, each.place(), open.why());
        }
    }

    private Optional<String> zoneName(String id) {
        if (zoneNames == null) {
            zoneNames = new HashMap<>();
            for (TfResource each : byType.getOrDefault("aws_route53_zone", List.of())) {
                each.values().name("name").ifPresent(name -> zoneNames.putIfAbsent(zoneId(each), name));
            }
        }
        return Optional.ofNullable(zoneNames.get(id));
    }

    // --- identities

    /** Returns the resources of a type of which an attribute names this. */
    private List<TfResource> of(String type, String attribute, String name) {
        return byName.computeIfAbsent(type + " " + attribute, key -> {
                    Map<String, List<TfResource>> named = new HashMap<>();
                    for (TfResource each : kept(type)) {
                        new LinkedHashSet<>(names(each.values().at(attribute).raw()))
                                .forEach(one -> named.computeIfAbsent(one, of -> new ArrayList<>())
                                        .add(each));
                    }
                    return named;
                })
                .getOrDefault(name, List.of());
    }

    private List<TfResource> kept(String type) {
        return byType.getOrDefault(type, List.of()).stream()
                .filter(each -> each.change() != TfResource.Change.DELETED)
                .toList();
    }

    private static List<String> names(@Nullable Object raw) {
        if (raw instanceof List<?> list) {
            return list.stream().map(String::valueOf).toList();
        }
        return raw instanceof String text ? List.of(text.substring(text.lastIndexOf('/') + 1)) : List.of();
    }

    /** Something that is attached to somebody whose name is not told may be attached to anybody. */
    private void demandTold(String type, String attribute) {
        if (isOpen(type, attribute)) {
            throw new NotTold("to whom a policy is attached, or who is in a group");
        }
    }

    private boolean isOpen(String type, String attribute) {
        return openAttachments.computeIfAbsent(type + " " + attribute, key -> kept(type).stream()
                .map(each -> each.values().at(attribute).raw())
                .anyMatch(raw -> raw instanceof Unknown
                        || raw instanceof List<?> list && list.stream().anyMatch(Unknown.class::isInstance)));
    }

    private void holdings(Map<String, Object> who, String inlineMember, String kind, String name, Fields of) {
        demandTold("aws_iam_" + kind + "_policy", kind);
        demandTold("aws_iam_" + kind + "_policy_attachment", kind);
        demandTold("aws_iam_policy_attachment", kind + "s");
        if (all.isGivenAway(name)) {
            throw new NotTold("what a module that was not read attaches to it");
        }
        List<Object> inline = new ArrayList<>();
        // A plan leaves open what a new role's block would hold if it had one.
        boolean hasInline = !of.at("inline_policy").isUnknown();
        for (Fields policy : hasInline ? of.items("inline_policy") : List.<Fields>of()) {
            if (policy.text("name").filter(text -> !text.isEmpty()).isPresent()) {
                inline.add(Json.object(
                        "PolicyName", policy.text("name").get(), "PolicyDocument", document(policy, "policy")));
            }
        }
        for (TfResource each : of("aws_iam_" + kind + "_policy", kind, name)) {
            inline.add(
                    Json.object("PolicyName", name(each, "name"), "PolicyDocument", document(each.values(), "policy")));
        }
        Set<String> managed = new LinkedHashSet<>();
        if (!of.at("managed_policy_arns").isUnknown()) {
            managed.addAll(of.names("managed_policy_arns"));
        }
        of("aws_iam_" + kind + "_policy_attachment", kind, name)
                .forEach(each -> managed.add(each.values().name("policy_arn").orElse("")));
        of("aws_iam_policy_attachment", kind + "s", name)
                .forEach(each -> managed.add(each.values().name("policy_arn").orElse("")));
        who.put(inlineMember, inline);
        who.put(
                "AttachedManagedPolicies",
                managed.stream()
                        .map(arn ->
                                Json.object("PolicyName", arn.substring(arn.lastIndexOf('/') + 1), "PolicyArn", arn))
                        .toList());
        of.name("permissions_boundary")
                .filter(arn -> !arn.isEmpty())
                .ifPresent(arn -> who.put(
                        "PermissionsBoundary",
                        Json.object("PermissionsBoundaryType", "Policy", "PermissionsBoundaryArn", arn)));
        List<Object> tags = new ArrayList<>();
        if (of.at("tags").isThere() && !of.at("tags").isUnknown()) {
            of.at("tags").members().forEach((key, value) -> value.name()
                    .ifPresent(text -> tags.add(Json.object("Key", key, "Value", text))));
        }
        who.put("Tags", tags);
    }

    private void role(TfResource each) {
        String name = name(each, "name");
        String arn = each.values().at("arn").raw() instanceof String known ? known : all.role(path(each), name);
        reading("iam-role", arn, each, of -> {
            Map<String, Object> role = Json.object("Path", path(each), "RoleName", name, "Arn", arn);
            role.put("AssumeRolePolicyDocument", document(of, "assume_role_policy"));
            holdings(role, "RolePolicyList", "role", name, of);
            return role;
        });
    }

    private void user(TfResource each) {
        String name = name(each, "name");
        String arn = each.values().at("arn").raw() instanceof String known ? known : all.user(path(each), name);
        reading("iam-user", arn, each, of -> {
            Map<String, Object> user = Json.object("Path", path(each), "UserName", name, "Arn", arn);
            holdings(user, "UserPolicyList", "user", name, of);
            demandTold("aws_iam_user_group_membership", "user");
            demandTold("aws_iam_group_membership", "users");
            Set<String> groups = new LinkedHashSet<>();
            of("aws_iam_user_group_membership", "user", name)
                    .forEach(one -> groups.addAll(one.values().names("groups")));
            of("aws_iam_group_membership", "users", name)
                    .forEach(one -> one.values().name("group").ifPresent(groups::add));
            user.put("GroupList", List.copyOf(groups));
            return user;
        });
        if (!each.isCreated()) {
            return;
        }
        boolean hasKey = isOpen("aws_iam_access_key", "user")
                || !of("aws_iam_access_key", "user", name).isEmpty();
        if (!hasKey) {
            all.found("iam-user-keys", arn, each.place(), () -> Json.object("AccessKeyMetadata", List.of()));
        } else {
            all.unread("iam-user-keys", arn, each.place(), "the key that is made for the user");
        }
        if (isOpen("aws_iam_user_login_profile", "user")) {
            all.unread("iam-login", arn, each.place(), "of which user a password is");
        } else if (of("aws_iam_user_login_profile", "user", name).isEmpty()) {
            all.absent("iam-login", arn, each.place(), "NoSuchEntity");
        } else {
            all.found("iam-login", arn, each.place(), () -> Json.object("LoginProfile", Json.object("UserName", name)));
        }
    }

    private void group(TfResource each) {
        String name = name(each, "name");
        String arn = each.values().at("arn").raw() instanceof String known ? known : all.group(path(each), name);
        reading("iam-group", arn, each, of -> {
            Map<String, Object> group = Json.object("Path", path(each), "GroupName", name, "Arn", arn);
            holdings(group, "GroupPolicyList", "group", name, of);
            return group;
        });
    }

    // --- what is taken away

    private static final Map<String, Map.Entry<String, String>> GONE = Map.ofEntries(
            Map.entry("aws_s3_bucket_policy", Map.entry("bucket-policy", "NoSuchBucketPolicy")),
            Map.entry(
                    "aws_s3_bucket_public_access_block",
                    Map.entry("bucket-public-access", "NoSuchPublicAccessBlockConfiguration")),
            Map.entry(
                    "aws_s3_bucket_ownership_controls",
                    Map.entry("bucket-ownership", "OwnershipControlsNotFoundError")),
            Map.entry("aws_s3_bucket_website_configuration", Map.entry("bucket-website", "NoSuchWebsiteConfiguration")),
            Map.entry(
                    "aws_s3_bucket_lifecycle_configuration",
                    Map.entry("bucket-lifecycle", "NoSuchLifecycleConfiguration")),
            Map.entry("aws_s3_bucket_cors_configuration", Map.entry("bucket-cors", "NoSuchCORSConfiguration")));

    private void deleted(TfResource each) {
        Map.Entry<String, String> setting = GONE.get(each.type());
        if (setting != null) {
            if (!all.has(setting.getKey(), bucketOf(each))) {
                all.absent(setting.getKey(), bucketOf(each), each.place(), setting.getValue());
            }
            return;
        }
        switch (each.type()) {
            case "aws_s3_bucket_logging" -> all.found("bucket-logging", bucketOf(each), each.place(), Json::object);
            case "aws_s3_account_public_access_block" ->
                all.absent(
                        "account-public-access", all.account(), each.place(), "NoSuchPublicAccessBlockConfiguration");
            case "aws_s3_bucket" -> all.removes(Description.bucket(name(each, "bucket")));
            case "aws_cloudfront_distribution" -> all.removes(all.distribution(id(each)));
            case "aws_iam_role" -> all.removes(all.role(path(each), name(each, "name")));
            case "aws_iam_user" -> all.removes(all.user(path(each), name(each, "name")));
            case "aws_route53_zone" -> all.removes("hostedzone/" + zoneId(each));
            default -> {}
        }
    }
}
