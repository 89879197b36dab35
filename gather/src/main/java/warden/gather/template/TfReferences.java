package warden.gather.template;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.document.Placeholders;

/**
 * Puts names in the place of attributes that a plan leaves open, where their whole expression is a reference to something that identifies a resource: a
 * bucket, a role, a zone. Source: the provider's documentation of each resource type, "Attribute Reference".
 */
final class TfReferences {
    private static final int MOST_HOPS = 20;

    private final List<TfResource> resources;
    private final Map<String, List<String>> references;
    private final Description all;
    private final Map<String, List<TfResource>> byBlock = new HashMap<>();

    TfReferences(List<TfResource> resources, Map<String, List<String>> references, Description all) {
        this.resources = resources;
        this.references = references;
        this.all = all;
        resources.forEach(each ->
                byBlock.computeIfAbsent(each.block(), key -> new ArrayList<>()).add(each));
    }

    List<TfResource> resolved() {
        return resources.stream().map(this::resolved).toList();
    }

    private TfResource resolved(TfResource each) {
        Object values = resolved(each, each.values().raw(), "");
        return new TfResource(
                each.address(), each.module(), each.type(), new Fields(values), each.change(), each.place());
    }

    private @Nullable Object resolved(TfResource of, @Nullable Object value, String path) {
        if (value instanceof Unknown unknown) {
            return named(of, path).map(Object.class::cast).orElse(unknown);
        }
        if (value instanceof Map<?, ?> map) {
            Map<String, Object> out = new LinkedHashMap<>();
            map.forEach((name, member) -> {
                String below = path.isEmpty() ? String.valueOf(name) : path + "." + name;
                out.put(String.valueOf(name), resolved(of, member, below));
            });
            return out;
        }
        if (value instanceof List<?> list) {
            List<Object> out = new ArrayList<>();
            list.forEach(item -> out.add(resolved(of, item, path)));
            return out;
        }
        return value;
    }

    /** The attributes that name something else; others may be put together of what they refer to. */
    private static final Set<String> NAMING = Set.of(
            "bucket",
            "target_bucket",
            "role",
            "user",
            "group",
            "policy_arn",
            "zone_id",
            "origin_access_control_id",
            "origin_access_identity",
            "cache_policy_id",
            "origin_request_policy_id",
            "response_headers_policy_id",
            "domain_name",
            "acm_certificate_arn",
            "function_arn",
            "kms_master_key_id",
            "key_id");

    private Optional<String> named(TfResource of, String path) {
        String last = path.substring(path.lastIndexOf('.') + 1);
        if (!NAMING.contains(last) && !path.equals("alias.name")) {
            return Optional.empty();
        }
        List<String> refers = references.get(of.block() + " " + path);
        return refers == null ? Optional.empty() : target(refers, of.key(), 0);
    }

    /** The references of an expression go from the longest to the shortest; several different ones are no whole attribute. */
    private Optional<String> target(List<String> refers, String key, int hops) {
        if (refers.isEmpty() || hops > MOST_HOPS) {
            return Optional.empty();
        }
        String first = refers.get(0);
        boolean isOne = refers.stream().allMatch(first::startsWith);
        if (!isOne) {
            return Optional.empty();
        }
        String plain = TfResource.withoutKeys(first);
        String module = plain.replaceFirst("^((module\\.[^.]+\\.)*).*$", "$1");
        String rest = plain.substring(module.length());
        String owner = module.isEmpty() ? "" : module.substring(0, module.length() - 1);
        if (rest.startsWith("var.")) {
            return Optional.ofNullable(references.get(owner + " " + rest)).flatMap(next -> target(next, key, hops + 1));
        }
        // An output of a module: its address ends where the name of the output begins.
        int cut = rest.indexOf('.');
        if (!module.isEmpty() && !rest.isEmpty() && cut < 0) {
            return Optional.ofNullable(references.get(owner + " output." + rest))
                    .flatMap(next -> target(next, key, hops + 1));
        }
        String[] parts = rest.split("\\.");
        if (parts.length < 3 || parts[0].equals("data")) {
            return parts.length >= 4 && parts[1].equals("aws_caller_identity") && parts[3].equals("account_id")
                    ? Optional.of(all.account())
                    : Optional.empty();
        }
        String block = module + parts[0] + "." + parts[1];
        String attribute = parts[2];
        List<TfResource> named = byBlock.getOrDefault(block, List.of());
        return named.stream()
                .filter(each -> named.size() == 1 || each.key().equals(key))
                .findFirst()
                .flatMap(each -> attribute(each, attribute, hops));
    }

    /** Returns what an attribute identifies; absent where it identifies nothing. */
    private Optional<String> attribute(TfResource of, String attribute, int hops) {
        Optional<String> known = known(of, attribute);
        if (known.isPresent()) {
            return known;
        }
        String placeholder = Placeholders.of(of.address());
        return switch (of.type() + " " + attribute) {
            case "aws_s3_bucket id", "aws_s3_bucket bucket" -> Optional.of(name(of, "bucket"));
            case "aws_s3_bucket arn" -> Optional.of(Description.bucket(name(of, "bucket")));
            case "aws_s3_bucket bucket_domain_name" -> Optional.of(name(of, "bucket") + ".s3.amazonaws.com");
            case "aws_s3_bucket bucket_regional_domain_name" ->
                Optional.of(name(of, "bucket") + ".s3." + all.region() + ".amazonaws.com");
            case "aws_s3_bucket website_endpoint" -> Optional.of(name(of, "bucket") + "." + website());
            case "aws_s3_bucket website_domain", "aws_s3_bucket_website_configuration website_domain" ->
                Optional.of(website());
            case "aws_s3_bucket_website_configuration website_endpoint" ->
                bucketOf(of, hops).map(bucket -> bucket + "." + website());
            case "aws_s3_bucket_website_configuration id",
                    "aws_s3_bucket_public_access_block id",
                    "aws_s3_bucket_versioning id",
                    "aws_s3_bucket_ownership_controls id",
                    "aws_s3_bucket_public_access_block bucket",
                    "aws_s3_bucket_versioning bucket",
                    "aws_s3_bucket_ownership_controls bucket",
                    "aws_s3_bucket_policy id" -> bucketOf(of, hops);
            case "aws_cloudfront_distribution domain_name" -> Optional.of(placeholder + ".cloudfront.net");
            case "aws_cloudfront_distribution arn" -> Optional.of(all.distribution(placeholder));
            case "aws_cloudfront_distribution hosted_zone_id" -> Optional.of("Z2FDTNDATAQYW2");
            case "aws_cloudfront_distribution id",
                    "aws_cloudfront_origin_access_identity id",
                    "aws_cloudfront_origin_access_control id",
                    "aws_cloudfront_cache_policy id",
                    "aws_cloudfront_response_headers_policy id",
                    "aws_cloudfront_origin_request_policy id",
                    "aws_route53_zone id",
                    "aws_route53_zone zone_id",
                    "aws_kms_key id",
                    "aws_kms_key key_id" -> Optional.of(placeholder);
            case "aws_cloudfront_origin_access_identity cloudfront_access_identity_path" ->
                Optional.of("origin-access-identity/cloudfront/" + placeholder);
            case "aws_cloudfront_origin_access_identity iam_arn" ->
                Optional.of("arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity " + placeholder);
            case "aws_cloudfront_origin_access_identity s3_canonical_user_id" ->
                Optional.of(Placeholders.of(of.address() + ".s3_canonical_user_id"));
            case "aws_cloudfront_function arn" -> Optional.of(all.function(name(of, "name")));
            case "aws_acm_certificate arn", "aws_acm_certificate id" ->
                Optional.of(all.certificate(placeholder, all.region()));
            case "aws_acm_certificate_validation certificate_arn", "aws_acm_certificate_validation id" ->
                Optional.ofNullable(references.get(of.block() + " certificate_arn"))
                        .flatMap(next -> target(next, of.key(), hops + 1));
            case "aws_iam_role arn" -> Optional.of(all.role(path(of), name(of, "name")));
            case "aws_iam_role id",
                    "aws_iam_role name",
                    "aws_iam_user id",
                    "aws_iam_user name",
                    "aws_iam_group id",
                    "aws_iam_group name" -> Optional.of(name(of, "name"));
            case "aws_iam_user arn" -> Optional.of(all.user(path(of), name(of, "name")));
            case "aws_iam_group arn" -> Optional.of(all.group(path(of), name(of, "name")));
            case "aws_iam_policy arn", "aws_iam_policy id" -> Optional.of(all.policy(path(of), name(of, "name")));
            case "aws_iam_openid_connect_provider arn" ->
                Optional.of("arn:aws:iam::" + all.account() + ":oidc-provider/"
                        + known(of, "url")
                                .map(url -> url.replaceFirst("^https://", ""))
                                .orElse(placeholder));
            case "aws_kms_key arn" -> Optional.of(all.key(placeholder));
            default -> Optional.empty();
        };
    }

    private String website() {
        return StorageEndpoint.websiteHost(all.region());
    }

    private Optional<String> bucketOf(TfResource of, int hops) {
        return known(of, "bucket").or(() -> Optional.ofNullable(references.get(of.block() + " bucket"))
                .flatMap(next -> target(next, of.key(), hops + 1)));
    }

    private static Optional<String> known(TfResource of, String attribute) {
        Fields there = of.values().at(attribute);
        return there.raw() instanceof String text && !text.isEmpty() ? Optional.of(text) : Optional.empty();
    }

    private static String name(TfResource of, String attribute) {
        return known(of, attribute).orElse(Placeholders.of(of.address()));
    }

    private static String path(TfResource of) {
        return known(of, "path").orElse("/");
    }
}
