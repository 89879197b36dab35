package warden.gather.aws.template;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.document.Json;

/** Settings of sources and plans: in a resource of their own or in the bucket's, changed and taken away. */
class TfSettingsTest {
    private static final String SITE = "arn:aws:s3:::heron-site";

    private static String bucket(String inside) {
        return "resource \"aws_s3_bucket\" \"site\" {\n  bucket = \"heron-site\"\n" + inside + "}\n";
    }

    private static String setting(String type, String inside) {
        return bucket("") + "resource \"" + type + "\" \"site\" {\n  bucket = aws_s3_bucket.site.id\n" + inside + "}\n";
    }

    private static String read(String source, String aspect) throws Exception {
        return Described.source(source).reading(aspect, SITE);
    }

    // --- access lists

    @Test
    void anAccessListThatIsWrittenOutIsRead() throws Exception {
        String read = read(setting("aws_s3_bucket_acl", """
                          access_control_policy {
                            owner { id = "abc" }
                            grant {
                              permission = "READ_ACP"
                              grantee {
                                type = "CanonicalUser"
                                id   = "def"
                              }
                            }
                            grant {
                              permission = "WRITE"
                              grantee {
                                type = "Group"
                                uri  = "http://acs.amazonaws.com/groups/global/AllUsers"
                              }
                            }
                          }
                        """), "bucket-acl");
        assertThat(read)
                .contains("\"Owner\":{\"ID\":\"abc\"}")
                .contains("{\"Grantee\":{\"Type\":\"CanonicalUser\",\"ID\":\"def\"},\"Permission\":\"READ_ACP\"}")
                .contains(
                        "{\"Grantee\":{\"Type\":\"Group\",\"URI\":\"http://acs.amazonaws.com/groups/global/AllUsers\"},\"Permission\":\"WRITE\"}");
    }

    @Test
    void grantsThatStandInTheBucketAreRead() throws Exception {
        String read = read(bucket("""
                          grant {
                            type        = "Group"
                            uri         = "http://acs.amazonaws.com/groups/global/AllUsers"
                            permissions = ["READ", "WRITE"]
                          }
                          grant {
                            type        = "CanonicalUser"
                            id          = "abc"
                            permissions = ["FULL_CONTROL"]
                          }
                        """), "bucket-acl");
        assertThat(read)
                .contains("AllUsers\"},\"Permission\":\"READ\"")
                .contains("AllUsers\"},\"Permission\":\"WRITE\"")
                .contains("\"ID\":\"abc\"},\"Permission\":\"FULL_CONTROL\"");
    }

    @Test
    void aGranteeThatIsNotTheStoresIsNotTold() throws Exception {
        assertThat(read(
                        bucket("  grant {\n    type = \"AmazonCustomerByEmail\"\n    permissions = [\"READ\"]\n  }\n"),
                        "bucket-acl"))
                .isEqualTo("unread");
    }

    @ParameterizedTest
    @CsvSource({
        "private, 1",
        "public-read, 2",
        "public-read-write, 3",
        "authenticated-read, 2",
        "log-delivery-write, 3",
        "bucket-owner-read, 1",
    })
    void readyMadeListsStandForTheirGrants(String word, int grants) throws Exception {
        for (String source : List.of(
                bucket("  acl = \"" + word + "\"\n"), setting("aws_s3_bucket_acl", "  acl = \"" + word + "\"\n"))) {
            assertThat(read(source, "bucket-acl").split("\"Permission\"")).hasSize(grants + 1);
        }
        assertThat(read(setting("aws_s3_bucket_acl", "  acl = \"aws-exec-read\"\n"), "bucket-acl"))
                .isEqualTo("unread");
    }

    // --- life of objects

    @Test
    void rulesThatStandInTheBucketAreRead() throws Exception {
        String read = read(bucket("""
                          lifecycle_rule {
                            id      = "old"
                            enabled = true
                            prefix  = "tides/"
                            tags    = { kind = "page" }
                            abort_incomplete_multipart_upload_days = 7
                            expiration { days = 30 }
                            noncurrent_version_expiration { days = 5 }
                            transition {
                              days          = 10
                              storage_class = "GLACIER"
                            }
                          }
                          lifecycle_rule {
                            enabled = false
                            expiration { date = "2027-01-01" }
                          }
                        """), "bucket-lifecycle");
        assertThat(read)
                .contains("\"ID\":\"old\",\"Status\":\"Enabled\"")
                .contains("\"Prefix\":\"tides/\"")
                .contains("\"Key\":\"kind\"")
                .contains("\"Expiration\":{\"Days\":30}")
                .contains("\"NoncurrentVersionExpiration\":{\"NoncurrentDays\":5}")
                .contains("\"AbortIncompleteMultipartUpload\":{\"DaysAfterInitiation\":7}")
                .contains("\"Transitions\":[{\"Days\":10,\"StorageClass\":\"GLACIER\"}]")
                .contains("\"Status\":\"Disabled\"")
                .contains("\"Date\":\"2027-01-01\"");
    }

    /** The two ways to say the same. */
    @Test
    void aRuleOfItsOwnSaysTheSame() throws Exception {
        String own = read(
                bucket(
                        "  lifecycle_rule {\n    id = \"a\"\n    enabled = true\n    prefix = \"x/\"\n    expiration { days = 30 }\n  }\n"),
                "bucket-lifecycle");
        String other = read(
                setting(
                        "aws_s3_bucket_lifecycle_configuration",
                        "  rule {\n    id = \"a\"\n    status = \"Enabled\"\n    filter { prefix = \"x/\" }\n    expiration { days = 30 }\n  }\n"),
                "bucket-lifecycle");
        assertThat(own).isEqualTo(other).contains("\"Days\":30");
    }

    // --- other settings that stand in the bucket

    @Test
    void settingsOfOlderDaysAreRead() throws Exception {
        Described described = Described.source(bucket("""
                  request_payer = "Requester"
                  policy        = jsonencode({ Statement = [{ Effect = "Allow", Principal = "*", Action = "s3:GetObject", Resource = "*" }] })
                  website {
                    index_document = "index.html"
                    error_document = "404.html"
                  }
                  versioning { enabled = true }
                  logging {
                    target_bucket = "heron-logs"
                    target_prefix = "site/"
                  }
                  cors_rule {
                    allowed_methods = ["GET"]
                    allowed_origins = ["https://heronferry.example"]
                    max_age_seconds = 300
                  }
                  server_side_encryption_configuration {
                    rule {
                      apply_server_side_encryption_by_default { sse_algorithm = "aws:kms" }
                    }
                  }
                """));
        assertThat(described.reading("bucket-payer", SITE)).contains("Requester");
        assertThat(described.reading("bucket-policy", SITE)).contains("s3:GetObject");
        assertThat(described.reading("bucket-website", SITE))
                .contains("\"Suffix\":\"index.html\"")
                .contains("404.html");
        assertThat(described.reading("bucket-versioning", SITE)).contains("Enabled");
        assertThat(described.reading("bucket-logging", SITE)).contains("\"TargetPrefix\":\"site/\"");
        assertThat(described.reading("bucket-cors", SITE)).contains("\"MaxAgeSeconds\":300");
        assertThat(described.reading("bucket-encryption", SITE)).contains("aws:kms");
    }

    /** What a resource of its own says counts, whatever the bucket's says. */
    @Test
    void aResourceOfItsOwnCounts() throws Exception {
        String source = bucket("  acl = \"public-read-write\"\n") + """
                resource "aws_s3_bucket_acl" "site" {
                  bucket = aws_s3_bucket.site.id
                  acl    = "private"
                }
                """;
        assertThat(read(source, "bucket-acl")).doesNotContain("AllUsers");
    }

    // --- plans that take away

    private static final String LIVE = """
            {"survey":1,"provider":"aws","account":"210987654321","takenAt":"2026-11-20T06:30:00Z"}
            {"aspect":"bucket-list","of":"account","found":{"Buckets":[{"Name":"heron-site"},{"Name":"heron-logs"}]}}
            {"aspect":"bucket-location","of":"arn:aws:s3:::heron-site","found":{"LocationConstraint":"eu-west-1"}}
            {"aspect":"bucket-versioning","of":"arn:aws:s3:::heron-site","found":{"Status":"Enabled"}}
            {"aspect":"bucket-policy","of":"arn:aws:s3:::heron-site","found":{"Policy":"{}"}}
            {"aspect":"bucket-website","of":"arn:aws:s3:::heron-site","found":{"IndexDocument":{"Suffix":"a"}}}
            {"aspect":"iam-group","of":"arn:aws:iam::210987654321:group/writers","found":{"Path":"/","GroupName":"writers"}}
            {"aspect":"iam-login","of":"arn:aws:iam::210987654321:user/editor","absent":"NoSuchEntity"}
            {"aspect":"zone","of":"hostedzone/Z1","found":{"HostedZone":{"Id":"/hostedzone/Z1","Name":"heronferry.example."}}}
            {"aspect":"zone-records","of":"hostedzone/Z1","found":{"ResourceRecordSets":[{"Name":"www.heronferry.example.","Type":"A"},{"Name":"www.heronferry.example.","Type":"AAAA"},{"Name":"\\\\052.heronferry.example.","Type":"A"}],"IsTruncated":false}}
            """;

    private static Described planned(Object change, Object... resources) throws Exception {
        return Described.over(LIVE, PlanText.of(List.of(change), List.of(resources), List.of()));
    }

    private static Described deleted(String type, Map<String, Object> before) throws Exception {
        return planned(PlanText.change(type, "it", List.of("delete"), before, null, Json.object()));
    }

    @ParameterizedTest
    @CsvSource({
        "aws_s3_bucket_versioning, bucket-versioning, '{\"Status\":\"Suspended\"}'",
        "aws_s3_bucket_policy, bucket-policy, absent",
        "aws_s3_bucket_website_configuration, bucket-website, absent",
        "aws_s3_bucket_logging, bucket-logging, {}",
        "aws_s3_bucket_request_payment_configuration, bucket-payer, '{\"Payer\":\"BucketOwner\"}'",
    })
    void aSettingThatNobodyManagesAnyMoreIsTheUsualOne(String type, String aspect, String reading) throws Exception {
        assertThat(deleted(type, Json.object("bucket", "heron-site")).reading(aspect, SITE))
                .isEqualTo(reading);
    }

    @Test
    void recordsThatAreTakenAwayAreGone() throws Exception {
        Described described = deleted(
                "aws_route53_record",
                Json.object("zone_id", "Z1", "name", "www", "fqdn", "www.heronferry.example", "type", "A"));
        assertThat(described.reading("zone-records", "hostedzone/Z1"))
                .contains("\"Type\":\"AAAA\"")
                .contains("052.heronferry")
                .doesNotContain("\"www.heronferry.example.\",\"Type\":\"A\"}");
        assertThat(deleted(
                                "aws_route53_record",
                                Json.object("zone_id", "Z1", "name", "*.heronferry.example", "type", "A"))
                        .reading("zone-records", "hostedzone/Z1"))
                .doesNotContain("052.heronferry");
    }

    @Test
    void groupsThatAreTakenAwayAreGone() throws Exception {
        assertThat(deleted("aws_iam_group", Json.object("name", "writers", "path", "/"))
                        .reading("iam-group", "arn:aws:iam::210987654321:group/writers"))
                .isEqualTo("none");
    }

    /** A bucket that gets another name is another bucket. */
    @Test
    void whatGetsAnotherNameIsTakenAwayAndMade() throws Exception {
        Map<String, Object> after = Json.object("bucket", "heron-new");
        Described described = planned(
                PlanText.change(
                        "aws_s3_bucket",
                        "it",
                        List.of("delete", "create"),
                        Json.object("bucket", "heron-site"),
                        after,
                        Json.object()),
                PlanText.resource("aws_s3_bucket", "it", after));
        assertThat(described.buckets()).containsExactly("heron-new");
        assertThat(described.reading("bucket-list", "account"))
                .contains("heron-new")
                .doesNotContain("heron-site");
        assertThat(described.reading("bucket-versioning", "arn:aws:s3:::heron-new"))
                .isEqualTo("{}");
        assertThat(described.reading("bucket-policy", SITE)).isEqualTo("none");
    }

    @Test
    void aPasswordForAUserOfTheAccountIsUnread() throws Exception {
        Map<String, Object> after = Json.object("user", "editor");
        Described described = planned(
                PlanText.change("aws_iam_user_login_profile", "it", List.of("create"), null, after, Json.object()),
                PlanText.resource("aws_iam_user_login_profile", "it", after));
        assertThat(described.reading("iam-login", "arn:aws:iam::210987654321:user/editor"))
                .isEqualTo("unread");
    }

    /** A plan says to what an expression refers, and not what else it is made of. */
    @ParameterizedTest
    @CsvSource({
        "bucket_regional_domain_name, '\"DomainName\":\"{aws_s3_bucket.site}.s3.eu-west-1.amazonaws.com\"'",
        "bucket, '\"DomainName\":\"{aws_cloudfront_distribution.edge}\"'",
        "id, '\"DomainName\":\"{aws_cloudfront_distribution.edge}\"'",
    })
    void aHostIsNotMadeOfAName(String attribute, String expected) throws Exception {
        Object refers = Json.object(
                "domain_name",
                Json.object("references", List.of("aws_s3_bucket.site." + attribute, "aws_s3_bucket.site")));
        String plan = PlanText.of(
                List.of(
                        PlanText.change(
                                "aws_s3_bucket", "site", List.of("create"), null, null, Json.object("bucket", true)),
                        PlanText.change(
                                "aws_cloudfront_distribution",
                                "edge",
                                List.of("create"),
                                null,
                                null,
                                Json.object("origin", List.of(Json.object("domain_name", true))))),
                List.of(
                        PlanText.resource("aws_s3_bucket", "site", Json.object()),
                        PlanText.resource(
                                "aws_cloudfront_distribution",
                                "edge",
                                Json.object(
                                        "origin",
                                        List.of(Json.object("origin_id", "o")),
                                        "default_cache_behavior",
                                        List.of(Json.object("target_origin_id", "o"))))),
                List.of(Json.object(
                        "address",
                        "aws_cloudfront_distribution.edge",
                        "expressions",
                        Json.object("origin", List.of(refers)))));
        assertThat(Described.over(LIVE, plan).readings().entrySet().stream()
                        .filter(each -> each.getKey().startsWith("distribution "))
                        .map(Map.Entry::getValue)
                        .findFirst())
                .hasValueSatisfying(reading -> assertThat(reading).contains(expected));
    }

    /** The account's names stand wherever the description's stood, in a policy within a document too. */
    @Test
    void oneOfSeveralGoesByTheAccountsName() throws Exception {
        String live = LIVE
                + "{\"aspect\":\"distribution\",\"of\":\"arn:aws:cloudfront::210987654321:distribution/E1\",\"found\":{\"Distribution\":{\"Id\":\"E1\","
                + "\"DomainName\":\"d1.cloudfront.net\",\"DistributionConfig\":{\"Aliases\":{\"Quantity\":1,\"Items\":[\"www.heronferry.example\"]}}}}}\n";
        Described described = Described.sourceOver(live, """
                resource "aws_cloudfront_distribution" "edge" {
                  for_each = { a = "www.heronferry.example" }
                  aliases  = [each.value]
                  enabled  = true
                  origin {
                    origin_id   = "o"
                    domain_name = "heron-site.s3.amazonaws.com"
                  }
                  default_cache_behavior { target_origin_id = "o" }
                }
                resource "aws_s3_bucket_policy" "site" {
                  bucket = "heron-site"
                  policy = jsonencode({ Statement = [{ Effect = "Allow", Principal = "*", Action = "s3:GetObject", Resource = "*",
                    Condition = { StringEquals = { "AWS:SourceArn" = aws_cloudfront_distribution.edge["a"].arn } } }] })
                }
                """);
        assertThat(described.reading("distribution", "arn:aws:cloudfront::210987654321:distribution/E1"))
                .contains("\"Id\":\"E1\"")
                .contains("d1.cloudfront.net");
        assertThat(described.reading("bucket-policy", SITE))
                .contains("distribution/E1")
                .doesNotContain("{aws_");
    }

    /** In both languages, as the account would answer. */
    @Test
    void groupsOfOriginsAreRead() throws Exception {
        String source = """
                resource "aws_cloudfront_distribution" "edge" {
                  enabled = true
                  origin_group {
                    origin_id = "both"
                    failover_criteria { status_codes = [403, 404] }
                    member { origin_id = "a" }
                    member { origin_id = "b" }
                  }
                  origin {
                    origin_id   = "a"
                    domain_name = "heron-a.s3.amazonaws.com"
                  }
                  origin {
                    origin_id   = "b"
                    domain_name = "heron-b.s3.amazonaws.com"
                  }
                  default_cache_behavior { target_origin_id = "both" }
                }
                """;
        String template = """
                Resources:
                  Edge:
                    Type: AWS::CloudFront::Distribution
                    Properties:
                      DistributionConfig:
                        Enabled: true
                        OriginGroups: {Quantity: 1, Items: [{Id: both, FailoverCriteria: {StatusCodes: {Quantity: 2, Items: [403, 404]}},
                          Members: {Quantity: 2, Items: [{OriginId: a}, {OriginId: b}]}}]}
                        Origins: [{Id: a, DomainName: heron-a.s3.amazonaws.com}, {Id: b, DomainName: heron-b.s3.amazonaws.com}]
                        DefaultCacheBehavior: {TargetOriginId: both}
                """;
        String expected =
                "\"OriginGroups\":{\"Quantity\":1,\"Items\":[{\"Id\":\"both\",\"FailoverCriteria\":{\"StatusCodes\":{\"Quantity\":2,"
                        + "\"Items\":[403,404]}},\"Members\":{\"Quantity\":2,\"Items\":[{\"OriginId\":\"a\"},{\"OriginId\":\"b\"}]}}]}";
        for (Described described : List.of(Described.source(source), Described.template(template))) {
            assertThat(described.readings().values())
                    .anySatisfy(reading -> assertThat(reading).contains(expected));
        }
    }
}
