package warden.core.aws.site;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.alias;
import static warden.core.fixture.SurveyBuilder.cname;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.names.HostDirectory;
import warden.core.names.HostRecord;
import warden.core.site.SiteFile;

class HostDirectoryTest {
    private static HostDirectory with(String... records) {
        return new AwsCloud(List.of(aSurvey().zone(records).account()), SiteFile.empty()).hosts();
    }

    /** Source: RFC 4592, section 2.2.1, with other names. */
    @ParameterizedTest
    @CsvSource({
        "isles.heronferry.example, star.example.net",
        "far.isles.heronferry.example, star.example.net",
        "quay.heronferry.example, quay.example.net",
        // Below an existing name the wildcard above does not speak.
        "east.quay.heronferry.example, ",
        // A name that exists only because something lies below it has no records, and no wildcard speaks for it.
        "pier.heronferry.example, ",
        "old.pier.heronferry.example, pier.example.net",
        "heronferry.example, ",
        "elsewhere.example, "
    })
    void letsAWildcardSpeakOnlyForNamesThatAreNotThere(String host, String target) {
        HostDirectory hosts = with(
                cname("*.heronferry.example", "star.example.net"),
                cname("quay.heronferry.example", "quay.example.net"),
                cname("old.pier.heronferry.example", "pier.example.net"));
        assertThat(hosts.records(host).stream()
                        .flatMap(record -> record.targets().stream())
                        .toList())
                .isEqualTo(target == null ? List.of() : List.of(target));
    }

    @Test
    void followsChainsToTheirEnd() {
        HostDirectory hosts = with(
                cname("a.heronferry.example", "b.heronferry.example"),
                cname("b.heronferry.example", "c.heronferry.example"),
                alias("c.heronferry.example", "d1.cloudfront.net"));
        assertThat(hosts.leads("a.heronferry.example"))
                .singleElement()
                .satisfies(lead -> assertThat(lead.target()).isEqualTo("d1.cloudfront.net"))
                .matches(Leads::isDistribution);
        assertThat(hosts.hostsLeadingTo("d1.cloudfront.net"))
                .containsExactly("a.heronferry.example", "b.heronferry.example", "c.heronferry.example");
    }

    @Test
    void endsARingOfNames() {
        HostDirectory hosts = with(
                cname("a.heronferry.example", "b.heronferry.example"),
                cname("b.heronferry.example", "a.heronferry.example"));
        assertThat(hosts.leads("a.heronferry.example")).hasSize(1);
    }

    @Test
    void fillsInTheBucketOfAnAliasToAWebsiteEndpoint() {
        HostDirectory hosts = with(
                alias("notices.heronferry.example", "s3-website-eu-west-1.amazonaws.com"),
                cname("docs.heronferry.example", "other-bucket.s3-website-eu-west-1.amazonaws.com"));
        assertThat(Leads.storage(hosts.leads("notices.heronferry.example").get(0)))
                .get()
                .satisfies(endpoint -> {
                    assertThat(endpoint.bucket()).contains("notices.heronferry.example");
                    assertThat(endpoint.isWebsite()).isTrue();
                });
        assertThat(Leads.storage(hosts.leads("docs.heronferry.example").get(0))
                        .orElseThrow()
                        .bucket())
                .contains("other-bucket");
    }

    @Test
    void knowsWhatIsHandedToOthers() {
        HostDirectory hosts = with(
                "{'Name':'crew.heronferry.example.','Type':'NS','TTL':300,'ResourceRecords':[{'Value':'ns1.example.net.'}]}",
                cname("www.heronferry.example", "d1.cloudfront.net"));
        var zone = hosts.zoneOf("www.heronferry.example").orElseThrow();
        assertThat(hosts.isDelegatedAway("www.heronferry.example", zone)).isFalse();
        assertThat(hosts.isDelegatedAway("crew.heronferry.example", zone)).isTrue();
        assertThat(hosts.isDelegatedAway("rota.crew.heronferry.example", zone)).isTrue();
        assertThat(hosts.zoneOf("heronferry.example.evil.example")).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "WWW.HeronFerry.example., www.heronferry.example",
        "\\052.heronferry.example., *.heronferry.example",
        "heronferry.example, heronferry.example"
    })
    void bringsNamesIntoOneForm(String written, String canonical) {
        assertThat(HostRecord.canonical(written)).isEqualTo(canonical);
    }
}
