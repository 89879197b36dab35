package warden.gather.site;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.site.SiteFile;
import warden.core.site.SitePattern;
import warden.gather.site.SiteFileEdit.Edited;
import warden.gather.site.SiteFileEdit.Statement;

class SiteFileEditTest {
    private static final Set<String> CHECKS = Set.of("cdn-logging-off");

    private static Statement statement(String site) {
        return new Statement(
                site, List.of(site + ".heronferry.example"), Optional.of(site), SitePattern.SEALED_BUCKET_BEHIND_CDN);
    }

    private static Optional<Edited> stating(String text, String... sites) {
        return SiteFileEdit.stating(
                text,
                "warden.yaml",
                CHECKS,
                List.of(sites).stream().map(SiteFileEditTest::statement).toList());
    }

    @Test
    void makesAFileWhereThereIsNone() {
        assertThat(stating("", "tides").orElseThrow().text()).isEqualTo("""
                        sites:
                          - name: "tides"
                            pattern: sealed-bucket-behind-cdn
                            hosts: ["tides.heronferry.example"]
                            bucket: "tides"
                        """);
    }

    @Test
    void leavesWhatTheOwnerWroteAsItStands() {
        String text = """
                # ours
                sites:
                  # the first
                  - hosts: [tides.heronferry.example]
                    name: 'tides'   # as on the door
                    routing: pages
                  - name: book
                gate: low
                """;
        assertThat(stating(text, "tides", "fares").orElseThrow().text()).isEqualTo("""
                        # ours
                        sites:
                          # the first
                          - name: "fares"
                            pattern: sealed-bucket-behind-cdn
                            hosts: ["fares.heronferry.example"]
                            bucket: "fares"
                          - hosts: [tides.heronferry.example]
                            name: 'tides'   # as on the door
                            pattern: sealed-bucket-behind-cdn
                            routing: pages
                          - name: book
                        gate: low
                        """);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "gate: low",
                "gate: low\n",
                "sites:\n",
                "sites: # none yet\ngate: low\n",
                "sites: []\ngate: low\n",
                "sites: [{name: tides, hosts: [tides.heronferry.example]}, {name: book}]\n",
                "sites: [{name: book}]",
                "sites:\n- name: tides\n  hosts: []\n",
                "sites:\n-\n    name: tides\n    hosts: []\n- name: book\n",
                "{gate: low, sites: [{name: \"tides\"}]}",
                "# \uD83D\uDEA2 the ship\nsites:\n  - name: tides\n",
                "waivers:\n  - {check: cdn-logging-off, until: 2027-03-31, reason: cost}\nsites:\n  - name: \"tides\" # x\n"
            })
    void statesThePatternInEveryStyle(String text) throws SiteFileException {
        Edited edited = stating(text, "tides").orElseThrow(() -> new AssertionError(text));
        SiteFile before = SiteFileReader.parse(text, "before", CHECKS);
        SiteFile after = SiteFileReader.parse(edited.text(), "after", CHECKS);
        assertThat(after).isEqualTo(edited.file());
        assertThat(after.sites())
                .filteredOn(site -> site.name().equals("tides"))
                .singleElement()
                .satisfies(site -> assertThat(site.pattern()).contains(SitePattern.SEALED_BUCKET_BEHIND_CDN));
        assertThat(after.sites().stream().filter(site -> !site.name().equals("tides")))
                .isEqualTo(before.sites().stream()
                        .filter(site -> !site.name().equals("tides"))
                        .toList());
        assertThat(after.gate()).isEqualTo(before.gate());
        assertThat(after.waivers()).isEqualTo(before.waivers());
    }

    /** Where the words would not be the site's own, nothing is proposed. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "sites:\n  - name: tides\n    pattern: open-bucket\n",
                "gate: low\n...\n",
                "{gate: low}",
                "sites: [\n"
            })
    void isAbsentWhereTheTextCannotBeEditedWithCertainty(String text) {
        Optional<Edited> edited = stating(text, "tides");
        assertThat(edited.map(Edited::text)).isEmpty();
    }

    @Test
    void spellsHostileNames() {
        String name = "a\": {b: 'c'} #\n- d";
        Edited edited = SiteFileEdit.stating(
                        "",
                        "warden.yaml",
                        CHECKS,
                        List.of(new Statement(name, List.of(), Optional.empty(), SitePattern.OPEN_BUCKET_BEHIND_CDN)))
                .orElseThrow();
        assertThat(edited.file().sites()).singleElement().satisfies(site -> assertThat(site.name())
                .isEqualTo(name));
    }
}
