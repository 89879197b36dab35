package warden.core.aws.mend;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.alias;
import static warden.core.fixture.SurveyBuilder.distributionArn;
import static warden.core.fixture.SurveyBuilder.restOrigin;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import warden.core.CheckCatalogue;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.fixture.Audited;
import warden.core.fixture.MendLaw;
import warden.core.fixture.SurveyBuilder;
import warden.core.mend.Plan;
import warden.core.mend.Step;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SitePattern;

/** What a plan does where a proof is not to be had, and where the owner has stated what is meant. */
class MendPlanTest {
    private static final String HOST = "www.heronferry.example";
    private static final String READ =
            "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
    private static final String WEBSITE =
            "{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'404.html'}}";

    private static Plan plan(String check, SurveyBuilder survey, SiteFile file) {
        Audit audit = Audited.audit(survey.cloud(file));
        Finding finding = audit.findings().stream()
                .filter(each -> each.card().id().equals(check))
                .findFirst()
                .orElseThrow();
        return MendLaw.holds(audit, finding, CheckCatalogue.all());
    }

    private static List<String> names(Plan plan) {
        return plan.steps().stream()
                .map(Step::change)
                .map(change -> change.name())
                .toList();
    }

    private static SiteFile stating(SitePattern pattern) {
        return new SiteFile(
                List.of(new StatedSite(
                        "site",
                        List.of(HOST),
                        Optional.of(pattern),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.of("b"),
                        List.of(),
                        List.of(),
                        Optional.empty())),
                List.of(),
                Optional.empty(),
                List.of());
    }

    private static SurveyBuilder behindEdge(String more) {
        return aSurvey()
                .bucket("b", b -> b.policy(READ).objects("index.html", "404.html"))
                .distribution("E1", HOST, "index.html", restOrigin("b", "", "C1"), more)
                .control("C1", "always")
                .zone(alias(HOST, "e1.cloudfront.net"));
    }

    @Test
    void aFunctionAtTheEdgeKeepsFromProvingWhatItMayDecide() {
        String function =
                "'FunctionAssociations':{'Items':[{'FunctionARN':'arn:aws:cloudfront::210987654321:function/f',"
                        + "'EventType':'viewer-request'}]}";
        SurveyBuilder plain = behindEdge("");
        SurveyBuilder rewritten = behindEdge("")
                .edit(
                        "distribution",
                        distributionArn("E1"),
                        "'TargetOriginId':'o'",
                        "'TargetOriginId':'o'," + function);
        assertThat(plan("open-around-cdn", plain, SiteFile.empty()).left()).isEmpty();
        Plan left = plan("open-around-cdn", rewritten, SiteFile.empty());
        assertThat(left.steps()).isEmpty();
        assertThat(left.left()).singleElement().satisfies(each -> {
            assertThat(each.byHand().why()).contains("cannot be proven");
            assertThat(each.byHand().needs()).anyMatch(need -> need.aspect().equals("edge-function"));
        });
        // What no visitor's answer rests on is none of the function's.
        assertThat(names(plan("security-headers-missing", rewritten, SiteFile.empty())))
                .containsExactly("send-security-headers");
    }

    @Test
    void whatIsStatedOpenIsOpenedAndWhatIsNotStatedIsNot() {
        SurveyBuilder blocked = aSurvey()
                .bucket("b", b -> b.website(WEBSITE).policy(READ).guard(true).objects("index.html", "404.html"));
        assertThat(plan("guard-contradicts-grant", blocked, SiteFile.empty()).left())
                .singleElement()
                .satisfies(each -> assertThat(each.byHand().todo()).contains("State the site's pattern"));
        assertThat(names(plan("guard-contradicts-grant", blocked, stating(SitePattern.OPEN_BUCKET))))
                .containsExactly("open-to-visitors");
    }
}
