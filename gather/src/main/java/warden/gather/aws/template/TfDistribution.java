package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.document.Json;

/** Translates a distribution, and its policies, from the tool's names to the provider's. Source: the provider's documentation of the resource types. */
final class TfDistribution {
    private static final Map<String, String> TOP = Map.ofEntries(
            Map.entry("aliases", "Aliases"),
            Map.entry("default_root_object", "DefaultRootObject"),
            Map.entry("comment", "Comment"),
            Map.entry("price_class", "PriceClass"),
            Map.entry("enabled", "Enabled"),
            Map.entry("http_version", "HttpVersion"),
            Map.entry("is_ipv6_enabled", "IPV6Enabled"),
            Map.entry("web_acl_id", "WebACLId"));
    private static final Map<String, String> ORIGIN = Map.of(
            "origin_id", "Id",
            "domain_name", "DomainName",
            "origin_path", "OriginPath",
            "origin_access_control_id", "OriginAccessControlId");
    private static final Map<String, String> CUSTOM_ORIGIN = Map.of(
            "http_port", "HTTPPort",
            "https_port", "HTTPSPort",
            "origin_protocol_policy", "OriginProtocolPolicy",
            "origin_ssl_protocols", "OriginSSLProtocols");
    private static final Map<String, String> BEHAVIOR = Map.ofEntries(
            Map.entry("path_pattern", "PathPattern"),
            Map.entry("target_origin_id", "TargetOriginId"),
            Map.entry("viewer_protocol_policy", "ViewerProtocolPolicy"),
            Map.entry("allowed_methods", "AllowedMethods"),
            Map.entry("cached_methods", "CachedMethods"),
            Map.entry("compress", "Compress"),
            Map.entry("cache_policy_id", "CachePolicyId"),
            Map.entry("origin_request_policy_id", "OriginRequestPolicyId"),
            Map.entry("response_headers_policy_id", "ResponseHeadersPolicyId"),
            Map.entry("trusted_signers", "TrustedSigners"),
            Map.entry("trusted_key_groups", "TrustedKeyGroups"),
            Map.entry("min_ttl", "MinTTL"),
            Map.entry("default_ttl", "DefaultTTL"),
            Map.entry("max_ttl", "MaxTTL"));
    private static final Map<String, String> CERTIFICATE = Map.of(
            "acm_certificate_arn", "AcmCertificateArn",
            "iam_certificate_id", "IamCertificateId",
            "minimum_protocol_version", "MinimumProtocolVersion",
            "ssl_support_method", "SslSupportMethod");

    private TfDistribution() {}

    /** Returns the distribution as a template would say it. */
    static Fields asTemplate(Fields of) {
        Map<String, Object> out = renamed(of, TOP);
        out.put("Origins", each(of, "origin", TfDistribution::origin));
        of.items("default_cache_behavior").stream()
                .findFirst()
                .ifPresent(one -> out.put("DefaultCacheBehavior", behavior(one)));
        out.put("CacheBehaviors", each(of, "ordered_cache_behavior", TfDistribution::behavior));
        out.put(
                "CustomErrorResponses",
                each(
                        of,
                        "custom_error_response",
                        one -> renamed(
                                one,
                                Map.of(
                                        "error_code", "ErrorCode",
                                        "response_code", "ResponseCode",
                                        "response_page_path", "ResponsePagePath",
                                        "error_caching_min_ttl", "ErrorCachingMinTTL"))));
        if (of.at("logging_config").isThere()) {
            out.put(
                    "Logging",
                    renamed(
                            of.items("logging_config").get(0),
                            Map.of("bucket", "Bucket", "prefix", "Prefix", "include_cookies", "IncludeCookies")));
        }
        if (of.at("viewer_certificate").isThere()) {
            out.put("ViewerCertificate", renamed(of.items("viewer_certificate").get(0), CERTIFICATE));
        }
        out.put("OriginGroups", Map.of("Items", each(of, "origin_group", TfDistribution::group)));
        return new Fields(out);
    }

    private static List<Object> each(Fields of, String block, java.util.function.Function<Fields, Object> work) {
        List<Object> all = new ArrayList<>();
        of.items(block).forEach(one -> all.add(work.apply(one)));
        return all;
    }

    private static Map<String, Object> renamed(Fields of, Map<String, String> names) {
        Map<String, Object> out = new LinkedHashMap<>();
        names.forEach((from, to) -> {
            Object value = of.at(from).raw();
            boolean says = value != null && !"".equals(value) && !(value instanceof List<?> list && list.isEmpty());
            if (says) {
                out.put(to, value);
            }
        });
        return out;
    }

    private static Object origin(Fields of) {
        Map<String, Object> out = renamed(of, ORIGIN);
        if (of.at("custom_origin_config").isThere()) {
            out.put(
                    "CustomOriginConfig",
                    renamed(of.items("custom_origin_config").get(0), CUSTOM_ORIGIN));
        }
        if (of.at("s3_origin_config").isThere()) {
            out.put(
                    "S3OriginConfig",
                    renamed(
                            of.items("s3_origin_config").get(0),
                            Map.of("origin_access_identity", "OriginAccessIdentity")));
        }
        out.put(
                "OriginCustomHeaders",
                each(of, "custom_header", one -> renamed(one, Map.of("name", "HeaderName", "value", "HeaderValue"))));
        return out;
    }

    private static Object group(Fields of) {
        Map<String, Object> out = renamed(of, Map.of("origin_id", "Id"));
        Map<String, Object> codes = renamed(of.at("failover_criteria"), Map.of("status_codes", "Items"));
        out.put("FailoverCriteria", Map.of("StatusCodes", codes));
        out.put("Members", Map.of("Items", each(of, "member", one -> renamed(one, Map.of("origin_id", "OriginId")))));
        return out;
    }

    private static Object behavior(Fields of) {
        Map<String, Object> out = renamed(of, BEHAVIOR);
        if (of.at("forwarded_values").isThere()) {
            Fields forwarded = of.items("forwarded_values").get(0);
            Map<String, Object> values =
                    renamed(forwarded, Map.of("query_string", "QueryString", "headers", "Headers"));
            if (forwarded.at("cookies").isThere()) {
                values.put("Cookies", renamed(forwarded.items("cookies").get(0), Map.of("forward", "Forward")));
            }
            out.put("ForwardedValues", values);
        }
        out.put(
                "FunctionAssociations",
                each(
                        of,
                        "function_association",
                        one -> renamed(one, Map.of("event_type", "EventType", "function_arn", "FunctionARN"))));
        out.put(
                "LambdaFunctionAssociations",
                each(
                        of,
                        "lambda_function_association",
                        one -> renamed(
                                one,
                                Map.of(
                                        "event_type",
                                        "EventType",
                                        "lambda_arn",
                                        "LambdaFunctionARN",
                                        "include_body",
                                        "IncludeBody"))));
        return out;
    }

    static Object cachePolicy(Fields of) {
        Map<String, Object> out = Json.object("Name", of.text("name").orElse(""));
        for (Map.Entry<String, String> time : Map.of(
                        "min_ttl", "MinTTL", "default_ttl", "DefaultTTL", "max_ttl", "MaxTTL")
                .entrySet()) {
            of.text(time.getKey()).ifPresent(value -> out.put(time.getValue(), Shapes.number(value)));
        }
        Fields key = of.at("parameters_in_cache_key_and_forwarded_to_origin");
        Fields headers = key.at("headers_config");
        out.put(
                "ParametersInCacheKeyAndForwardedToOrigin",
                Json.object(
                        "HeadersConfig",
                        Json.object(
                                "HeaderBehavior",
                                headers.text("header_behavior").orElse("none"),
                                "Headers",
                                Shapes.listed(headers.at("headers").texts("items"))),
                        "QueryStringsConfig",
                        Json.object(
                                "QueryStringBehavior",
                                key.at("query_strings_config")
                                        .text("query_string_behavior")
                                        .orElse("none"))));
        return out;
    }

    /** What the policy says of headers for security; others are kept by their names. */
    static Object headersPolicy(Fields of) {
        Map<String, Object> security = new LinkedHashMap<>();
        Fields all = of.at("security_headers_config");
        Fields transport = all.at("strict_transport_security");
        if (transport.isThere()) {
            security.put(
                    "StrictTransportSecurity",
                    Json.object(
                            "Override",
                            transport.flag("override").orElse(false),
                            "AccessControlMaxAgeSec",
                            transport.text("access_control_max_age_sec").map(Shapes::number),
                            "IncludeSubdomains",
                            transport.flag("include_subdomains").orElse(false),
                            "Preload",
                            transport.flag("preload").orElse(false)));
        }
        Fields content = all.at("content_security_policy");
        if (content.isThere()) {
            security.put(
                    "ContentSecurityPolicy",
                    Json.object(
                            "Override",
                            content.flag("override").orElse(false),
                            "ContentSecurityPolicy",
                            content.text("content_security_policy").orElse("")));
        }
        if (all.at("content_type_options").isThere()) {
            security.put(
                    "ContentTypeOptions",
                    Json.object(
                            "Override",
                            all.at("content_type_options").flag("override").orElse(false)));
        }
        Fields frame = all.at("frame_options");
        if (frame.isThere()) {
            security.put(
                    "FrameOptions",
                    Json.object(
                            "Override",
                            frame.flag("override").orElse(false),
                            "FrameOption",
                            frame.text("frame_option").orElse("")));
        }
        Fields referrer = all.at("referrer_policy");
        if (referrer.isThere()) {
            security.put(
                    "ReferrerPolicy",
                    Json.object(
                            "Override",
                            referrer.flag("override").orElse(false),
                            "ReferrerPolicy",
                            referrer.text("referrer_policy").orElse("")));
        }
        List<Object> custom = new ArrayList<>();
        of.at("custom_headers_config")
                .items("items")
                .forEach(item -> custom.add(Json.object(
                        "Header",
                        item.text("header").orElse(""),
                        "Value",
                        item.text("value").orElse(""),
                        "Override",
                        item.flag("override").orElse(false))));
        return Json.object(
                "Name",
                of.text("name").orElse(""),
                "SecurityHeadersConfig",
                security.isEmpty() ? Optional.empty() : Optional.of(security),
                "CustomHeadersConfig",
                custom.isEmpty() ? Optional.empty() : Optional.of(Shapes.listed(custom)));
    }
}
