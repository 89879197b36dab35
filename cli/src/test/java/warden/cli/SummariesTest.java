package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Pattern;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What reports make of many accounts, sites and findings. */
class SummariesTest {
    private static final JsonMapper MAPPER = JsonMapper.builder().build();

    @TempDir
    private Path folder;

    /** A survey of open buckets that are websites, of which not everything was asked. */
    private Path survey(String account, int buckets) throws IOException {
        StringBuilder lines = new StringBuilder("{\"survey\":1,\"provider\":\"aws\",\"account\":\"" + account
                + "\",\"takenAt\":\"2026-11-20T08:00:00Z\",\"takenBy\":\"me\"}\n");
        for (int i = 0; i < buckets; i++) {
            String arn = "arn:aws:s3:::pier-" + i + "." + account + ".heronferry.example";
            String of = "\",\"of\":\"" + arn + "\",";
            lines.append("{\"aspect\":\"bucket-website" + of
                    + "\"found\":{\"IndexDocument\":{\"Suffix\":\"index.html\"}}}\n"
                    + "{\"aspect\":\"bucket-public-access" + of
                    + "\"absent\":\"NoSuchPublicAccessBlockConfiguration\"}\n"
                    + "{\"aspect\":\"bucket-policy" + of
                    + "\"found\":{\"Policy\":{\"Version\":\"2012-10-17\",\"Statement\":"
                    + "[{\"Effect\":\"Allow\",\"Principal\":\"*\",\"Action\":\"s3:GetObject\",\"Resource\":\"" + arn
                    + "/*\"}]}}}\n");
        }
        return Files.writeString(folder.resolve(account + ".ndjson"), lines.toString());
    }

    private static String audit(String... arguments) {
        String[] whole = Arrays.copyOf(new String[] {"audit", "--gate", "never"}, 3 + arguments.length);
        System.arraycopy(arguments, 0, whole, 3, arguments.length);
        Program.Run run = Program.run(whole);
        assertThat(run.code()).as(run.err()).isZero();
        return run.out();
    }

    private static long count(String text, String pattern) {
        return Pattern.compile(pattern, Pattern.MULTILINE)
                .matcher(text)
                .results()
                .count();
    }

    /** The numbers of the table that begins with this heading, a row each; 0 for a dash. */
    private static List<List<Integer>> table(String text, String heading) {
        return text.lines()
                .dropWhile(line -> !line.startsWith(heading + " "))
                .skip(1)
                .takeWhile(line -> !line.isEmpty())
                .filter(line -> !line.startsWith("and "))
                .map(line -> Arrays.stream(line.substring(60).trim().split(" +"))
                        .filter(word -> word.matches("-|[0-9]+"))
                        .map(word -> word.equals("-") ? 0 : Integer.parseInt(word))
                        .toList())
                .toList();
    }

    @Test
    void tellsAllWhenPipedAndManyAlikeInOneLineOnATerminal() throws IOException {
        String survey = survey("210987654321", 60).toString();
        String all = audit("--survey", survey, "--only", "error-unset");
        assertThat(count(all, "^ *[0-9]+ LOW .*\\[error-unset]$")).isEqualTo(60);
        assertThat(all).doesNotContain(" more").contains("60 findings: 60 low");
        assertThat(count(audit("--survey", survey), "^unknown   bucket-versioning of arn"))
                .isEqualTo(60);
        assertThat(table(audit("--survey", survey), "Site")).hasSizeGreaterThanOrEqualTo(60);
        String screen = Program.onTerminal(120, "audit", "--survey", survey, "--only", "error-unset")
                .out();
        assertThat(screen).containsPattern("  1 low  see errors .* and 59 more, on 60 sites: no error document");
    }

    @Test
    void aFolderOfSurveysIsAnOrganisation() throws IOException {
        for (int i = 0; i < 12; i++) {
            survey("2109876543" + (10 + i), i == 7 ? 9 : 3);
        }
        List<String> screen = Program.onTerminal(110, "audit", "--survey", folder.toString())
                .out()
                .lines()
                .toList();
        assertThat(screen).hasSizeLessThanOrEqualTo(23);
        assertThat(screen.get(0)).isEqualTo("12 accounts · 42 sites · surveyed 3 days ago · 12 of them not read whole");
        assertThat(String.join("\n", screen))
                .containsPattern("see errors .* more, on 42 sites in 12 accounts")
                .contains("BEGIN WITH  210987654317 (");
        Path empty = Files.createDirectory(folder.resolve("empty"));
        Program.Run none = Program.run("audit", "--survey", empty.toString());
        assertThat(none.code()).isEqualTo(3);
        assertThat(none.err()).contains("holds no survey");
    }

    @Test
    void sumsSeveralAccountsUp() throws IOException {
        String first = survey("210987654321", 3).toString();
        String second = survey("109876543210", 2).toString();
        String text = audit("--survey", first, "--survey", second);
        List<List<Integer>> rows = table(text, "Account");
        assertThat(text).containsPattern("210987654321 +3 +").containsPattern("109876543210 +2 +");
        JsonNode counts = MAPPER.readTree(audit("--survey", first, "--survey", second, "--format", "json"))
                .get("counts");
        List<String> names = List.of("critical", "high", "medium", "low", "unknown");
        for (int i = 0; i < names.size(); i++) {
            int column = i;
            assertThat(rows.stream().mapToInt(row -> row.get(column)).sum())
                    .as(names.get(i))
                    .isEqualTo(counts.get(names.get(i)).asInt());
        }
        assertThat(audit("--survey", first)).doesNotContain("Account ");
    }

    @Test
    void sumsAccountsUpInPagesAndComments() throws IOException {
        Path page = folder.resolve("page.html");
        Path comment = folder.resolve("comment.md");
        String first = survey("210987654321", 3).toString();
        String second = survey("109876543210", 2).toString();
        audit("--survey", first, "--survey", second, "--report", "html=" + page, "--report", "markdown=" + comment);
        Document shown = Jsoup.parse(Files.readString(page));
        assertThat(shown.select("section[aria-labelledby=accounts] tbody th").eachText())
                .containsExactly("210987654321", "109876543210");
        assertThat(Files.readString(comment)).contains("| 210987654321 | 3 |").contains("| 109876543210 | 2 |");
        audit("--survey", first, "--report", "html=" + page);
        assertThat(Jsoup.parse(Files.readString(page)).select("section[aria-labelledby=accounts]"))
                .isEmpty();
    }

    @Test
    void keepsCommentsAsShortAsHostsTakeThem() throws IOException {
        Path comment = folder.resolve("comment.md");
        audit("--survey", survey("210987654321", 400).toString(), "--report", "markdown=" + comment);
        String text = Files.readString(comment);
        assertThat(text).hasSizeLessThan(65_536).contains("are left out here; the JSON report has them all");
        assertThat(count(text, "^<details>")).isEqualTo(count(text, "^</details>"));
    }

    /** Accounts that are stamped from one template call their sites and credentials alike. */
    @Test
    void eachAccountsCredentialsPublishItsOwnSites() throws IOException {
        String two = Program.demo()
                .replace("210987654321", "210987654000")
                .replace("heronferry", "heronferry-two")
                .replaceAll("\\b(d[0-9a-z]{8,14})(\\.cloudfront\\.net)", "$1two$2")
                .replaceAll("\\b(E[0-9A-Z]{11,14})\\b", "$1TWO")
                .replaceAll("\\b(AKIA[0-9A-Z]{10,14})[0-9A-Z]{2}\\b", "$1ZZ");
        Path second = Files.writeString(folder.resolve("two.ndjson"), two);
        JsonNode report = MAPPER.readTree(
                audit("--survey", Program.DEMO.toString(), "--survey", second.toString(), "--format", "json"));
        int checked = 0;
        for (JsonNode site : report.get("sites")) {
            String account = site.get("name").asString().contains("heronferry-two") ? "210987654000" : "210987654321";
            for (JsonNode credential : site.get("credentials")) {
                checked++;
                assertThat(credential.asString()).contains(":" + account + ":");
            }
        }
        assertThat(checked).isGreaterThanOrEqualTo(8);
        assertThat(report.get("counts").get("critical").asInt()).isEqualTo(8);
        // A record that leads nowhere is of the account that holds it.
        assertThat(audit("--survey", Program.DEMO.toString(), "--survey", second.toString()))
                .containsPattern("(?m)^210987654321 .* 4 +10 ")
                .containsPattern("(?m)^210987654000 .* 4 +10 ");
    }
}
