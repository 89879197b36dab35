package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.HealthySites.sealed;

import java.util.List;
import org.junit.jupiter.api.Test;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.fixture.Audited;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

/** What is to be deleted need not be put right in small things first. */
class LeftoversTest {
    private static List<Finding> about(SurveyBuilder survey, String subject) {
        Audit audit = Audited.audit(survey.cloud(SiteFile.empty()));
        return audit.findings().stream()
                .filter(finding -> finding.subject().equals(subject))
                .toList();
    }

    @Test
    void nothingLowIsSaidAboutThem() {
        String arn = SurveyBuilder.distributionArn("E7");
        SurveyBuilder used = sealed().bucket("second")
                .distribution("E7", "old.heronferry.example", "index.html", SurveyBuilder.restOrigin("second", "", ""));
        SurveyBuilder left = sealed().bucket("second")
                .distribution("E7", "", "index.html", SurveyBuilder.restOrigin("second", "", ""));
        assertThat(about(left, arn)).extracting(finding -> finding.card().id()).contains("leftover-distribution");
        assertThat(about(left, arn))
                .filteredOn(finding -> finding.severity() == Severity.LOW)
                .extracting(finding -> finding.card().id())
                .containsExactly("leftover-distribution");
        assertThat(about(used, arn)).anyMatch(finding -> finding.severity() == Severity.LOW);
    }
}
