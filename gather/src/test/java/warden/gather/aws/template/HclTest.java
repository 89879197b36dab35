package warden.gather.aws.template;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Expressions of the tool's language: what they are worth, and that what is not told is never taken for a value. */
class HclTest {
    private static Object value(String expression) throws TemplateException {
        Description all = new Description(Optional.empty(), Optional.empty(), of -> false);
        return HclModule.constant(
                HclReader.values("x.tfvars", "v = " + expression + "\n")
                        .get("v")
                        .value(),
                all);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "7 / 2 | 3.5",
                "6 / 2 | 3",
                "7 % 4 | 3",
                "0.1 + 0.2 | 0.3",
                "-3 * 2 | -6",
                "1.5 > 1 | true",
                "1.5 < 1.6 | true",
                "2e3 | 2000",
                "99999999999999999999 + 1 | 100000000000000000000",
                "\"1\" == 1 | false",
                "1 == 1.0 | true",
                "\"a\" == \"a\" | true",
                "[1, 2] == [1, 2] | true",
                "{a = 1} != {a = 2} | true",
                "null == null | true",
                "true ? 1 : 2 | 1",
                "max(1, 2.5) | 2.5",
                "element([\"a\", \"b\"], 3) | b",
                "contains([1, 2], 2) | true",
                "tonumber(\"12\") + 1 | 13",
                "length(range(3)) | 3",
                "try({a = 1}.b, \"none\") | none",
                "can({a = 1}.b) | false",
                "can({a = 1}.a) | true",
                "\"\\u00e9\" | é",
                "split(\"/\", \"a/b/\") | [a, b, ]",
                "split(\"\", \"aé\") | [a, é]",
                "join(\"-\", toset([\"b\", \"a\", \"b\"])) | a-b",
                "join(\"-\", distinct([\"b\", \"a\", \"b\"])) | b-a",
                "toset([null, \"a\", null]) | [null, a]",
                "distinct([null, null, 1]) | [null, 1]",
                "one([\"a\"]) | a",
                "one([]) | null",
                "tobool(\"true\") | true",
                "tobool(false) | false",
                "format(\"%s-%d%%\", \"a\", 7) | a-7%",
                "format(\"%q\", \"a\") | \"a\"",
                "trimprefix(\"https://x/y\", \"https://\") | x/y",
                "trimprefix(\"x/y\", \"https://\") | x/y",
                "trimsuffix(\"heron.example.\", \".\") | heron.example",
                "trimsuffix(\"\", \".\") | ``",
                "replace(\"a.b.c\", \".\", \"-\") | a-b-c",
                "startswith(\"abc\", \"ab\") | true",
                "endswith(\"abc\", \"ab\") | false",
                "substr(\"heron\", 1, 3) | ero",
                "substr(\"heron\", -2, -1) | on",
                "lookup({a = 1}, \"b\", 2) | 2",
                "upper(\"a{b c}\") | A{B C}",
                "lower(\"A{B C}\") | a{b c}",
            })
    void isWorth(String expression, String expected) throws Exception {
        assertThat(String.valueOf(value(expression))).isEqualTo(expected);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "local.x == local.x ? 1 : 2",
                "provider::aws::arn_parse(\"arn:aws:s3:::x\")",
                "try(timestamp(), \"none\")",
                "can(timestamp())",
                "contains([timestamp()], \"x\")",
                "sort([timestamp(), \"a\"])",
                "1 / 0",
                "\"a\" + 1",
                "1e999999999 + 1",
                "[timestamp()] == [\"x\"]",
                "range(100000)",
                "format(\"%[1]s\", \"a\")",
                "format(\"%05d\", 7)",
                "format(\"%x\", 7)",
                "format(\"100%\")",
                "one([1, 2])",
                "tobool(\"yes\")",
            })
    void isNotTold(String expression) throws Exception {
        assertThat(value(expression)).isInstanceOf(Unknown.class);
    }

    private static final String NAMES = """
            resource "aws_s3_bucket" "made" {}
            resource "aws_iam_role" "role" { name = "publisher" }
            resource "aws_cloudfront_distribution" "edge" {}
            resource "aws_cloudfront_origin_access_identity" "reader" {}
            """;

    private static String named(String expression) throws TemplateException {
        return Described.source(NAMES + "resource \"aws_s3_bucket\" \"asked\" {\n  bucket = " + expression + "\n}\n")
                .bucketBeside("{aws_s3_bucket.made}");
    }

    /** What a name that only the apply gives cannot change is told. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "split(\":\", aws_iam_role.role.arn)[5] | role/publisher",
                "split(\":\", aws_s3_bucket.made.arn)[2] | s3",
                "replace(aws_s3_bucket.made.arn, \"arn:aws:s3:::\", \"x-\") | x-{aws_s3_bucket.made}",
                "\"${lower(aws_s3_bucket.made.bucket)}-Logs\" | {aws_s3_bucket.made}-Logs",
                "startswith(aws_s3_bucket.made.arn, \"arn:\") ? \"a\" : \"b\" | a",
                "startswith(aws_s3_bucket.made.arn, \"http\") ? \"a\" : \"b\" | b",
                "endswith(aws_s3_bucket.made.bucket_domain_name, \".com\") ? \"a\" : \"b\" | a",
            })
    void isTheSameWhateverNamesAreGiven(String expression, String expected) throws Exception {
        assertThat(named(expression)).isEqualTo(expected);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "split(\"-\", aws_s3_bucket.made.bucket)[0]",
                "substr(aws_s3_bucket.made.bucket, 0, 3)",
                "upper(aws_s3_bucket.made.bucket)",
                "base64encode(aws_s3_bucket.made.bucket)",
                "length(aws_s3_bucket.made.bucket) > 3 ? \"a\" : \"b\"",
                "startswith(aws_s3_bucket.made.bucket, \"a\") ? \"a\" : \"b\"",
                "replace(aws_s3_bucket.made.bucket, \"-\", \".\")",
                "replace(aws_cloudfront_distribution.edge.domain_name, \".\", \"-\")",
                "trimsuffix(aws_s3_bucket.made.bucket, \"-x\")",
                "endswith(aws_s3_bucket.made.arn, \"-x\") ? \"a\" : \"b\"",
                "trimprefix(aws_s3_bucket.made.arn, \"arn:aws:s3:::a\")",
                "lookup({a = \"x\"}, aws_s3_bucket.made.bucket, \"y\")",
                "{a = \"x\"}[aws_s3_bucket.made.bucket]",
                "try({a = \"x\"}[aws_s3_bucket.made.bucket], \"y\")",
                "contains([\"a\"], aws_s3_bucket.made.bucket) ? \"a\" : \"b\"",
            })
    void hangsOnTheNamesThatAreGiven(String expression) throws Exception {
        assertThat(named(expression)).isEqualTo("{aws_s3_bucket.asked}");
    }

    @ParameterizedTest
    @ValueSource(strings = {"1.2.3", "\"\\UFFFFFFFF\"", "a.99999999999999999999.1.", "\"${\"", "[1", "{a = }"})
    void isRefusedWithItsPlace(String expression) {
        assertThatThrownBy(() -> value(expression))
                .isInstanceOf(TemplateException.class)
                .hasMessageMatching("x.tfvars:[12]:[0-9]+: .*");
    }

    @Test
    void aTemplateFileThatBreaksOffIsRefusedWithItsPlace() {
        assertThatThrownBy(() -> HclReader.template("page.tpl", "a\n${b"))
                .isInstanceOf(TemplateException.class)
                .hasMessageStartingWith("page.tpl:2:");
    }

    /** Whatever is cut out of or put into a source, it is read or refused in a sentence. */
    @Test
    void noSourceBreaksTheReader() {
        String source = """
                resource "aws_s3_bucket" "site" {
                  count  = var.on ? 1.5 : 2
                  bucket = "${var.name}-${format("%s-%d", lower("A"), 7 / 2)}"
                  tags   = { for k, v in { a = 1, "b" = [1, 2][0] } : upper(k) => v if v != null }
                  dynamic "rule" {
                    for_each = toset(["x", "y"])
                    content { id = rule.value }
                  }
                  policy = jsonencode({ Statement = [{ Action = "s3:*", N = -1.25e3 }] })
                  text   = <<-EOT
                    a ${try(local.b[3].c, "\\u00e9")} %{ if true }x%{ endif }
                  EOT
                }
                """;
        String signs = "{}[]()\"$%<>=.,:?!-+*/&|0123456789aeu\\\n #'";
        Random random = new Random(7);
        for (int i = 0; i < 20_000; i++) {
            StringBuilder broken = new StringBuilder(source);
            for (int n = random.nextInt(4); n >= 0; n--) {
                int at = random.nextInt(broken.length());
                if (random.nextBoolean()) {
                    broken.setCharAt(at, signs.charAt(random.nextInt(signs.length())));
                } else {
                    broken.delete(at, Math.min(broken.length(), at + random.nextInt(5)));
                }
            }
            Description all = new Description(Optional.empty(), Optional.empty(), of -> false);
            try {
                new HclModule(".", "", new HclFolder(Map.of("main.tf", broken.toString())), all, Map.of(), 0)
                        .load()
                        .resources();
            } catch (TemplateException refused) {
                assertThat(refused.getMessage()).startsWith("main.tf:");
            }
        }
    }

    /** What is nested as deep as it is long takes a place on the stack for each step. */
    @ParameterizedTest
    @ValueSource(strings = {"- ", "!", "1 + ", "[", "(", "x.y", "x[0]", "a ? b : "})
    void aLongExpressionIsReadOrRefused(String step) {
        String chain = step.startsWith("x") ? "x" + step.substring(1).repeat(20_000) : step.repeat(20_000) + "1";
        assertThatThrownBy(() -> value(chain))
                .isInstanceOf(TemplateException.class)
                .hasMessageStartingWith("x.tfvars:1:");
    }

    @Test
    void aDocumentThatAsksForItselfIsNotTold() throws Exception {
        Described described = Described.source("""
                data "aws_iam_policy_document" "own" {
                  statement {
                    actions   = ["s3:GetObject"]
                    resources = [data.aws_iam_policy_document.own.json]
                  }
                }
                resource "aws_s3_bucket" "site" {
                  bucket = "heron-site"
                  policy = data.aws_iam_policy_document.own.json
                }
                data "aws_s3_bucket" "other" { bucket = data.aws_s3_bucket.other.id }
                data "aws_route53_zone" "zone" { name = data.aws_route53_zone.zone.id }
                resource "aws_s3_bucket" "named" { bucket = data.aws_s3_bucket.other.arn }
                resource "aws_s3_bucket" "zoned" { bucket = data.aws_route53_zone.zone.id }
                """);
        assertThat(described.reading("bucket-policy", "arn:aws:s3:::heron-site"))
                .isEqualTo("unread");
        assertThat(described.notes()).anyMatch(note -> note.contains("in a circle"));
    }

    private static final String[] FUNCTIONS = {
        "jsonencode",
        "jsondecode",
        "format",
        "join",
        "split",
        "lower",
        "upper",
        "trimspace",
        "trimsuffix",
        "trimprefix",
        "replace",
        "substr",
        "startswith",
        "endswith",
        "base64encode",
        "tostring",
        "tonumber",
        "tobool",
        "tolist",
        "toset",
        "tomap",
        "distinct",
        "sort",
        "reverse",
        "compact",
        "concat",
        "flatten",
        "length",
        "element",
        "one",
        "contains",
        "index",
        "keys",
        "values",
        "merge",
        "lookup",
        "zipmap",
        "range",
        "coalesce",
        "coalescelist",
        "max",
        "min",
        "basename",
        "dirname",
        "unheard"
    };

    private static Object argument(Random random, int depth) {
        return switch (random.nextInt(depth > 2 ? 8 : 11)) {
            case 0 -> null;
            case 1 -> (long) (random.nextInt(5) - 2);
            case 2 -> random.nextBoolean();
            case 3 -> "";
            case 4 -> "a/b%s.c";
            case 5 -> "{aws_s3_bucket.made}";
            case 6 -> Unknown.of("that");
            case 7 -> new Partly("a-{b}", "that");
            case 8 -> {
                List<Object> list = new ArrayList<>();
                for (int n = random.nextInt(3); n > 0; n--) {
                    list.add(argument(random, depth + 1));
                }
                yield list;
            }
            case 9 -> {
                Map<String, Object> map = new LinkedHashMap<>();
                for (int n = random.nextInt(3); n > 0; n--) {
                    map.put("k" + n, argument(random, depth + 1));
                }
                yield map;
            }
            default -> new HclFunctions.Encoded(argument(random, depth + 1));
        };
    }

    /** Whatever it is given, a function gives a value or says that it is not told. */
    @Test
    void noArgumentsBreakAFunction() {
        Random random = new Random(13);
        for (int i = 0; i < 30_000; i++) {
            String name = FUNCTIONS[i % FUNCTIONS.length];
            List<Object> arguments = new ArrayList<>();
            for (int n = random.nextInt(4); n > 0; n--) {
                arguments.add(argument(random, 0));
            }
            assertThatCode(() -> HclFunctions.call(name, arguments))
                    .as(name + " of " + arguments)
                    .doesNotThrowAnyException();
        }
    }
}
