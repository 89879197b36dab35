package warden.gather.aws.template;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What a template and a source say of one thing, each in its own words, comes to the same reading: that of the call. */
class BothLanguagesTest {
    /**
     * One thing that is said.
     *
     * @param properties of the template's resource
     * @param source the body of the source's resource
     * @param expected a part of the reading
     */
    private record Said(
            String name,
            String type,
            String properties,
            String sourceType,
            String source,
            String aspect,
            String expected) {
        @Override
        public String toString() {
            return name;
        }
    }

    private static Said bucket(
            String name, String properties, String sourceType, String source, String aspect, String expected) {
        return new Said(
                name,
                "AWS::S3::Bucket",
                "BucketName: heron-site\n" + properties,
                sourceType,
                "bucket = \"heron-site\"\n" + source,
                aspect,
                expected);
    }

    private static Stream<Said> buckets() {
        return Stream.of(
                bucket(
                        "a block",
                        "PublicAccessBlockConfiguration: {BlockPublicAcls: true, RestrictPublicBuckets: true}",
                        "aws_s3_bucket_public_access_block",
                        "block_public_acls = true\nrestrict_public_buckets = true",
                        "bucket-public-access",
                        "{\"BlockPublicAcls\":true,\"IgnorePublicAcls\":false,\"BlockPublicPolicy\":false,\"RestrictPublicBuckets\":true}"),
                bucket(
                        "ownership",
                        "OwnershipControls: {Rules: [{ObjectOwnership: ObjectWriter}]}",
                        "aws_s3_bucket_ownership_controls",
                        "rule { object_ownership = \"ObjectWriter\" }",
                        "bucket-ownership",
                        "\"ObjectOwnership\":\"ObjectWriter\""),
                bucket(
                        "an access list",
                        "AccessControl: PublicRead",
                        "aws_s3_bucket_acl",
                        "acl = \"public-read\"",
                        "bucket-acl",
                        "groups/global/AllUsers\"},\"Permission\":\"READ\""),
                bucket(
                        "a website",
                        "WebsiteConfiguration: {IndexDocument: index.html, ErrorDocument: 404.html}",
                        "aws_s3_bucket_website_configuration",
                        "index_document { suffix = \"index.html\" }\nerror_document { key = \"404.html\" }",
                        "bucket-website",
                        "{\"IndexDocument\":{\"Suffix\":\"index.html\"},\"ErrorDocument\":{\"Key\":\"404.html\"}}"),
                bucket(
                        "a redirect of everything",
                        "WebsiteConfiguration: {RedirectAllRequestsTo: {HostName: www.heronferry.example, Protocol: https}}",
                        "aws_s3_bucket_website_configuration",
                        "redirect_all_requests_to {\nhost_name = \"www.heronferry.example\"\nprotocol = \"https\"\n}",
                        "bucket-website",
                        "{\"HostName\":\"www.heronferry.example\",\"Protocol\":\"https\"}"),
                bucket(
                        "routing rules",
                        "WebsiteConfiguration: {IndexDocument: i, RoutingRules: [{RoutingRuleCondition: {KeyPrefixEquals: old/}, RedirectRule: {ReplaceKeyPrefixWith: new/}}]}",
                        "aws_s3_bucket_website_configuration",
                        "index_document { suffix = \"i\" }\nrouting_rule {\ncondition { key_prefix_equals = \"old/\" }\nredirect { replace_key_prefix_with = \"new/\" }\n}",
                        "bucket-website",
                        "{\"Condition\":{\"KeyPrefixEquals\":\"old/\"},\"Redirect\":{\"ReplaceKeyPrefixWith\":\"new/\"}}"),
                bucket(
                        "versioning",
                        "VersioningConfiguration: {Status: Enabled}",
                        "aws_s3_bucket_versioning",
                        "versioning_configuration { status = \"Enabled\" }",
                        "bucket-versioning",
                        "{\"Status\":\"Enabled\"}"),
                bucket(
                        "a customer's key",
                        "BucketEncryption: {ServerSideEncryptionConfiguration: [{BucketKeyEnabled: true, ServerSideEncryptionByDefault: {SSEAlgorithm: 'aws:kms', KMSMasterKeyID: abc}}]}",
                        "aws_s3_bucket_server_side_encryption_configuration",
                        "rule {\nbucket_key_enabled = true\napply_server_side_encryption_by_default {\nsse_algorithm = \"aws:kms\"\nkms_master_key_id = \"abc\"\n}\n}",
                        "bucket-encryption",
                        "\"SSEAlgorithm\":\"aws:kms\",\"KMSMasterKeyID\":\"abc\"},\"BucketKeyEnabled\":true"),
                bucket(
                        "the life of objects",
                        "LifecycleConfiguration: {Rules: [{Id: a, Status: Enabled, Prefix: x/, ExpirationInDays: 30, NoncurrentVersionExpiration: {NoncurrentDays: 5}, AbortIncompleteMultipartUpload: {DaysAfterInitiation: 7}}]}",
                        "aws_s3_bucket_lifecycle_configuration",
                        "rule {\nid = \"a\"\nstatus = \"Enabled\"\nfilter { prefix = \"x/\" }\nexpiration { days = 30 }\nnoncurrent_version_expiration { noncurrent_days = 5 }\nabort_incomplete_multipart_upload { days_after_initiation = 7 }\n}",
                        "bucket-lifecycle",
                        "\"Expiration\":{\"Days\":30}"),
                bucket(
                        "a log",
                        "LoggingConfiguration: {DestinationBucketName: heron-logs, LogFilePrefix: site/}",
                        "aws_s3_bucket_logging",
                        "target_bucket = \"heron-logs\"\ntarget_prefix = \"site/\"",
                        "bucket-logging",
                        "{\"TargetBucket\":\"heron-logs\",\"TargetPrefix\":\"site/\"}"),
                bucket(
                        "what scripts of other sites may ask",
                        "CorsConfiguration: {CorsRules: [{AllowedMethods: [GET], AllowedOrigins: ['*'], AllowedHeaders: [x], ExposedHeaders: [y], MaxAge: 60}]}",
                        "aws_s3_bucket_cors_configuration",
                        "cors_rule {\nallowed_methods = [\"GET\"]\nallowed_origins = [\"*\"]\nallowed_headers = [\"x\"]\nexpose_headers = [\"y\"]\nmax_age_seconds = 60\n}",
                        "bucket-cors",
                        "\"AllowedOrigins\":[\"*\"],\"ExposeHeaders\":[\"y\"],\"MaxAgeSeconds\":60"));
    }

    private static Said policy(String name, String statement, String source, String expected) {
        return new Said(
                name,
                "AWS::S3::BucketPolicy",
                "Bucket: heron-site\nPolicyDocument: {Version: '2012-10-17', Statement: [" + statement + "]}",
                "aws_s3_bucket_policy",
                "bucket = \"heron-site\"\npolicy = jsonencode({ Version = \"2012-10-17\", Statement = [" + source
                        + "] })",
                "bucket-policy",
                expected);
    }

    private static Stream<Said> policies() {
        return Stream.of(
                policy(
                        "a grant",
                        "{Effect: Allow, Principal: '*', Action: 's3:GetObject', Resource: 'arn:aws:s3:::heron-site/*'}",
                        "{ Effect = \"Allow\", Principal = \"*\", Action = \"s3:GetObject\", Resource = \"arn:aws:s3:::heron-site/*\" }",
                        "\\\"Principal\\\":\\\"*\\\",\\\"Action\\\":\\\"s3:GetObject\\\""),
                policy(
                        "a condition",
                        "{Effect: Deny, Principal: '*', Action: 's3:*', Resource: '*', Condition: {Bool: {'aws:SecureTransport': 'false'}}}",
                        "{ Effect = \"Deny\", Principal = \"*\", Action = \"s3:*\", Resource = \"*\", Condition = { Bool = { \"aws:SecureTransport\" = \"false\" } } }",
                        "{\\\"Bool\\\":{\\\"aws:SecureTransport\\\":\\\"false\\\"}}"));
    }

    private static Said identity(
            String name,
            String type,
            String properties,
            String sourceType,
            String source,
            String aspect,
            String expected) {
        return new Said(name, type, properties, sourceType, source, aspect, expected);
    }

    private static Stream<Said> identities() {
        return Stream.of(
                identity(
                        "a role",
                        "AWS::IAM::Role",
                        "RoleName: publisher\nPath: /site/\nAssumeRolePolicyDocument: {Statement: []}\nPermissionsBoundary: arn:aws:iam::210987654321:policy/edge",
                        "aws_iam_role",
                        "name = \"publisher\"\npath = \"/site/\"\nassume_role_policy = jsonencode({ Statement = [] })\npermissions_boundary = \"arn:aws:iam::210987654321:policy/edge\"",
                        "iam-role",
                        "\"PermissionsBoundaryArn\":\"arn:aws:iam::210987654321:policy/edge\""),
                identity(
                        "a role with a policy of its own",
                        "AWS::IAM::Role",
                        "RoleName: publisher\nAssumeRolePolicyDocument: {Statement: []}\nPolicies: [{PolicyName: p, PolicyDocument: {Statement: [{Effect: Allow, Action: 's3:*', Resource: '*'}]}}]",
                        "aws_iam_role",
                        "name = \"publisher\"\nassume_role_policy = jsonencode({ Statement = [] })\ninline_policy {\nname = \"p\"\npolicy = jsonencode({ Statement = [{ Effect = \"Allow\", Action = \"s3:*\", Resource = \"*\" }] })\n}",
                        "iam-role",
                        "{\"PolicyName\":\"p\",\"PolicyDocument\":{\"Statement\":[{\"Effect\":\"Allow\",\"Action\":\"s3:*\",\"Resource\":\"*\"}]}}"),
                identity(
                        "a role with the provider's policy",
                        "AWS::IAM::Role",
                        "RoleName: publisher\nAssumeRolePolicyDocument: {Statement: []}\nManagedPolicyArns: ['arn:aws:iam::aws:policy/AmazonS3FullAccess']",
                        "aws_iam_role",
                        "name = \"publisher\"\nassume_role_policy = jsonencode({ Statement = [] })\nmanaged_policy_arns = [\"arn:aws:iam::aws:policy/AmazonS3FullAccess\"]",
                        "iam-role",
                        "{\"PolicyName\":\"AmazonS3FullAccess\",\"PolicyArn\":\"arn:aws:iam::aws:policy/AmazonS3FullAccess\"}"),
                identity(
                        "a policy by itself",
                        "AWS::IAM::ManagedPolicy",
                        "ManagedPolicyName: writes\nPolicyDocument: {Statement: [{Effect: Allow, Action: 's3:PutObject', Resource: '*'}]}",
                        "aws_iam_policy",
                        "name = \"writes\"\npolicy = jsonencode({ Statement = [{ Effect = \"Allow\", Action = \"s3:PutObject\", Resource = \"*\" }] })",
                        "iam-policy",
                        "\"Action\":\"s3:PutObject\""),
                identity(
                        "a provider of identities",
                        "AWS::IAM::OIDCProvider",
                        "Url: 'https://token.actions.githubusercontent.com'\nClientIdList: [sts.amazonaws.com]\nThumbprintList: [aa]",
                        "aws_iam_openid_connect_provider",
                        "url = \"https://token.actions.githubusercontent.com\"\nclient_id_list = [\"sts.amazonaws.com\"]\nthumbprint_list = [\"aa\"]",
                        "oidc-provider",
                        "\"ClientIDList\":[\"sts.amazonaws.com\"]"));
    }

    private static Said edge(String name, String properties, String source, String expected) {
        return new Said(
                name,
                "AWS::CloudFront::Distribution",
                "DistributionConfig:\n  Enabled: true\n  Origins: [{Id: o, DomainName: heron-site.s3.amazonaws.com}]\n  "
                        + properties.replace("\n", "\n  "),
                "aws_cloudfront_distribution",
                "enabled = true\norigin {\norigin_id = \"o\"\ndomain_name = \"heron-site.s3.amazonaws.com\"\n}\n"
                        + source,
                "distribution",
                expected);
    }

    private static Stream<Said> edges() {
        String usual = "DefaultCacheBehavior: {TargetOriginId: o, ViewerProtocolPolicy: allow-all}";
        String usually =
                "default_cache_behavior {\ntarget_origin_id = \"o\"\nviewer_protocol_policy = \"allow-all\"\n}\n";
        return Stream.of(
                edge(
                        "hosts and the page at the root",
                        "Aliases: [www.heronferry.example]\nDefaultRootObject: index.html\nIPV6Enabled: true\n" + usual,
                        "aliases = [\"www.heronferry.example\"]\ndefault_root_object = \"index.html\"\nis_ipv6_enabled = true\n"
                                + usually,
                        "\"Aliases\":{\"Quantity\":1,\"Items\":[\"www.heronferry.example\"]},\"DefaultRootObject\":\"index.html\""),
                edge(
                        "a certificate",
                        "ViewerCertificate: {AcmCertificateArn: 'arn:aws:acm:us-east-1:210987654321:certificate/x', SslSupportMethod: sni-only, MinimumProtocolVersion: TLSv1.2_2021}\n"
                                + usual,
                        "viewer_certificate {\nacm_certificate_arn = \"arn:aws:acm:us-east-1:210987654321:certificate/x\"\nssl_support_method = \"sni-only\"\nminimum_protocol_version = \"TLSv1.2_2021\"\n}\n"
                                + usually,
                        "\"MinimumProtocolVersion\":\"TLSv1.2_2021\""),
                edge(
                        "error pages",
                        "CustomErrorResponses: [{ErrorCode: 403, ResponseCode: 404, ResponsePagePath: /404.html, ErrorCachingMinTTL: 5}]\n"
                                + usual,
                        "custom_error_response {\nerror_code = 403\nresponse_code = 404\nresponse_page_path = \"/404.html\"\nerror_caching_min_ttl = 5\n}\n"
                                + usually,
                        "{\"ErrorCode\":403,\"ResponsePagePath\":\"/404.html\",\"ResponseCode\":\"404\",\"ErrorCachingMinTTL\":5}"),
                edge(
                        "a behaviour of a path",
                        "CacheBehaviors: [{PathPattern: 'api/*', TargetOriginId: o, ViewerProtocolPolicy: https-only, AllowedMethods: [GET, HEAD, OPTIONS], Compress: true}]\n"
                                + usual,
                        "ordered_cache_behavior {\npath_pattern = \"api/*\"\ntarget_origin_id = \"o\"\nviewer_protocol_policy = \"https-only\"\nallowed_methods = [\"GET\", \"HEAD\", \"OPTIONS\"]\ncompress = true\n}\n"
                                + usually,
                        "\"PathPattern\":\"api/*\""),
                edge(
                        "what reaches the origin",
                        "DefaultCacheBehavior: {TargetOriginId: o, ViewerProtocolPolicy: allow-all, ForwardedValues: {QueryString: true, Headers: [Host], Cookies: {Forward: all}}, DefaultTTL: 60}",
                        "default_cache_behavior {\ntarget_origin_id = \"o\"\nviewer_protocol_policy = \"allow-all\"\ndefault_ttl = 60\nforwarded_values {\nquery_string = true\nheaders = [\"Host\"]\ncookies { forward = \"all\" }\n}\n}",
                        "\"ForwardedValues\":{\"QueryString\":true,\"Cookies\":{\"Forward\":\"all\"},\"Headers\":{\"Quantity\":1,\"Items\":[\"Host\"]}}"),
                edge(
                        "functions",
                        "DefaultCacheBehavior: {TargetOriginId: o, ViewerProtocolPolicy: allow-all, FunctionAssociations: [{EventType: viewer-request, FunctionARN: 'arn:aws:cloudfront::210987654321:function/f'}]}",
                        "default_cache_behavior {\ntarget_origin_id = \"o\"\nviewer_protocol_policy = \"allow-all\"\nfunction_association {\nevent_type = \"viewer-request\"\nfunction_arn = \"arn:aws:cloudfront::210987654321:function/f\"\n}\n}",
                        "\"FunctionARN\":\"arn:aws:cloudfront::210987654321:function/f\",\"EventType\":\"viewer-request\""));
    }

    static Stream<Said> all() {
        return Stream.of(buckets(), policies(), identities(), edges()).flatMap(each -> each);
    }

    /** Readings of one aspect, names of what is made here being the same. */
    private static Map<String, String> readings(Described described, String aspect) {
        Map<String, String> readings = new TreeMap<>();
        described.readings().forEach((key, reading) -> {
            if (key.startsWith(aspect + " ")) {
                readings.put(same(key), same(reading));
            }
        });
        return readings;
    }

    private static String same(String text) {
        return text.replaceAll("\\{(It|aws_[a-z0-9_]+\\.it)}", "{it}").replace(",\"Tags\":[]", "");
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("all")
    void comesToTheSame(Said said) throws Exception {
        Described template = Described.template("Resources:\n  It:\n    Type: " + said.type()
                + "\n    Properties:\n      " + said.properties().replace("\n", "\n      ") + "\n");
        Described source =
                Described.source("resource \"" + said.sourceType() + "\" \"it\" {\n" + said.source() + "\n}\n");
        Map<String, String> fromTemplate = readings(template, said.aspect());
        assertThat(fromTemplate.values())
                .anySatisfy(reading -> assertThat(reading).contains(said.expected()));
        assertThat(readings(source, said.aspect())).isEqualTo(fromTemplate);
    }
}
