package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import warden.cli.Program.Run;

/** Surveys that are made of folders of sources. */
class SourceSurveyTest extends DescribedSurveys {
    @Test
    void aSourcesPipelinesAndManagedAppsAreRead() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                resource "aws_s3_bucket" "content" { bucket = "tides-content" }
                resource "aws_codepipeline" "tides" {
                  name     = "tides"
                  role_arn = "arn:aws:iam::210987654321:role/tides-delivery"
                  artifact_store {
                    location = "tides-artifacts"
                    type     = "S3"
                  }
                  stage {
                    name = "Deploy"
                    action {
                      name            = "Publish"
                      category        = "Deploy"
                      owner           = "AWS"
                      provider        = "S3"
                      version         = "1"
                      input_artifacts = ["built"]
                      configuration   = { BucketName = aws_s3_bucket.content.bucket, Extract = "true" }
                    }
                  }
                }
                resource "aws_amplify_app" "tides" { name = "tides" }
                resource "aws_amplify_domain_association" "tides" {
                  app_id      = aws_amplify_app.tides.id
                  domain_name = "tides.heronferry.example"
                  sub_domain {
                    branch_name = "main"
                    prefix      = "app"
                  }
                }
                """), "--region", "eu-west-1");
        assertThat(read.get("delivery-pipeline arn:aws:codepipeline:eu-west-1:210987654321:tides")
                        .toString())
                .contains("\"BucketName\":\"tides-content\"", "\"inputArtifacts\":[{\"name\":\"built\"}]");
        assertThat(read.keySet())
                .anyMatch(key ->
                        key.startsWith("managed-app-domain ") && key.endsWith("/domains/tides.heronferry.example"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "\"aws_iam_policy_attachment\" \"x\" {\n name = \"x\"\n policy_arn = \"arn:aws:iam::aws:policy/AdministratorAccess\"\n"
                        + " users = [var.which]\n}",
                "\"aws_iam_user_policy_attachment\" \"x\" {\n user = var.which\n"
                        + " policy_arn = \"arn:aws:iam::aws:policy/AdministratorAccess\"\n}",
                "\"aws_iam_user_group_membership\" \"x\" {\n user = var.which\n groups = [\"admins\"]\n}",
                "\"aws_iam_group_membership\" \"x\" {\n name = \"x\"\n group = \"admins\"\n users = [var.which]\n}",
            })
    void whoHoldsWhatIsOpenWhereNobodyTells(String resource) throws IOException {
        Map<String, JsonNode> read = sources(Map.of(
                "main.tf",
                "variable \"which\" { type = string }\nresource \"aws_iam_user\" \"u\" { name = \"crew\" }\nresource "
                        + resource));
        assertThat(read.get("iam-user arn:aws:iam::210987654321:user/crew").has("unread"))
                .isTrue();
    }

    /** A module that lies elsewhere may set whatever it likes of what it is given, and nothing of the rest. */
    @Test
    void whatAModuleThatIsNotReadIsGivenIsOpen() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                resource "aws_s3_bucket" "site" { bucket = "tides-content" }
                resource "aws_s3_bucket" "logs" { bucket = "harbour-logs" }
                resource "aws_iam_role" "publisher" {
                  name               = "tides-publisher"
                  assume_role_policy = jsonencode({ Version = "2012-10-17", Statement = [] })
                }
                module "hosting" {
                  source = "registry.example/hosting/aws"
                  origin = { bucket = aws_s3_bucket.site.id }
                  role   = aws_iam_role.publisher.name
                }
                """));
        assertThat(read.get("bucket-policy arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
        assertThat(read.get("bucket-policy arn:aws:s3:::harbour-logs").has("absent"))
                .isTrue();
        assertThat(read.get("iam-role arn:aws:iam::210987654321:role/tides-publisher")
                        .has("unread"))
                .isTrue();
    }

    /** What may be there in an unknown number, or is set of a bucket that is not told, is no default. */
    @Test
    void whatMayBeThereIsNotTold() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                variable "keeps" { type = bool }
                variable "which" { type = string }
                resource "aws_s3_bucket" "site" { bucket = "tides-content" }
                resource "aws_s3_bucket_versioning" "site" {
                  count  = var.keeps ? 1 : 0
                  bucket = aws_s3_bucket.site.id
                  versioning_configuration { status = "Enabled" }
                }
                resource "aws_s3_bucket_policy" "any" {
                  bucket = var.which
                  policy = jsonencode({ Version = "2012-10-17", Statement = [] })
                }
                """));
        assertThat(read.get("bucket-versioning arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
        assertThat(read.get("bucket-policy arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
    }

    /** The language's JSON form says the same, and override files have the last word. */
    @Test
    void sourcesInJsonAndOverridesAreRead() throws IOException {
        Map<String, JsonNode> read = sources(
                Map.of("main.tf.json", """
                {
                  "//": "made by a program",
                  "variable": {"stage": {"default": "test"}},
                  "locals": {"name": "tides-${var.stage}"},
                  "resource": {
                    "aws_s3_bucket": {"site": {"bucket": "${local.name}"}},
                    "aws_s3_bucket_public_access_block": {"site": {
                      "bucket": "${aws_s3_bucket.site.id}",
                      "block_public_acls": true, "ignore_public_acls": true,
                      "block_public_policy": true, "restrict_public_buckets": true}},
                    "aws_s3_bucket_website_configuration": {"site": {
                      "bucket": "${aws_s3_bucket.site.id}",
                      "index_document": {"suffix": "index.html"},
                      "error_document": [{"key": "404.html"}]}}
                  }
                }
                """, "override.tf", """
                resource "aws_s3_bucket_public_access_block" "site" {
                  restrict_public_buckets = false
                }
                """, "terraform.tfvars.json", "{\"stage\": \"prod\"}"));
        assertThat(read.get("bucket-website arn:aws:s3:::tides-prod")
                        .path("found")
                        .toString())
                .contains("\"Suffix\":\"index.html\"", "\"Key\":\"404.html\"");
        JsonNode block = read.get("bucket-public-access arn:aws:s3:::tides-prod")
                .path("found")
                .path("PublicAccessBlockConfiguration");
        assertThat(block.path("RestrictPublicBuckets").asBoolean()).isFalse();
        assertThat(block.path("BlockPublicPolicy").asBoolean()).isTrue();
    }

    @Test
    void aSourcesLifecycleFilterIsTold() throws IOException {
        JsonNode rules = sources(Map.of("main.tf", """
                resource "aws_s3_bucket" "b" { bucket = "tides-content" }
                resource "aws_s3_bucket_lifecycle_configuration" "b" {
                  bucket = aws_s3_bucket.b.id
                  rule {
                    id     = "big"
                    status = "Enabled"
                    filter { object_size_greater_than = 1024 * 1024 }
                    expiration { days = 9 }
                  }
                  rule {
                    id     = "tagged"
                    status = "Enabled"
                    filter {
                      and {
                        prefix = "old/"
                        tags   = { kept = "no" }
                      }
                    }
                    noncurrent_version_expiration {
                      noncurrent_days           = 30
                      newer_noncurrent_versions = 5
                    }
                  }
                }
                """))
                .get("bucket-lifecycle arn:aws:s3:::tides-content")
                .path("found")
                .path("Rules");
        assertThat(rules.get(0).path("Filter").toString()).isEqualTo("{\"ObjectSizeGreaterThan\":1048576}");
        assertThat(rules.get(1).path("Filter").toString())
                .isEqualTo("{\"And\":{\"Prefix\":\"old/\",\"Tags\":[{\"Key\":\"kept\",\"Value\":\"no\"}]}}");
        assertThat(rules.get(1).path("NoncurrentVersionExpiration").toString())
                .contains("\"NewerNoncurrentVersions\":5");
    }

    /** Resources in numbers that nobody would be told one by one are one of which nothing is known. */
    @Test
    void veryManyOfAKindAreNotDroppedSilently() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                resource "aws_s3_bucket" "b" {
                  count  = 20000
                  bucket = "tides-${count.index}"
                }
                """));
        assertThat(read.keySet()).anyMatch(key -> key.startsWith("bucket-policy arn:aws:s3:::tides-{"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "\"plain\" | plain",
                "\"${var.stage}-site\" | prod-site",
                "join(\"-\", [\"a\", local.part]) | a-inner",
                "var.stage == \"prod\" ? \"live\" : \"test\" | live",
                "lookup({prod = \"from-map\"}, var.stage, \"none\") | from-map",
                "{prod = \"by-key\"}[var.stage] | by-key",
                "[\"x\", \"y\"][1] | y",
                "lower(\"UPPER\") | upper",
                "format(\"%s-%d\", \"n\", 3) | n-3",
                "replace(\"a.b\", \".\", \"-\") | a-b",
                "try(var.nothing.at.all, \"fallback\") | fallback",
                "coalesce(\"\", \"second\") | second",
                "[for n in [\"p\", \"q\"] : n if n != \"p\"][0] | q",
                "element(concat([\"one\"], [\"two\"]), 1) | two",
                "tostring(1 + 2 * 3) | 7",
                "trimsuffix(\"site.tf\", \".tf\") | site",
                "merge({a = \"old\"}, {a = \"new\"}).a | new",
                "\"$${literal}\" | ${literal}",
                "var.unset | {aws_s3_bucket.site}",
                "\"${var.unset}-site\" | {var.unset}-site"
            })
    void expressionsAreWorkedOut(String expression, String name) throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                variable "stage" { default = "prod" }
                variable "unset" {}
                locals { part = "inner" }
                resource "aws_s3_bucket" "site" {
                  bucket = %s
                }
                resource "aws_s3_bucket_versioning" "site" {
                  bucket = aws_s3_bucket.site.id
                  versioning_configuration { status = "Enabled" }
                }
                """.formatted(expression)));
        assertThat(read.keySet()).contains("bucket-policy arn:aws:s3:::" + name);
    }

    @Test
    void blocksAreRepeatedOverKnownValues() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                variable "sites" { default = { north = "a", south = "b" } }
                resource "aws_s3_bucket" "each" {
                  for_each = var.sites
                  bucket   = "heronferry-${each.key}-${each.value}"
                }
                resource "aws_s3_bucket_public_access_block" "each" {
                  for_each                = var.sites
                  bucket                  = aws_s3_bucket.each[each.key].id
                  block_public_policy     = each.key == "north"
                }
                resource "aws_s3_bucket" "counted" {
                  count  = 2
                  bucket = "heronferry-${count.index}"
                }
                resource "aws_s3_bucket_cors_configuration" "one" {
                  bucket = aws_s3_bucket.counted[1].bucket
                  dynamic "cors_rule" {
                    for_each = ["https://a.example", "https://b.example"]
                    iterator = rule
                    content {
                      allowed_methods = ["GET"]
                      allowed_origins = [rule.value]
                    }
                  }
                }
                """));
        assertThat(read.get("bucket-public-access arn:aws:s3:::heronferry-north-a")
                        .toString())
                .contains(
                        "\"BlockPublicPolicy\":true",
                        "\"RestrictPublicBuckets\":false",
                        "aws_s3_bucket_public_access_block.each[\\\"north\\\"]");
        assertThat(read.get("bucket-public-access arn:aws:s3:::heronferry-south-b")
                        .toString())
                .contains("\"BlockPublicPolicy\":false");
        assertThat(read.get("bucket-cors arn:aws:s3:::heronferry-1")
                        .path("found")
                        .path("CORSRules"))
                .hasSize(2);
        assertThat(read.get("bucket-cors arn:aws:s3:::heronferry-0").has("absent"))
                .isTrue();
    }

    @Test
    void modulesFilesAndPoliciesOfASource() throws IOException {
        Map<String, JsonNode> read = sources(Map.of(
                "main.tf",
                """
                        module "site" {
                          source = "./parts/site"
                          name   = "heronferry-module"
                        }
                        data "aws_iam_policy_document" "read" {
                          statement {
                            actions   = ["s3:GetObject"]
                            resources = ["${module.site.arn}/*"]
                            principals {
                              type        = "AWS"
                              identifiers = ["*"]
                            }
                          }
                        }
                        resource "aws_s3_bucket_policy" "read" {
                          bucket = module.site.id
                          policy = data.aws_iam_policy_document.read.json
                        }
                        resource "aws_iam_role" "publisher" {
                          name               = "module-publisher"
                          assume_role_policy = file("trust.json")
                        }
                        resource "aws_iam_role_policy" "publish" {
                          role   = aws_iam_role.publisher.name
                          name   = "publish"
                          policy = templatefile("publish.json", { bucket = module.site.arn })
                        }
                        """,
                "trust.json",
                "{\"Statement\":[]}",
                "publish.json",
                "{\"Statement\":[{\"Effect\":\"Allow\",\"Action\":\"s3:PutObject\",\"Resource\":\"${bucket}/*\"}]}",
                "parts/site/main.tf",
                """
                        variable "name" {}
                        resource "aws_s3_bucket" "this" { bucket = var.name }
                        output "id" { value = aws_s3_bucket.this.id }
                        output "arn" { value = aws_s3_bucket.this.arn }
                        """));
        assertThat(read.get("bucket-policy arn:aws:s3:::heronferry-module")
                        .path("found")
                        .path("Policy")
                        .asString())
                .contains("arn:aws:s3:::heronferry-module/*", "\"AWS\"");
        assertThat(read.get("bucket-acl arn:aws:s3:::heronferry-module")
                        .path("from")
                        .path("address")
                        .asString())
                .isEqualTo("module.site.aws_s3_bucket.this");
        assertThat(read.get("iam-role arn:aws:iam::210987654321:role/module-publisher")
                        .toString())
                .contains("arn:aws:s3:::heronferry-module/*");
    }

    @Test
    void whatASourceCannotKnowIsUnreadWithItsPlace() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                variable "partner" {}
                resource "aws_s3_bucket" "site" { bucket = "heronferry-open" }
                resource "aws_s3_bucket_policy" "site" {
                  bucket = aws_s3_bucket.site.id
                  policy = jsonencode({
                    Statement = [{ Effect = "Allow", Principal = { AWS = var.partner }, Action = "s3:*", Resource = "*" }]
                  })
                }
                resource "aws_s3_bucket_versioning" "site" {
                  bucket = aws_s3_bucket.site.id
                  versioning_configuration { status = regex("a", "b") }
                }
                """, "terraform.tfvars", "unrelated = \"x\"\n"));
        JsonNode policy = read.get("bucket-policy arn:aws:s3:::heronferry-open");
        assertThat(policy.path("unread").path("message").asString()).contains("the variable partner has no value");
        assertThat(policy.path("from").path("line").asInt()).isEqualTo(3);
        assertThat(read.get("bucket-versioning arn:aws:s3:::heronferry-open").has("unread"))
                .isTrue();
        Path values =
                Files.writeString(folder.resolve("prod.tfvars"), "partner = \"arn:aws:iam::109876543210:root\"\n");
        Map<String, JsonNode> told = sources(Map.of(), "--parameters", values.toString());
        assertThat(told.get("bucket-policy arn:aws:s3:::heronferry-open").has("found"))
                .isTrue();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "resource \"aws_s3_bucket\" \"a\" { | :1:31: a } is missing",
                "resource \"aws_s3_bucket\" { } | has a type and a name",
                "locals { a = } | :1:14: an expression is missing",
                "locals { a = \"open | a text is not closed",
                "} | closes nothing"
            })
    void aBrokenSourceGetsItsPlace(String source, String says) throws IOException {
        Path root = Files.createDirectories(folder.resolve("source"));
        Files.writeString(root.resolve("main.tf"), source);
        Run run = Program.run(
                "survey",
                "--template",
                root.toString(),
                "--output",
                folder.resolve("none.ndjson").toString());
        assertThat(run.code()).isEqualTo(3);
        assertThat(run.err()).contains("main.tf").contains(says);
    }

    @Test
    void aCircleInASourceEnds() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                locals {
                  a = local.b
                  b = local.a
                }
                resource "aws_s3_bucket" "site" { bucket = local.a }
                """));
        assertThat(read.keySet()).contains("bucket-policy arn:aws:s3:::{aws_s3_bucket.site}");
    }
}
