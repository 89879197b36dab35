package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import warden.core.audit.Audit;
import warden.core.fixture.Audited;
import warden.core.fixture.HealthySites;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

/** A well-built site has no findings, and nothing about it is unknown. */
class HealthySitesTest {
    private static void isHealthy(SurveyBuilder survey) {
        Audit audit = Audited.audit(survey.cloud(SiteFile.empty()));
        assertThat(audit.findings())
                .extracting(finding -> finding.card().id() + ": " + finding.says())
                .isEqualTo(List.of());
        assertThat(audit.unknowns())
                .extracting(answer -> answer.card().id() + ": " + answer.verdict())
                .isEqualTo(List.of());
    }

    @Test
    void aSealedBucketBehindADistributionThatSigns() {
        isHealthy(HealthySites.sealed());
    }

    @Test
    void anOpenBucketWithItsWebsiteEndpoint() {
        isHealthy(HealthySites.open());
    }

    @Test
    void aWebsiteEndpointThatOnlyTheEdgesHeaderOpens() {
        isHealthy(HealthySites.behindWebsite());
    }
}
