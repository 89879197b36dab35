package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Set-ups of one site, each told in three languages: what the account's calls answer, a template, and a source. */
final class DescribedSetups {
    static final String ACCOUNT = "210987654321";
    private static final String BUCKET = "arn:aws:s3:::tides-content";
    private static final String EDGE = "arn:aws:cloudfront::" + ACCOUNT + ":distribution/E1TIDES";
    private static final String PUBLISHER = "arn:aws:iam::" + ACCOUNT + ":role/tides-publisher";

    private DescribedSetups() {}

    /**
     * One thing that a set-up has.
     *
     * @param properties of the template's bucket
     * @param resources of the template
     * @param source what the source has beside the bucket
     * @param answers what the calls answer, by aspect and subject
     */
    record Part(String name, String properties, String resources, String source, Map<String, String> answers) {}

    /** Parts together. */
    record Setup(List<Part> parts) {
        @Override
        public String toString() {
            return parts.isEmpty()
                    ? "a new bucket"
                    : parts.stream().map(Part::name).collect(Collectors.joining(", "));
        }

        String template() {
            String properties = parts.stream()
                    .map(Part::properties)
                    .filter(text -> !text.isEmpty())
                    .collect(Collectors.joining());
            return "Resources:\n  Site:\n    Type: AWS::S3::Bucket\n    Properties:\n      BucketName: tides-content\n"
                    + properties.indent(6)
                    + parts.stream()
                            .map(Part::resources)
                            .collect(Collectors.joining())
                            .indent(2);
        }

        String source() {
            return "resource \"aws_s3_bucket\" \"site\" {\n  bucket = \"tides-content\"\n}\n"
                    + parts.stream().map(Part::source).collect(Collectors.joining("\n"));
        }

        /** Returns the account's survey with the set-up in it. */
        String live() {
            Map<String, String> answers = new LinkedHashMap<>(newBucket());
            parts.forEach(part -> answers.putAll(part.answers()));
            return lines(answers, "[{\"Name\":\"tides-content\"}]");
        }

        /** Returns the account's survey without it. */
        static String beside() {
            return lines(Map.of(), "[]");
        }
    }

    private static String found(String document) {
        return "\"found\":" + document;
    }

    private static String absent(String code) {
        return "\"absent\":\"" + code + "\"";
    }

    private static String lines(Map<String, String> answers, String buckets) {
        Map<String, String> all = new LinkedHashMap<>();
        all.put("bucket-list " + ACCOUNT, found("{\"Buckets\":" + buckets + "}"));
        all.put("distribution-list " + ACCOUNT, found("{\"DistributionList\":{\"IsTruncated\":false,\"Items\":[]}}"));
        all.put("zone-list " + ACCOUNT, found("{\"HostedZones\":[],\"IsTruncated\":false,\"MaxItems\":\"100\"}"));
        all.put("account-public-access " + ACCOUNT, absent("NoSuchPublicAccessBlockConfiguration"));
        all.put(
                "iam-role arn:aws:iam::" + ACCOUNT + ":role/harbour-master",
                role(
                        "harbour-master",
                        "{\"Version\":\"2012-10-17\",\"Statement\":[{\"Effect\":\"Allow\",\"Principal\":"
                                + "{\"Service\":\"ec2.amazonaws.com\"},\"Action\":\"sts:AssumeRole\"}]}",
                        "[]"));
        all.putAll(answers);
        return "{\"survey\":1,\"provider\":\"aws\",\"account\":\"" + ACCOUNT
                + "\",\"takenAt\":\"2026-11-20T08:00:00Z\",\"takenBy\":\"arn:aws:iam::" + ACCOUNT + ":root\"}\n"
                + all.entrySet().stream()
                        .map(each -> "{\"aspect\":\""
                                + each.getKey().substring(0, each.getKey().indexOf(' '))
                                + "\",\"of\":\""
                                + each.getKey().substring(each.getKey().indexOf(' ') + 1) + "\","
                                + each.getValue() + "}\n")
                        .collect(Collectors.joining());
    }

    private static String role(String name, String trust, String policies) {
        return found("{\"Path\":\"/\",\"RoleName\":\"" + name + "\",\"Arn\":\"arn:aws:iam::" + ACCOUNT + ":role/" + name
                + "\",\"AssumeRolePolicyDocument\":" + trust + ",\"RolePolicyList\":" + policies
                + ",\"AttachedManagedPolicies\":[]}");
    }

    /** What the provider makes of a bucket of which nothing is said. */
    private static Map<String, String> newBucket() {
        Map<String, String> answers = new LinkedHashMap<>();
        answers.put("bucket-location " + BUCKET, found("{\"LocationConstraint\":\"eu-west-1\"}"));
        answers.put(
                "bucket-public-access " + BUCKET,
                found("{\"PublicAccessBlockConfiguration\":" + block(true, true, true, true) + "}"));
        answers.put(
                "bucket-ownership " + BUCKET,
                found("{\"OwnershipControls\":{\"Rules\":[{\"ObjectOwnership\":\"BucketOwnerEnforced\"}]}}"));
        answers.put("bucket-acl " + BUCKET, found("{\"Owner\":{\"ID\":\"me\"},\"Grants\":[]}"));
        answers.put(
                "bucket-encryption " + BUCKET,
                found("{\"ServerSideEncryptionConfiguration\":{\"Rules\":[{\"ApplyServerSideEncryptionByDefault\":"
                        + "{\"SSEAlgorithm\":\"AES256\"},\"BucketKeyEnabled\":false}]}}"));
        answers.put("bucket-versioning " + BUCKET, found("{}"));
        answers.put("bucket-logging " + BUCKET, found("{}"));
        answers.put("bucket-payer " + BUCKET, found("{\"Payer\":\"BucketOwner\"}"));
        answers.put("bucket-policy " + BUCKET, absent("NoSuchBucketPolicy"));
        answers.put("bucket-website " + BUCKET, absent("NoSuchWebsiteConfiguration"));
        answers.put("bucket-lifecycle " + BUCKET, absent("NoSuchLifecycleConfiguration"));
        answers.put("bucket-cors " + BUCKET, absent("NoSuchCORSConfiguration"));
        answers.put("bucket-objects " + BUCKET, "\"unread\":{\"code\":\"AccessDenied\"}");
        return answers;
    }

    private static String block(boolean acls, boolean ignores, boolean policy, boolean restricts) {
        return "{\"BlockPublicAcls\":" + acls + ",\"IgnorePublicAcls\":" + ignores + ",\"BlockPublicPolicy\":" + policy
                + ",\"RestrictPublicBuckets\":" + restricts + "}";
    }

    // --- parts

    private static Part blocked(String name, boolean acls, boolean ignores, boolean policy, boolean restricts) {
        return new Part(
                name,
                "PublicAccessBlockConfiguration: {BlockPublicAcls: " + acls + ", IgnorePublicAcls: " + ignores
                        + ", BlockPublicPolicy: " + policy + ", RestrictPublicBuckets: " + restricts + "}\n",
                "",
                """
                resource "aws_s3_bucket_public_access_block" "site" {
                  bucket                  = aws_s3_bucket.site.id
                  block_public_acls       = %s
                  ignore_public_acls      = %s
                  block_public_policy     = %s
                  restrict_public_buckets = %s
                }
                """.formatted(acls, ignores, policy, restricts),
                Map.of(
                        "bucket-public-access " + BUCKET,
                        found("{\"PublicAccessBlockConfiguration\":" + block(acls, ignores, policy, restricts) + "}")));
    }

    /** A policy of statements in JSON, which is YAML and nearly the source's language as well. */
    private static Part policy(String name, String... statements) {
        String document = "{\"Version\":\"2012-10-17\",\"Statement\":[" + String.join(",", statements) + "]}";
        return new Part(
                name,
                "",
                "Policy:\n  Type: AWS::S3::BucketPolicy\n  Properties:\n    Bucket: !Ref Site\n    PolicyDocument: "
                        + document + "\n",
                "resource \"aws_s3_bucket_policy\" \"site\" {\n  bucket = aws_s3_bucket.site.id\n  policy = jsonencode("
                        + document + ")\n}\n",
                Map.of("bucket-policy " + BUCKET, found("{\"Policy\":" + quoted(document) + "}")));
    }

    private static String quoted(String text) {
        return "\"" + text.replace("\"", "\\\"") + "\"";
    }

    private static String allow(String principal, String action, String resource, String condition) {
        return "{\"Effect\":\"Allow\",\"Principal\":" + principal + ",\"Action\":\"" + action + "\",\"Resource\":\""
                + resource + "\"" + condition + "}";
    }

    private static Part publisher(String name, String statement, String subject) {
        String trust = "{\"Version\":\"2012-10-17\",\"Statement\":[{\"Effect\":\"Allow\",\"Principal\":{\"Federated\":"
                + "\"arn:aws:iam::" + ACCOUNT + ":oidc-provider/token.actions.githubusercontent.com\"},"
                + "\"Action\":\"sts:AssumeRoleWithWebIdentity\",\"Condition\":{\"StringEquals\":{"
                + "\"token.actions.githubusercontent.com:aud\":\"sts.amazonaws.com\"},\"StringLike\":{"
                + "\"token.actions.githubusercontent.com:sub\":\"" + subject + "\"}}}]}";
        String policy = "{\"Version\":\"2012-10-17\",\"Statement\":[" + statement + "]}";
        return new Part(
                name,
                "",
                "Role:\n  Type: AWS::IAM::Role\n  Properties:\n    RoleName: tides-publisher\n"
                        + "    AssumeRolePolicyDocument: " + trust
                        + "\n    Policies: [{PolicyName: publish, PolicyDocument: " + policy + "}]\n",
                "resource \"aws_iam_role\" \"publisher\" {\n  name               = \"tides-publisher\"\n"
                        + "  assume_role_policy = jsonencode(" + trust + ")\n}\n"
                        + "resource \"aws_iam_role_policy\" \"publish\" {\n  name   = \"publish\"\n"
                        + "  role   = aws_iam_role.publisher.name\n  policy = jsonencode(" + policy + ")\n}\n",
                Map.of(
                        "iam-role " + PUBLISHER,
                        role(
                                "tides-publisher",
                                trust,
                                "[{\"PolicyName\":\"publish\",\"PolicyDocument\":" + policy + "}]")));
    }

    /** An edge before the bucket, with a control of its own. */
    private static Part edge(String name, String viewers, String root, boolean answersErrors) {
        String errors = answersErrors ? "{ErrorCode: 403, ResponseCode: 404, ResponsePagePath: /404.html}" : "";
        String origin = "tides-content.s3.eu-west-1.amazonaws.com";
        return new Part(
                name,
                "",
                """
                Control:
                  Type: AWS::CloudFront::OriginAccessControl
                  Properties:
                    OriginAccessControlConfig: {Name: tides, OriginAccessControlOriginType: s3, SigningBehavior: always, SigningProtocol: sigv4}
                Edge:
                  Type: AWS::CloudFront::Distribution
                  Properties:
                    DistributionConfig:
                      Enabled: true
                      DefaultRootObject: '%s'
                      Origins:
                        - Id: content
                          DomainName: !GetAtt Site.RegionalDomainName
                          OriginAccessControlId: !GetAtt Control.Id
                          S3OriginConfig: {OriginAccessIdentity: ''}
                      DefaultCacheBehavior:
                        TargetOriginId: content
                        ViewerProtocolPolicy: %s
                        CachePolicyId: 658327ea-f89d-4fab-a63d-7e88639e58f6
                      CustomErrorResponses: [%s]
                """.formatted(root, viewers, errors),
                """
                resource "aws_cloudfront_origin_access_control" "site" {
                  name                              = "tides"
                  origin_access_control_origin_type = "s3"
                  signing_behavior                  = "always"
                  signing_protocol                  = "sigv4"
                }
                resource "aws_cloudfront_distribution" "site" {
                  enabled             = true
                  default_root_object = "%s"
                  origin {
                    origin_id                = "content"
                    domain_name              = aws_s3_bucket.site.bucket_regional_domain_name
                    origin_access_control_id = aws_cloudfront_origin_access_control.site.id
                  }
                  default_cache_behavior {
                    target_origin_id       = "content"
                    viewer_protocol_policy = "%s"
                    allowed_methods        = ["GET", "HEAD"]
                    cached_methods         = ["GET", "HEAD"]
                    cache_policy_id        = "658327ea-f89d-4fab-a63d-7e88639e58f6"
                  }
                  %s
                  restrictions {
                    geo_restriction { restriction_type = "none" }
                  }
                  viewer_certificate { cloudfront_default_certificate = true }
                }
                """.formatted(
                                root,
                                viewers,
                                answersErrors
                                        ? "custom_error_response {\n    error_code = 403\n    response_code = 404\n"
                                                + "    response_page_path = \"/404.html\"\n  }"
                                        : ""),
                Map.of(
                        "origin-control origin-access-control/E2CONTROL",
                        found(
                                "{\"OriginAccessControl\":{\"Id\":\"E2CONTROL\",\"OriginAccessControlConfig\":{\"Name\":\"tides\","
                                        + "\"SigningProtocol\":\"sigv4\",\"SigningBehavior\":\"always\","
                                        + "\"OriginAccessControlOriginType\":\"s3\"}}}"),
                        "distribution " + EDGE,
                        found("{\"Distribution\":{\"Id\":\"E1TIDES\",\"ARN\":\"" + EDGE
                                + "\",\"Status\":\"Deployed\",\"DomainName\":\"d1tides.cloudfront.net\","
                                + "\"DistributionConfig\":{\"Aliases\":{\"Quantity\":0},\"DefaultRootObject\":\"" + root
                                + "\",\"Origins\":{\"Quantity\":1,\"Items\":[{\"Id\":\"content\",\"DomainName\":\""
                                + origin + "\",\"OriginPath\":\"\",\"CustomHeaders\":{\"Quantity\":0},"
                                + "\"S3OriginConfig\":{\"OriginAccessIdentity\":\"\"},\"OriginAccessControlId\":\"E2CONTROL\"}]},"
                                + "\"DefaultCacheBehavior\":{\"TargetOriginId\":\"content\",\"ViewerProtocolPolicy\":\""
                                + viewers + "\",\"AllowedMethods\":{\"Quantity\":2,\"Items\":[\"HEAD\",\"GET\"],"
                                + "\"CachedMethods\":{\"Quantity\":2,\"Items\":[\"HEAD\",\"GET\"]}},\"Compress\":false,"
                                + "\"CachePolicyId\":\"658327ea-f89d-4fab-a63d-7e88639e58f6\","
                                + "\"LambdaFunctionAssociations\":{\"Quantity\":0},\"FunctionAssociations\":{\"Quantity\":0}},"
                                + "\"CacheBehaviors\":{\"Quantity\":0},\"CustomErrorResponses\":"
                                + (answersErrors
                                        ? "{\"Quantity\":1,\"Items\":[{\"ErrorCode\":403,\"ResponsePagePath\":\"/404.html\","
                                                + "\"ResponseCode\":\"404\",\"ErrorCachingMinTTL\":10}]}"
                                        : "{\"Quantity\":0}")
                                + ",\"Logging\":{\"Enabled\":false,\"IncludeCookies\":false,\"Bucket\":\"\",\"Prefix\":\"\"},"
                                + "\"PriceClass\":\"PriceClass_All\",\"Enabled\":true,\"ViewerCertificate\":"
                                + "{\"CloudFrontDefaultCertificate\":true,\"MinimumProtocolVersion\":\"TLSv1\"},"
                                + "\"Restrictions\":{\"GeoRestriction\":{\"RestrictionType\":\"none\",\"Quantity\":0}},"
                                + "\"HttpVersion\":\"http2\",\"IsIPV6Enabled\":false}}}")));
    }

    private static final Part OPEN = blocked("no block", false, false, false, false);
    private static final Part HALF = blocked("half a block", true, true, false, false);
    private static final Part PUBLIC = policy("everybody reads", allow("\"*\"", "s3:GetObject", BUCKET + "/*", ""));
    private static final Part PUBLIC_TLS = policy(
            "everybody reads by TLS",
            allow(
                    "\"*\"",
                    "s3:GetObject",
                    BUCKET + "/*",
                    ",\"Condition\":{\"Bool\":{\"aws:SecureTransport\":\"true\"}}"));
    private static final Part WRITES =
            policy("everybody writes", allow("{\"AWS\":\"*\"}", "s3:PutObject", BUCKET + "/*", ""));
    private static final Part LISTS = policy("everybody lists", allow("\"*\"", "s3:ListBucket", BUCKET, ""));
    private static final Part STRANGER = policy(
            "another account reads",
            allow("{\"AWS\":\"arn:aws:iam::109876543210:root\"}", "s3:GetObject", BUCKET + "/*", ""));
    private static final Part ANY_EDGE = policy(
            "any edge reads", allow("{\"Service\":\"cloudfront.amazonaws.com\"}", "s3:GetObject", BUCKET + "/*", ""));
    private static final Part OWN_EDGE = new Part(
            "the own edge reads",
            "",
            """
            Policy:
              Type: AWS::S3::BucketPolicy
              Properties:
                Bucket: !Ref Site
                PolicyDocument:
                  Version: '2012-10-17'
                  Statement:
                    - Effect: Allow
                      Principal: {Service: cloudfront.amazonaws.com}
                      Action: s3:GetObject
                      Resource: !Sub '${Site.Arn}/*'
                      Condition: {StringEquals: {'AWS:SourceArn': !Sub 'arn:aws:cloudfront::${AWS::AccountId}:distribution/${Edge}'}}
            """,
            """
            data "aws_iam_policy_document" "site" {
              statement {
                actions   = ["s3:GetObject"]
                resources = ["${aws_s3_bucket.site.arn}/*"]
                principals {
                  type        = "Service"
                  identifiers = ["cloudfront.amazonaws.com"]
                }
                condition {
                  test     = "StringEquals"
                  variable = "AWS:SourceArn"
                  values   = [aws_cloudfront_distribution.site.arn]
                }
              }
            }
            resource "aws_s3_bucket_policy" "site" {
              bucket = aws_s3_bucket.site.id
              policy = data.aws_iam_policy_document.site.json
            }
            """,
            Map.of(
                    "bucket-policy " + BUCKET,
                    found("{\"Policy\":"
                            + quoted("{\"Version\":\"2012-10-17\",\"Statement\":["
                                    + allow(
                                            "{\"Service\":\"cloudfront.amazonaws.com\"}",
                                            "s3:GetObject",
                                            BUCKET + "/*",
                                            ",\"Condition\":{\"StringEquals\":{\"AWS:SourceArn\":\"" + EDGE + "\"}}")
                                    + "]}")
                            + "}")));
    private static final Part HOSTED = new Part(
            "hosting",
            "WebsiteConfiguration: {IndexDocument: index.html, ErrorDocument: 404.html}\n",
            "",
            """
            resource "aws_s3_bucket_website_configuration" "site" {
              bucket = aws_s3_bucket.site.id
              index_document { suffix = "index.html" }
              error_document { key = "404.html" }
            }
            """,
            Map.of(
                    "bucket-website " + BUCKET,
                    found("{\"IndexDocument\":{\"Suffix\":\"index.html\"},\"ErrorDocument\":{\"Key\":\"404.html\"}}")));
    private static final Part HOSTED_MASKED = new Part(
            "hosting with the index as error page",
            "WebsiteConfiguration: {IndexDocument: index.html, ErrorDocument: index.html}\n",
            "",
            """
            resource "aws_s3_bucket_website_configuration" "site" {
              bucket = aws_s3_bucket.site.id
              index_document { suffix = "index.html" }
              error_document { key = "index.html" }
            }
            """,
            Map.of(
                    "bucket-website " + BUCKET,
                    found(
                            "{\"IndexDocument\":{\"Suffix\":\"index.html\"},\"ErrorDocument\":{\"Key\":\"index.html\"}}")));
    private static final Part REDIRECTS = new Part(
            "redirect to plain HTTP",
            "WebsiteConfiguration: {RedirectAllRequestsTo: {HostName: www.heronferry.example, Protocol: http}}\n",
            "",
            """
            resource "aws_s3_bucket_website_configuration" "site" {
              bucket = aws_s3_bucket.site.id
              redirect_all_requests_to {
                host_name = "www.heronferry.example"
                protocol  = "http"
              }
            }
            """,
            Map.of(
                    "bucket-website " + BUCKET,
                    found(
                            "{\"RedirectAllRequestsTo\":{\"HostName\":\"www.heronferry.example\",\"Protocol\":\"http\"}}")));
    private static final Part VERSIONS = new Part(
            "versions",
            "VersioningConfiguration: {Status: Enabled}\n",
            "",
            """
            resource "aws_s3_bucket_versioning" "site" {
              bucket = aws_s3_bucket.site.id
              versioning_configuration { status = "Enabled" }
            }
            """,
            Map.of("bucket-versioning " + BUCKET, found("{\"Status\":\"Enabled\"}")));
    private static final Part ENDS = new Part(
            "old versions end",
            "LifecycleConfiguration: {Rules: [{Id: old, Status: Enabled, NoncurrentVersionExpiration: {NoncurrentDays: 30}}]}\n",
            "",
            """
            resource "aws_s3_bucket_lifecycle_configuration" "site" {
              bucket = aws_s3_bucket.site.id
              rule {
                id     = "old"
                status = "Enabled"
                filter {}
                noncurrent_version_expiration { noncurrent_days = 30 }
              }
            }
            """,
            Map.of(
                    "bucket-lifecycle " + BUCKET,
                    found("{\"Rules\":[{\"ID\":\"old\",\"Status\":\"Enabled\",\"Filter\":{\"Prefix\":\"\"},"
                            + "\"NoncurrentVersionExpiration\":{\"NoncurrentDays\":30}}]}")));
    private static final Part ALL_ENDS = new Part(
            "all objects end",
            "LifecycleConfiguration: {Rules: [{Id: all, Status: Enabled, ExpirationInDays: 90}]}\n",
            "",
            """
            resource "aws_s3_bucket_lifecycle_configuration" "site" {
              bucket = aws_s3_bucket.site.id
              rule {
                id     = "all"
                status = "Enabled"
                filter { prefix = "" }
                expiration { days = 90 }
              }
            }
            """,
            Map.of(
                    "bucket-lifecycle " + BUCKET,
                    found("{\"Rules\":[{\"ID\":\"all\",\"Status\":\"Enabled\",\"Filter\":{\"Prefix\":\"\"},"
                            + "\"Expiration\":{\"Days\":90}}]}")));
    private static final Part LOGS = new Part(
            "logs of its own",
            "LoggingConfiguration: {DestinationBucketName: harbour-logs, LogFilePrefix: tides/}\n",
            "",
            """
            resource "aws_s3_bucket_logging" "site" {
              bucket        = aws_s3_bucket.site.id
              target_bucket = "harbour-logs"
              target_prefix = "tides/"
            }
            """,
            Map.of(
                    "bucket-logging " + BUCKET,
                    found("{\"LoggingEnabled\":{\"TargetBucket\":\"harbour-logs\",\"TargetPrefix\":\"tides/\"}}")));
    private static final Part CORS = new Part(
            "any origin may change things",
            "CorsConfiguration: {CorsRules: [{AllowedMethods: [GET, PUT], AllowedOrigins: ['*'], AllowedHeaders: ['*']}]}\n",
            "",
            """
            resource "aws_s3_bucket_cors_configuration" "site" {
              bucket = aws_s3_bucket.site.id
              cors_rule {
                allowed_methods = ["GET", "PUT"]
                allowed_origins = ["*"]
                allowed_headers = ["*"]
              }
            }
            """,
            Map.of(
                    "bucket-cors " + BUCKET,
                    found("{\"CORSRules\":[{\"AllowedHeaders\":[\"*\"],\"AllowedMethods\":[\"GET\",\"PUT\"],"
                            + "\"AllowedOrigins\":[\"*\"]}]}")));
    private static final Part WRITER = new Part(
            "writers own objects",
            "OwnershipControls: {Rules: [{ObjectOwnership: ObjectWriter}]}\n",
            "",
            """
            resource "aws_s3_bucket_ownership_controls" "site" {
              bucket = aws_s3_bucket.site.id
              rule { object_ownership = "ObjectWriter" }
            }
            """,
            Map.of(
                    "bucket-ownership " + BUCKET,
                    found("{\"OwnershipControls\":{\"Rules\":[{\"ObjectOwnership\":\"ObjectWriter\"}]}}")));
    private static final Part NARROW = publisher(
            "a narrow publisher",
            "{\"Effect\":\"Allow\",\"Action\":[\"s3:PutObject\",\"s3:DeleteObject\"],\"Resource\":\"" + BUCKET
                    + "/*\"}," + "{\"Effect\":\"Allow\",\"Action\":\"s3:ListBucket\",\"Resource\":\"" + BUCKET + "\"}",
            "repo:heron-sound-ferries/tides:ref:refs/heads/main");
    private static final Part WIDE = publisher(
            "a publisher that may do anything",
            "{\"Effect\":\"Allow\",\"Action\":\"*\",\"Resource\":\"*\"}",
            "repo:heron-sound-ferries/tides:ref:refs/heads/main");
    private static final Part TRUSTING = publisher(
            "a publisher that trusts any branch",
            "{\"Effect\":\"Allow\",\"Action\":\"s3:*\",\"Resource\":[\"" + BUCKET + "\",\"" + BUCKET + "/*\"]}",
            "repo:heron-sound-ferries/*");
    private static final Part EDGE_GOOD = edge("an edge", "redirect-to-https", "index.html", true);
    private static final Part EDGE_PLAIN = edge("an edge over plain HTTP", "allow-all", "", false);

    static Stream<Setup> all() {
        List<List<Part>> all = new ArrayList<>();
        all.add(List.of());
        for (Part part : List.of(
                OPEN,
                HALF,
                PUBLIC,
                WRITES,
                LISTS,
                STRANGER,
                ANY_EDGE,
                HOSTED,
                HOSTED_MASKED,
                REDIRECTS,
                VERSIONS,
                ENDS,
                ALL_ENDS,
                LOGS,
                CORS,
                WRITER,
                NARROW,
                WIDE,
                TRUSTING,
                EDGE_GOOD,
                EDGE_PLAIN)) {
            all.add(List.of(part));
        }
        all.add(List.of(OPEN, PUBLIC));
        all.add(List.of(OPEN, PUBLIC_TLS, HOSTED));
        all.add(List.of(HALF, PUBLIC, HOSTED));
        all.add(List.of(OPEN, WRITES));
        all.add(List.of(OPEN, LISTS, VERSIONS));
        all.add(List.of(OPEN, PUBLIC, HOSTED_MASKED, NARROW));
        all.add(List.of(OPEN, REDIRECTS));
        all.add(List.of(STRANGER, OPEN));
        all.add(List.of(EDGE_GOOD, OWN_EDGE));
        all.add(List.of(EDGE_GOOD, ANY_EDGE, VERSIONS, ENDS));
        all.add(List.of(EDGE_GOOD, OWN_EDGE, VERSIONS, ENDS, NARROW, LOGS));
        all.add(List.of(EDGE_PLAIN, OPEN, PUBLIC, HOSTED));
        all.add(List.of(EDGE_PLAIN, OWN_EDGE, WIDE));
        all.add(List.of(EDGE_GOOD, OWN_EDGE, TRUSTING, WRITER, CORS));
        all.add(List.of(VERSIONS, ENDS, OPEN, PUBLIC, HOSTED, WRITER));
        return all.stream().map(Setup::new);
    }
}
