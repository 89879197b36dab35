package warden.gather.aws.template;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

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
            })
    void isWorth(String expression, String expected) throws Exception {
        assertThat(String.valueOf(value(expression))).isEqualTo(expected);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "local.x == local.x ? 1 : 2",
                "try(timestamp(), \"none\")",
                "can(timestamp())",
                "contains([timestamp()], \"x\")",
                "sort([timestamp(), \"a\"])",
                "1 / 0",
                "\"a\" + 1",
                "1e999999999 + 1",
                "[timestamp()] == [\"x\"]",
                "range(100000)",
            })
    void isNotTold(String expression) throws Exception {
        assertThat(value(expression)).isInstanceOf(Unknown.class);
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
                new HclModule(
                                ".",
                                "",
                                new Templates.Folders() {
                                    @Override
                                    public Optional<Map<String, String>> sources(String folder) {
                                        return Optional.of(Map.of("main.tf", broken.toString()));
                                    }

                                    @Override
                                    public Optional<String> file(String folder, String name) {
                                        return Optional.empty();
                                    }
                                },
                                all,
                                Map.of(),
                                0)
                        .load()
                        .resources();
            } catch (TemplateException refused) {
                assertThat(refused.getMessage()).startsWith("main.tf:");
            }
        }
    }
}
