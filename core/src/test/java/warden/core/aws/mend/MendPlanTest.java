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
import warden.core.fixture.HealthySites;
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

    private static final String EDGE = distributionArn("E1");
    private static final String OTHER = "arn:aws:acm:us-east-1:210987654321:certificate/other";

    private static String certificate(String names, String status, String ends) {
        return "{'Certificate':{'DomainName':'" + names + "','SubjectAlternativeNames':['heronferry.example','" + names
                + "'],'Status':'" + status + "','Type':'AMAZON_ISSUED','NotAfter':'" + ends
                + "','RenewalEligibility':'ELIGIBLE','KeyAlgorithm':'RSA-2048','SignatureAlgorithm':'SHA256WITHRSA','InUseBy':[],"
                + "'DomainValidationOptions':[]}}";
    }

    /** The hosts wait, with the CDN's own certificate, for one that is not issued. */
    private static SurveyBuilder waiting() {
        return HealthySites.sealed()
                .edit("distribution", EDGE, "'ACMCertificateArn':'" + HealthySites.CERTIFICATE + "'", "'X':''")
                .found(
                        "certificate",
                        HealthySites.CERTIFICATE,
                        certificate("*.heronferry.example", "PENDING_VALIDATION", "2027-06-01T00:00:00+00:00"));
    }

    @Test
    void aCertificateThatIsThereTakesThePlaceOfOneThatIsNotIssued() {
        Plan mended = plan(
                "certificate-not-issued",
                waiting()
                        .found(
                                "certificate",
                                OTHER,
                                certificate("*.heronferry.example", "ISSUED", "2027-06-01T00:00:00+00:00")),
                SiteFile.empty());
        assertThat(names(mended)).containsExactly("show-certificate");
        assertThat(mended.after()
                        .get(0)
                        .reading("certificate", OTHER)
                        .found()
                        .orElseThrow()
                        .toString())
                .contains(EDGE);
        for (String unfit : List.of(
                certificate("www.heronferry.example", "ISSUED", "2026-06-01T00:00:00+00:00"),
                certificate("x.heronferry.example", "ISSUED", "2027-06-01T00:00:00+00:00"),
                certificate("*.heronferry.example", "REVOKED", "2027-06-01T00:00:00+00:00"))) {
            Plan left = plan("certificate-not-issued", waiting().found("certificate", OTHER, unfit), SiteFile.empty());
            assertThat(left.left())
                    .singleElement()
                    .satisfies(each -> assertThat(each.byHand().why()).contains("no other certificate in us-east-1"));
        }
    }

    /** The other form is led to the edge where the certificate covers it, with a record of each kind that the one form has. */
    @Test
    void theOtherFormOfADomainIsServedToo() {
        SurveyBuilder onlyApex = HealthySites.sealed()
                .edit(
                        "zone-records",
                        HealthySites.ZONE,
                        "'Name':'www.heronferry.example.'",
                        "'Name':'x.heronferry.example.'")
                .edit(
                        "distribution",
                        EDGE,
                        "'heronferry.example','www.heronferry.example'",
                        "'heronferry.example','x.heronferry.example'");
        Plan plan = plan("apex-or-www-missing", onlyApex, SiteFile.empty());
        assertThat(names(plan)).containsExactly("list-host", "add-record", "add-record");
        Plan uncovered = plan(
                "apex-or-www-missing",
                onlyApex.edit("certificate", HealthySites.CERTIFICATE, "*.heronferry.example", "x.heronferry.example"),
                SiteFile.empty());
        assertThat(uncovered.left())
                .singleElement()
                .satisfies(each -> assertThat(each.byHand().why()).contains("does not cover www.heronferry.example"));
    }

    /** The order in which the service takes it: off before deleted, the distribution before its bucket. */
    @Test
    void whatIsLeftOverIsToldInTheOrderInWhichItCanBeDeleted() {
        SurveyBuilder forgotten = aSurvey()
                .bucket("b", b -> b.objects("index.html"))
                .distribution("E1", "", "index.html", restOrigin("b", "", "C1"), "")
                .control("C1", "always");
        Plan plan = plan("leftover-distribution", forgotten, SiteFile.empty());
        assertThat(plan.left()).singleElement().satisfies(each -> assertThat(
                        each.byHand().todo())
                .containsSubsequence(
                        "1. Disable it", "wait distribution-deployed --id=E1", "delete-distribution", "s3 rb s3://b"));
    }

    /** No file may name a key: it is told apart by the moment at which it was made, or not at all. */
    @Test
    void anUnusedKeyIsMadeInactiveAndDeletedByHand() {
        String user = "arn:aws:iam::210987654321:user/deployer";
        String one =
                "{'AccessKeyId':'AKIA1111HERON1111TST','Status':'Active','CreateDate':'2026-01-01T08:00:00+00:00'}";
        String other = one.replace("1111TST", "2222TST");
        SurveyBuilder survey = aSurvey()
                .bucket("b", b -> b.objects("index.html"))
                .user("deployer", "{'Effect':'Allow','Action':'s3:PutObject','Resource':'arn:aws:s3:::b/*'}")
                .found("iam-key-used", "AKIA1111HERON1111TST", "{'AccessKeyLastUsed':{}}")
                .found(
                        "iam-key-used",
                        "AKIA1111HERON2222TST",
                        "{'AccessKeyLastUsed':{'LastUsedDate':'2026-11-20T00:00:00+00:00'}}");
        Plan mended = plan(
                "key-unused",
                survey.found("iam-user-keys", user, "{'AccessKeyMetadata':[" + one + "]}"),
                SiteFile.empty());
        assertThat(names(mended)).containsExactly("make-key-inactive");
        assertThat(mended.steps().toString().replaceAll("readings=.*", "")).doesNotContain("AKIA1111HERON1111TST");
        Plan left = plan(
                "key-unused",
                survey.found("iam-user-keys", user, "{'AccessKeyMetadata':[" + one + "," + other + "]}"),
                SiteFile.empty());
        assertThat(left.left())
                .singleElement()
                .satisfies(each -> assertThat(each.byHand().why()).contains("does not tell it from"));
    }
}
