package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
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
    private final TfIdentities identities;
    private @Nullable Map<String, String> zoneNames;

    TfDescription(Description all, List<TfResource> resources) {
        this.all = all;
        this.resources = resources;
        resources.forEach(each ->
                byType.computeIfAbsent(each.type(), key -> new ArrayList<>()).add(each));
        this.identities = new TfIdentities(all, byType);
    }

    void describe() {
        resources.stream()
                .filter(each -> each.change() != TfResource.Change.DELETED)
                .forEach(this::resource);
        identities.giveToOthers();
        resources.stream()
                .filter(each -> each.change() == TfResource.Change.DELETED)
                .forEach(this::deleted);
        resources.stream()
                .filter(each -> each.type().equals("aws_s3_bucket") && each.change() != TfResource.Change.DELETED)
                .forEach(this::ownSettings);
        resources.stream()
                .filter(each -> each.type().equals("aws_s3_bucket") && each.isCreated())
                .forEach(each -> all.makesBucket(Description.bucket(each.name("bucket")), each.place()));
    }

    private void reading(String aspect, String of, TfResource each, Function<Fields, Object> document) {
        all.found(aspect, of, each.place(), () -> document.apply(each.values()));
    }

    /** Returns the bucket that a setting's resource is of. */
    private String bucketOf(TfResource each) {
        return Description.bucket(each.known("bucket").orElse(Placeholders.of(each.address() + ".bucket")));
    }

    private void setting(String aspect, TfResource each, Function<Fields, Object> document) {
        if (each.known("bucket").isEmpty()) {
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
                        Description.bucket(each.name("bucket")),
                        each,
                        of -> Json.object("LocationConstraint", region.equals("us-east-1") ? null : region));
            }
            case "aws_s3_bucket_policy" ->
                setting("bucket-policy", each, of -> Json.object("Policy", HclPolicy.text(of, "policy")));
            case "aws_s3_bucket_public_access_block" -> setting("bucket-public-access", each, TfBucket::block);
            case "aws_s3_bucket_ownership_controls" ->
                setting(
                        "bucket-ownership",
                        each,
                        of -> BucketDefaults.ownership(
                                of.at("rule").text("object_ownership").orElse("")));
            case "aws_s3_bucket_acl" ->
                setting("bucket-acl", each, of -> {
                    if (of.at("access_control_policy").isThere()) {
                        return TfBucket.acl(of.at("access_control_policy"));
                    }
                    return BucketDefaults.readyMade(of.text("acl").orElse("private"));
                });
            case "aws_s3_bucket_website_configuration" -> setting("bucket-website", each, TfBucket::website);
            case "aws_s3_bucket_versioning" ->
                setting("bucket-versioning", each, of -> {
                    String status =
                            of.at("versioning_configuration").text("status").orElse("");
                    return status.equals("Disabled") ? Json.object() : Json.object("Status", status);
                });
            case "aws_s3_bucket_server_side_encryption_configuration" ->
                setting("bucket-encryption", each, of -> TfBucket.encryption(of.items("rule")));
            case "aws_s3_bucket_lifecycle_configuration" ->
                setting(
                        "bucket-lifecycle",
                        each,
                        of -> Json.object(
                                "Rules",
                                of.items("rule").stream()
                                        .map(TfBucket::lifecycle)
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
                                        .map(TfBucket::cors)
                                        .toList()));
            case "aws_s3_bucket_request_payment_configuration" ->
                setting(
                        "bucket-payer",
                        each,
                        of -> Json.object("Payer", of.text("payer").orElse("")));
            case "aws_s3_account_public_access_block" ->
                reading("account-public-access", all.account(), each, TfBucket::block);
            case "aws_cloudfront_distribution" -> {
                String id = each.id();
                reading(
                        "distribution",
                        all.distribution(id),
                        each,
                        of -> CfnDistribution.document(id, all.distribution(id), TfDistribution.asTemplate(of)));
            }
            case "aws_cloudfront_origin_access_identity" ->
                reading(
                        "origin-identity",
                        "origin-access-identity/" + each.id(),
                        each,
                        of -> Json.object(
                                "CloudFrontOriginAccessIdentity",
                                Json.object(
                                        "Id",
                                        each.id(),
                                        "S3CanonicalUserId",
                                        of.at("s3_canonical_user_id").raw() instanceof String known
                                                ? known
                                                : Placeholders.of(each.address() + ".s3_canonical_user_id"))));
            case "aws_cloudfront_origin_access_control" ->
                reading(
                        "origin-control",
                        "origin-access-control/" + each.id(),
                        each,
                        of -> Json.object(
                                "OriginAccessControl",
                                Json.object(
                                        "Id",
                                        each.id(),
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
                        each.id(),
                        each,
                        of -> Json.object(
                                "CachePolicy",
                                Json.object("Id", each.id(), "CachePolicyConfig", TfDistribution.cachePolicy(of))));
            case "aws_cloudfront_response_headers_policy" ->
                reading(
                        "response-headers-policy",
                        each.id(),
                        each,
                        of -> Json.object(
                                "ResponseHeadersPolicy",
                                Json.object(
                                        "Id",
                                        each.id(),
                                        "ResponseHeadersPolicyConfig",
                                        TfDistribution.headersPolicy(of))));
            case "aws_cloudfront_origin_request_policy" ->
                all.unread("origin-request-policy", each.id(), each.place(), "what the policy forwards");
            case "aws_cloudfront_function" ->
                reading(
                        "edge-function",
                        all.function(each.name("name")),
                        each,
                        of -> Json.object("FunctionSummary", Json.object("Name", each.name("name"))));
            case "aws_acm_certificate" -> certificate(each);
            case "aws_route53_zone" -> {
                String zone = "hostedzone/" + each.textOr("zone_id", each.id());
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
            case "aws_iam_role" -> identities.role(each);
            case "aws_iam_user" -> identities.user(each);
            case "aws_iam_group" -> identities.group(each);
            case "aws_iam_policy" -> {
                String arn = each.values().at("arn").raw() instanceof String known
                        ? known
                        : all.policy(each.path(), each.name("name"));
                reading(
                        "iam-policy",
                        arn,
                        each,
                        of -> Json.object(
                                "PolicyName",
                                each.name("name"),
                                "Arn",
                                arn,
                                "DefaultVersionId",
                                "v1",
                                "PolicyVersionList",
                                List.of(Json.object(
                                        "Document",
                                        HclPolicy.told(of, "policy"),
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
                String pipeline = each.name("name");
                reading("delivery-pipeline", all.deliveryPipeline(pipeline), each, of -> Delivery.ofPlan()
                        .pipeline(pipeline, of));
            }
            case "aws_amplify_app" ->
                reading(
                        "managed-app",
                        all.managedApp(each.id()),
                        each,
                        of -> Json.object(
                                "app",
                                Json.object(
                                        "appId", each.id(),
                                        "appArn", all.managedApp(each.id()),
                                        "name", each.name("name"),
                                        "defaultDomain", each.id() + ".amplifyapp.com")));
            case "aws_amplify_domain_association" -> {
                String domain = each.name("domain_name");
                String arn = all.managedApp(each.name("app_id")) + "/domains/" + domain;
                reading("managed-app-domain", arn, each, of -> Delivery.ofPlan().domain(arn, domain, of));
            }
            case "aws_kms_key" ->
                reading(
                        "key-policy",
                        each.values().at("arn").raw() instanceof String arn ? arn : all.key(each.id()),
                        each,
                        of -> {
                            if (!of.at("policy").isThere()) {
                                throw new NotTold("the key's policy, which is the default one");
                            }
                            return Json.object("Policy", HclPolicy.text(of, "policy"));
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

    // --- storage

    /** The bucket's own attributes of older days, where no resource of its own speaks of the same setting. */
    private void ownSettings(TfResource each) {
        String arn = Description.bucket(each.name("bucket"));
        Fields of = each.values();
        if (of.isUnknown()) {
            return;
        }
        own("bucket-policy", arn, each, "policy", () -> Json.object("Policy", HclPolicy.text(of, "policy")));
        own(
                "bucket-acl",
                arn,
                each,
                "acl",
                () -> BucketDefaults.readyMade(of.text("acl").orElse("private")));
        own("bucket-acl", arn, each, "grant", () -> TfBucket.ownGrants(of.items("grant")));
        own(
                "bucket-lifecycle",
                arn,
                each,
                "lifecycle_rule",
                () -> Json.object(
                        "Rules",
                        of.items("lifecycle_rule").stream()
                                .map(TfBucket::ownLifecycle)
                                .toList()));
        own(
                "bucket-payer",
                arn,
                each,
                "request_payer",
                () -> Json.object("Payer", of.text("request_payer").orElse("")));
        own("bucket-website", arn, each, "website", () -> TfBucket.ownWebsite(of.at("website")));
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
                () -> TfBucket.encryption(
                        of.at("server_side_encryption_configuration").items("rule")));
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
                        of.items("cors_rule").stream().map(TfBucket::cors).toList()));
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
                each.values()
                        .name("name")
                        .ifPresent(name -> zoneNames.putIfAbsent(each.textOr("zone_id", each.id()), name));
            }
        }
        return Optional.ofNullable(zoneNames.get(id));
    }

    // --- what is taken away

    /** What is there again when nobody manages a setting any more. */
    private void becomes(String aspect, TfResource each, Object usual) {
        if (!all.has(aspect, bucketOf(each))) {
            all.found(aspect, bucketOf(each), each.place(), () -> usual);
        }
    }

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
            case "aws_s3_bucket_logging" -> becomes("bucket-logging", each, Json.object());
            case "aws_s3_bucket_versioning" -> becomes("bucket-versioning", each, Json.object("Status", "Suspended"));
            case "aws_s3_bucket_server_side_encryption_configuration" ->
                becomes("bucket-encryption", each, BucketDefaults.encryption("AES256", null, false));
            case "aws_s3_bucket_request_payment_configuration" ->
                becomes("bucket-payer", each, Json.object("Payer", "BucketOwner"));
            case "aws_s3_account_public_access_block" ->
                all.absent(
                        "account-public-access", all.account(), each.place(), "NoSuchPublicAccessBlockConfiguration");
            case "aws_s3_bucket" -> all.removes(Description.bucket(each.name("bucket")));
            case "aws_cloudfront_distribution" -> all.removes(all.distribution(each.id()));
            case "aws_iam_role" -> all.removes(all.role(each.path(), each.name("name")));
            case "aws_iam_user" -> all.removes(all.user(each.path(), each.name("name")));
            case "aws_iam_group" -> all.removes(all.group(each.path(), each.name("name")));
            case "aws_iam_policy" -> all.removes(all.policy(each.path(), each.name("name")));
            case "aws_iam_openid_connect_provider", "aws_acm_certificate" ->
                each.known("arn").ifPresent(all::removes);
            case "aws_route53_record" -> {
                Optional<String> name = each.known("fqdn").or(() -> each.known("name"));
                if (name.isPresent() && each.known("zone_id").isPresent()) {
                    all.records()
                            .remove(
                                    each.known("zone_id").get(),
                                    name.get(),
                                    each.textOr("type", ""),
                                    each.textOr("set_identifier", ""));
                }
            }
            case "aws_route53_zone" -> all.removes("hostedzone/" + each.textOr("zone_id", each.id()));
            default -> {}
        }
    }
}
