package warden.gather.aws.template;

import java.util.Optional;
import java.util.function.Function;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.document.Placeholders;

/**
 * The attributes by which the tool's resources are known, as far as they follow from what is told. Source: the provider's documentation of each
 * resource type, "Attribute Reference".
 */
final class TfNames {
    private final Description all;

    TfNames(Description all) {
        this.all = all;
    }

    /**
     * Returns what an attribute identifies; absent where it identifies nothing.
     *
     * @param known the attributes that are told
     */
    Optional<String> attribute(
            String type, String address, Function<String, Optional<String>> known, String attribute) {
        Optional<String> told = known.apply(attribute);
        if (told.isPresent()) {
            return told;
        }
        String placeholder = Placeholders.of(address);
        String bucket = known.apply("bucket").orElse(placeholder);
        String name = known.apply("name").orElse(placeholder);
        String path = known.apply("path").orElse("/");
        return switch (type + " " + attribute) {
            case "aws_s3_bucket id", "aws_s3_bucket bucket" -> Optional.of(bucket);
            case "aws_s3_bucket arn" -> Optional.of(Description.bucket(bucket));
            case "aws_s3_bucket bucket_domain_name" -> Optional.of(bucket + ".s3.amazonaws.com");
            case "aws_s3_bucket bucket_regional_domain_name" ->
                Optional.of(bucket + ".s3." + all.region() + ".amazonaws.com");
            case "aws_s3_bucket website_endpoint" -> Optional.of(bucket + "." + website());
            case "aws_s3_bucket website_domain", "aws_s3_bucket_website_configuration website_domain" ->
                Optional.of(website());
            case "aws_s3_bucket_website_configuration website_endpoint" ->
                known.apply("bucket").map(own -> own + "." + website());
            case "aws_s3_bucket_website_configuration id",
                    "aws_s3_bucket_public_access_block id",
                    "aws_s3_bucket_versioning id",
                    "aws_s3_bucket_ownership_controls id",
                    "aws_s3_bucket_public_access_block bucket",
                    "aws_s3_bucket_versioning bucket",
                    "aws_s3_bucket_ownership_controls bucket",
                    "aws_s3_bucket_policy id" -> known.apply("bucket");
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
                Optional.of(Placeholders.of(address + ".s3_canonical_user_id"));
            case "aws_cloudfront_function arn" -> Optional.of(all.function(name));
            case "aws_acm_certificate arn", "aws_acm_certificate id" ->
                Optional.of(all.certificate(placeholder, all.region()));
            case "aws_acm_certificate_validation certificate_arn", "aws_acm_certificate_validation id" ->
                known.apply("certificate_arn");
            case "aws_iam_role arn" -> Optional.of(all.role(path, name));
            case "aws_iam_role id",
                    "aws_iam_role name",
                    "aws_iam_user id",
                    "aws_iam_user name",
                    "aws_iam_group id",
                    "aws_iam_group name" -> Optional.of(name);
            case "aws_iam_user arn" -> Optional.of(all.user(path, name));
            case "aws_iam_group arn" -> Optional.of(all.group(path, name));
            case "aws_iam_policy arn", "aws_iam_policy id" -> Optional.of(all.policy(path, name));
            case "aws_iam_openid_connect_provider arn" ->
                Optional.of("arn:aws:iam::" + all.account() + ":oidc-provider/"
                        + known.apply("url")
                                .map(url -> url.replaceFirst("^https://", ""))
                                .orElse(placeholder));
            case "aws_kms_key arn" -> Optional.of(all.key(placeholder));
            default -> Optional.empty();
        };
    }

    private String website() {
        return StorageEndpoint.websiteHost(all.region());
    }
}
