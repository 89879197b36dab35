package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.document.Json;

/**
 * Spells a template's distribution as the interface prints one. Source: CloudFormation User Guide, "AWS::CloudFront::Distribution
 * DistributionConfig" and its property types, with their defaults; CloudFront API Reference, "DistributionConfig".
 */
final class CfnDistribution {
    private CfnDistribution() {}

    /** Returns the document that reads as the distribution would. */
    static Object document(String id, String arn, Fields config) {
        Map<String, Object> out = new LinkedHashMap<>();
        out.put("Aliases", Shapes.listed(config.names("Aliases")));
        out.put("DefaultRootObject", config.text("DefaultRootObject").orElse(""));
        out.put(
                "Origins",
                Shapes.listed(config.items("Origins").stream()
                        .map(CfnDistribution::origin)
                        .toList()));
        out.put("DefaultCacheBehavior", behavior(config.at("DefaultCacheBehavior")));
        out.put(
                "CacheBehaviors",
                Shapes.listed(config.items("CacheBehaviors").stream()
                        .map(CfnDistribution::behavior)
                        .toList()));
        out.put(
                "CustomErrorResponses",
                Shapes.listed(config.items("CustomErrorResponses").stream()
                        .map(CfnDistribution::error)
                        .toList()));
        out.put("Comment", config.name("Comment").orElse(""));
        out.put("Logging", logging(config.at("Logging")));
        out.put("PriceClass", config.text("PriceClass").orElse("PriceClass_All"));
        out.put("Enabled", config.flag("Enabled").orElse(true));
        out.put("ViewerCertificate", certificate(config.at("ViewerCertificate")));
        out.put("HttpVersion", config.text("HttpVersion").orElse("http1.1"));
        out.put("IsIPV6Enabled", config.flag("IPV6Enabled").orElse(false));
        config.name("WebACLId").ifPresent(acl -> out.put("WebACLId", acl));
        if (config.at("Restrictions", "GeoRestriction").isThere()) {
            out.put("Restrictions", Json.object("GeoRestriction", geo(config.at("Restrictions", "GeoRestriction"))));
        }
        List<Fields> groups = config.at("OriginGroups").items("Items");
        if (!groups.isEmpty()) {
            out.put(
                    "OriginGroups",
                    Shapes.listed(groups.stream().map(CfnDistribution::group).toList()));
        }
        return Json.object(
                "Distribution",
                Json.object(
                        "Id",
                        id,
                        "ARN",
                        arn,
                        "Status",
                        "Deployed",
                        "DomainName",
                        id + ".cloudfront.net",
                        "DistributionConfig",
                        out));
    }

    private static Object group(Fields of) {
        return Json.object(
                "Id",
                of.name("Id").orElse(""),
                "FailoverCriteria",
                Json.object(
                        "StatusCodes",
                        Shapes.listed(of.at("FailoverCriteria", "StatusCodes").texts("Items").stream()
                                .map(Shapes::number)
                                .toList())),
                "Members",
                Shapes.listed(of.at("Members").items("Items").stream()
                        .map(member ->
                                Json.object("OriginId", member.name("OriginId").orElse("")))
                        .toList()));
    }

    private static Object geo(Fields of) {
        List<String> places = of.texts("Locations");
        return Json.object(
                "RestrictionType",
                of.text("RestrictionType").orElse("none"),
                "Quantity",
                places.size(),
                "Items",
                places);
    }

    private static Object origin(Fields of) {
        Map<String, Object> out = Json.object(
                "Id",
                of.name("Id").orElse(""),
                "DomainName",
                of.name("DomainName").orElse(""),
                "OriginPath",
                of.text("OriginPath").orElse(""));
        List<Object> headers = new ArrayList<>();
        of.items("OriginCustomHeaders")
                .forEach(header -> headers.add(Json.object(
                        "HeaderName",
                        header.text("HeaderName").orElse(""),
                        "HeaderValue",
                        header.name("HeaderValue").orElse(""))));
        out.put("CustomHeaders", Shapes.listed(headers));
        Fields custom = of.at("CustomOriginConfig");
        if (custom.isThere()) {
            out.put(
                    "CustomOriginConfig",
                    Json.object(
                            "HTTPPort",
                            Shapes.number(custom.text("HTTPPort").orElse("80")),
                            "HTTPSPort",
                            Shapes.number(custom.text("HTTPSPort").orElse("443")),
                            "OriginProtocolPolicy",
                            custom.text("OriginProtocolPolicy").orElse(""),
                            "OriginSslProtocols",
                            Shapes.listed(
                                    custom.at("OriginSSLProtocols").isThere()
                                            ? custom.texts("OriginSSLProtocols")
                                            : List.of("TLSv1", "SSLv3"))));
        } else {
            out.put(
                    "S3OriginConfig",
                    Json.object(
                            "OriginAccessIdentity",
                            of.name("S3OriginConfig", "OriginAccessIdentity").orElse("")));
        }
        out.put("OriginAccessControlId", of.name("OriginAccessControlId").orElse(""));
        return out;
    }

    private static Object behavior(Fields of) {
        Map<String, Object> out = new LinkedHashMap<>();
        of.text("PathPattern").ifPresent(pattern -> out.put("PathPattern", pattern));
        out.put("TargetOriginId", of.name("TargetOriginId").orElse(""));
        out.put("ViewerProtocolPolicy", of.text("ViewerProtocolPolicy").orElse("allow-all"));
        Map<String, Object> methods = Shapes.listed(methods(of, "AllowedMethods"));
        methods.put("CachedMethods", Shapes.listed(methods(of, "CachedMethods")));
        out.put("AllowedMethods", methods);
        out.put("Compress", of.flag("Compress").orElse(false));
        for (String policy : List.of("CachePolicyId", "OriginRequestPolicyId", "ResponseHeadersPolicyId")) {
            of.name(policy).ifPresent(id -> out.put(policy, id));
        }
        signers(of, "TrustedSigners").ifPresent(value -> out.put("TrustedSigners", value));
        signers(of, "TrustedKeyGroups").ifPresent(value -> out.put("TrustedKeyGroups", value));
        if (of.at("ForwardedValues").isThere()) {
            Fields forwarded = of.at("ForwardedValues");
            out.put(
                    "ForwardedValues",
                    Json.object(
                            "QueryString",
                            forwarded.flag("QueryString").orElse(false),
                            "Cookies",
                            Json.object(
                                    "Forward",
                                    forwarded.text("Cookies", "Forward").orElse("none")),
                            "Headers",
                            Shapes.listed(forwarded.texts("Headers"))));
            for (String time : List.of("MinTTL", "DefaultTTL", "MaxTTL")) {
                String usual = time.equals("MinTTL") ? "0" : time.equals("DefaultTTL") ? "86400" : "31536000";
                out.put(time, Shapes.number(of.text(time).orElse(usual)));
            }
        }
        out.put(
                "FunctionAssociations",
                Shapes.listed(of.items("FunctionAssociations").stream()
                        .map(each -> Json.object(
                                "FunctionARN",
                                each.name("FunctionARN").orElse(""),
                                "EventType",
                                each.text("EventType").orElse("viewer-request")))
                        .toList()));
        out.put(
                "LambdaFunctionAssociations",
                Shapes.listed(of.items("LambdaFunctionAssociations").stream()
                        .map(each -> Json.object(
                                "LambdaFunctionARN",
                                each.name("LambdaFunctionARN").orElse(""),
                                "EventType",
                                each.text("EventType").orElse("viewer-request"),
                                "IncludeBody",
                                each.flag("IncludeBody").orElse(false)))
                        .toList()));
        return out;
    }

    private static List<String> methods(Fields of, String member) {
        return of.at(member).isThere() ? of.texts(member) : List.of("GET", "HEAD");
    }

    private static Optional<Object> signers(Fields of, String member) {
        if (!of.at(member).isThere()) {
            return Optional.empty();
        }
        List<String> items = of.names(member);
        return Optional.of(Json.object("Enabled", !items.isEmpty(), "Quantity", items.size(), "Items", items));
    }

    private static Object error(Fields of) {
        return Json.object(
                "ErrorCode",
                Shapes.number(of.text("ErrorCode").orElse("")),
                "ResponsePagePath",
                of.text("ResponsePagePath").orElse(""),
                "ResponseCode",
                of.text("ResponseCode").orElse(""),
                "ErrorCachingMinTTL",
                Shapes.number(of.text("ErrorCachingMinTTL").orElse("10")));
    }

    private static Object logging(Fields of) {
        return Json.object(
                "Enabled",
                of.isThere(),
                "IncludeCookies",
                of.isThere() && of.flag("IncludeCookies").orElse(false),
                "Bucket",
                of.isThere() ? of.name("Bucket").orElse("") : "",
                "Prefix",
                of.isThere() ? of.name("Prefix").orElse("") : "");
    }

    /** A distribution with its own certificate takes TLS 1.0. Source: CloudFront API Reference, "ViewerCertificate". */
    private static Object certificate(Fields of) {
        Optional<String> managed = of.isThere() ? of.name("AcmCertificateArn") : Optional.empty();
        Optional<String> identity = of.isThere() ? of.name("IamCertificateId") : Optional.empty();
        boolean isOwn = managed.isEmpty() && identity.isEmpty();
        return Json.object(
                "CloudFrontDefaultCertificate",
                isOwn,
                "ACMCertificateArn",
                managed,
                "IAMCertificateId",
                identity,
                "SSLSupportMethod",
                isOwn ? "vip" : of.text("SslSupportMethod").orElse(""),
                "MinimumProtocolVersion",
                isOwn ? "TLSv1" : of.text("MinimumProtocolVersion").orElse("TLSv1"));
    }
}
