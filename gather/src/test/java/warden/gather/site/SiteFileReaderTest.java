package warden.gather.site;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.Routing;
import warden.core.site.SitePattern;

class SiteFileReaderTest {
    private static final Set<String> CHECKS = Set.of("record-dangling", "open-around-cdn");

    @TempDir
    private Path folder;

    private static SiteFile parse(String text) throws SiteFileException {
        return SiteFileReader.parse(text, "warden.yaml", CHECKS);
    }

    @Test
    void readsAllThatAnOwnerCanSay() throws Exception {
        SiteFile file = parse("""
                sites:
                  - name: main
                    hosts: [WWW.heronferry.example, heronferry.example]
                    pattern: sealed-bucket-behind-cdn
                    routing: single-page
                    index: index.html
                    error: 404.html
                    bucket: heronferry-www-content
                    publishing:
                      credentials: ["arn:aws:iam::210987654321:role/www-publisher"]
                      pipelines: [.github/workflows/deploy.yml]
                      folder: dist
                trusted-accounts: ["109876543210"]
                gate: medium
                waivers:
                  - check: record-dangling
                    subject: crew.*
                    until: 2027-03-31
                    reason: the crew site moves in spring
                """);
        assertThat(file.sites()).singleElement().satisfies(site -> {
            assertThat(site.hosts()).containsExactly("www.heronferry.example", "heronferry.example");
            assertThat(site.pattern())
                    .contains(SitePattern.named("sealed-bucket-behind-cdn").orElseThrow());
            assertThat(site.routing()).contains(Routing.SINGLE_PAGE);
            assertThat(site.bucket()).contains("heronferry-www-content");
            assertThat(site.credentials()).containsExactly("arn:aws:iam::210987654321:role/www-publisher");
        });
        assertThat(file.trustedAccounts()).containsExactly("109876543210");
        assertThat(file.gate()).contains("medium");
        assertThat(file.waivers()).singleElement().satisfies(waiver -> assertThat(waiver.until())
                .isEqualTo(LocalDate.of(2027, 3, 31)));
    }

    @Test
    void takesNothingForNoStatement() throws Exception {
        assertThat(parse("")).isEqualTo(SiteFile.empty());
        assertThat(parse("# only a remark\n").sites()).isEmpty();
        assertThat(parse("sites:\n# - name: main\ntrusted-accounts:\n")).isEqualTo(SiteFile.empty());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "site: [] | warden.yaml:1:1: the site file has no member \"site\"; perhaps sites was meant",
                "sites: main | warden.yaml:1:8: this must be a list",
                "sites: [{hosts: [a]}] | a site needs a name",
                "sites: [{name: a, name: b}] | ",
                "sites: [{name: a}, {name: a}] | warden.yaml:1:20: there are two sites named \"a\"",
                "sites: [{name: a, hosts: [x.y]}, {name: b, hosts: [X.y]}] | the host x.y is already the site \"a\"'s",
                "sites: [{name: a, hosts: ['https://x.y/']}] | warden.yaml:1:27: a host is a name such as",
                "sites: [{name: a, bucket: 'arn:aws:s3:::b'}] | a bucket is given by its name",
                "sites: [{name: a, publishing: {credentials: [deployer]}}] | a credential is the ARN of a user or role",
                "sites: [{name: a, pattern: open-buckets}] | perhaps open-bucket was meant",
                "sites: [{name: a, pattern: open}] | there is no pattern \"open\"; known are",
                "sites: [{name: a, routing: pagez}] | routing is pages or single-page",
                "sites: [{name: [a]}] | this must be a single text",
                "sites: [a] | a site is a list of members",
                "trusted-accounts: [123] | an account number has 12 digits",
                "gate: sometimes | the gate is one of critical, high",
                "waivers: [{check: record-danglin, until: 2027-01-01, reason: x}] | perhaps record-dangling was meant",
                "waivers: [{check: record-dangling, until: soon, reason: x}] | until is a date such as",
                "waivers: [{check: record-dangling, reason: x}] | a waiver needs until",
                "waivers: [{check: record-dangling, until: 2027-01-01}] | a waiver needs reason",
                "sites: [ | this is not valid YAML",
                "'a: b: c' | this is not valid YAML",
                "'&a [*a]' | "
            })
    void saysWhatIsWrongAndWhere(String text, String says) {
        assertThatThrownBy(() -> parse(text))
                .isInstanceOf(SiteFileException.class)
                .hasMessageStartingWith("warden.yaml")
                .hasMessageContaining(says == null ? "" : says);
    }

    @Test
    void refusesFoldersBinaryDataAndBombs() throws Exception {
        Path binary = Files.write(folder.resolve("binary.yaml"), new byte[] {(byte) 0xff, (byte) 0xfe, 0, 1});
        StringBuilder bomb = new StringBuilder("a: &a [x,x,x,x,x,x,x,x,x,x]\n");
        for (char each = 'b'; each < 'k'; each++) {
            char before = (char) (each - 1);
            bomb.append(each)
                    .append(": &")
                    .append(each)
                    .append(" [")
                    .append(("*" + before + ",").repeat(9))
                    .append("*")
                    .append(before)
                    .append("]\n");
        }
        Path loud = Files.writeString(folder.resolve("bomb.yaml"), bomb);
        for (Path bad : new Path[] {binary, folder, folder.resolve("missing.yaml"), loud}) {
            assertThatThrownBy(() -> SiteFileReader.read(bad.toString(), CHECKS))
                    .isInstanceOf(SiteFileException.class)
                    .hasMessageStartingWith(bad.toString());
        }
    }
}
