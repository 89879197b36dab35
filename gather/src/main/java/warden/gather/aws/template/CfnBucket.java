package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.document.Json;

/**
 * The settings of a template's bucket as the provider answers. Source: CloudFormation User Guide, "AWS::S3::Bucket" and its property types; S3 API
 * Reference, the calls that read each setting.
 */
final class CfnBucket {
    private CfnBucket() {}

    static Object website(Fields of) {
        Map<String, Object> site = new LinkedHashMap<>();
        of.text("IndexDocument").ifPresent(index -> site.put("IndexDocument", Json.object("Suffix", index)));
        of.text("ErrorDocument").ifPresent(error -> site.put("ErrorDocument", Json.object("Key", error)));
        Fields redirect = of.at("RedirectAllRequestsTo");
        if (redirect.isThere()) {
            site.put(
                    "RedirectAllRequestsTo",
                    Json.object("HostName", redirect.name("HostName"), "Protocol", redirect.text("Protocol")));
        }
        List<Object> rules = new ArrayList<>();
        for (Fields rule : of.items("RoutingRules")) {
            rules.add(Json.object(
                    "Condition",
                    Optional.ofNullable(rule.at("RoutingRuleCondition").told()),
                    "Redirect",
                    rule.at("RedirectRule").told()));
        }
        if (!rules.isEmpty()) {
            site.put("RoutingRules", rules);
        }
        return site;
    }

    static Object encryption(Fields of) {
        List<Object> rules = new ArrayList<>();
        for (Fields rule : of.items("ServerSideEncryptionConfiguration")) {
            Fields usual = rule.at("ServerSideEncryptionByDefault");
            rules.add(Json.object(
                    "ApplyServerSideEncryptionByDefault",
                    Json.object(
                            "SSEAlgorithm",
                            usual.text("SSEAlgorithm").orElse("AES256"),
                            "KMSMasterKeyID",
                            usual.name("KMSMasterKeyID")),
                    "BucketKeyEnabled",
                    rule.flag("BucketKeyEnabled").orElse(false)));
        }
        return Json.object("ServerSideEncryptionConfiguration", Json.object("Rules", rules));
    }

    static Object lifecycle(Fields of) {
        List<Object> rules = new ArrayList<>();
        for (Fields rule : of.items("Rules")) {
            Map<String, Object> out = Json.object(
                    "ID",
                    rule.text("Id").orElse(""),
                    "Status",
                    rule.text("Status").orElse(""),
                    "Filter",
                    new LifecycleFilter()
                            .with("Prefix", rule.text("Prefix"))
                            .tagged(rule.items("TagFilters").stream()
                                    .map(Fields::told)
                                    .toList())
                            .with(
                                    "ObjectSizeGreaterThan",
                                    rule.text("ObjectSizeGreaterThan").map(Shapes::number))
                            .with(
                                    "ObjectSizeLessThan",
                                    rule.text("ObjectSizeLessThan").map(Shapes::number))
                            .document());
            Map<String, Object> expiration = new LinkedHashMap<>();
            rule.text("ExpirationInDays").ifPresent(days -> expiration.put("Days", Shapes.number(days)));
            rule.text("ExpirationDate").ifPresent(date -> expiration.put("Date", date));
            rule.flag("ExpiredObjectDeleteMarker").ifPresent(flag -> expiration.put("ExpiredObjectDeleteMarker", flag));
            if (!expiration.isEmpty()) {
                out.put("Expiration", expiration);
            }
            rule.text("NoncurrentVersionExpirationInDays")
                    .or(() -> rule.text("NoncurrentVersionExpiration", "NoncurrentDays"))
                    .ifPresent(days -> out.put(
                            "NoncurrentVersionExpiration",
                            Json.object(
                                    "NoncurrentDays",
                                    Shapes.number(days),
                                    "NewerNoncurrentVersions",
                                    rule.text("NoncurrentVersionExpiration", "NewerNoncurrentVersions")
                                            .map(Shapes::number))));
            if (rule.at("AbortIncompleteMultipartUpload").isThere()) {
                out.put(
                        "AbortIncompleteMultipartUpload",
                        rule.at("AbortIncompleteMultipartUpload").told());
            }
            List<Object> transitions = new ArrayList<>();
            Stream.concat(rule.items("Transitions").stream(), rule.items("Transition").stream())
                    .forEach(each -> transitions.add(Json.object(
                            "Days",
                            each.text("TransitionInDays").map(Shapes::number),
                            "StorageClass",
                            each.text("StorageClass"))));
            if (!transitions.isEmpty()) {
                out.put("Transitions", transitions);
            }
            rules.add(out);
        }
        return Json.object("Rules", rules);
    }

    static Object cors(Fields rule) {
        return Json.object(
                "AllowedHeaders",
                rule.texts("AllowedHeaders"),
                "AllowedMethods",
                rule.texts("AllowedMethods"),
                "AllowedOrigins",
                rule.names("AllowedOrigins"),
                "ExposeHeaders",
                rule.texts("ExposedHeaders"),
                "MaxAgeSeconds",
                rule.text("MaxAge").map(Shapes::number));
    }
}
