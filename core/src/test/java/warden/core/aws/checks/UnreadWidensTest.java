package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.Audited.check;
import static warden.core.fixture.HealthySites.BUCKET;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.CERTIFICATE;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.ZONE;
import static warden.core.fixture.HealthySites.open;
import static warden.core.fixture.HealthySites.sealed;

import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.access.Extent;
import warden.core.access.Matrix;
import warden.core.audit.Area;
import warden.core.audit.Audit;
import warden.core.audit.Severity;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.reach.Reach;
import warden.core.fixture.Audited;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

/** What is unread, opaque or conditional widens what may be allowed, and never narrows it; for each subject by itself. */
class UnreadWidensTest {
    private static final String PIPELINE =
            "{'Effect':'Allow','Principal':{'Service':'codebuild.amazonaws.com'},'Action':'sts:AssumeRole'}";
    private static final String ROLE = "arn:aws:iam::210987654321:role/quay";
    private static final String PUT = "{'Effect':'Allow','Action':'s3:PutObject','Resource':'" + BUCKET_ARN + "/*'}";
    private static final String KEYS = "{'Effect':'Allow','Action':'iam:CreateAccessKey','Resource':'*'%s}";
    private static final String FULL = "{'Effect':'Allow','Action':'*','Resource':'*'}";

    private static SurveyBuilder publisher(String... statements) {
        return sealed().role("quay", PIPELINE, "", statements);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                ",'Condition':{'StringEquals':{'aws:RequestedRegion':'eu-west-1'}}",
                ",'Condition':{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}}"
            })
    void aConditionIsPartOfTheWayUpAndNoReasonToHideIt(String condition) {
        check("publisher-can-escalate", publisher(PUT, String.format(KEYS, condition)))
                .flags(Severity.CRITICAL, ROLE, "make itself a new key");
    }

    @ParameterizedTest
    @ValueSource(strings = {"publisher-can-escalate", "publisher-excess-services", "publisher-excess-actions"})
    void anOrganizationThatIsNotKnownHidesNothing(String id) {
        String[] rights = {PUT, String.format(KEYS, "")};
        check(id, publisher(rights).unread("organization-policy", "p-1")).isUnknownFor("organization-policy");
        check(
                        id,
                        publisher(rights)
                                .organizationPolicy(
                                        "p-1",
                                        FULL,
                                        "{'Effect':'Deny','Action':'*','Resource':'*','Condition':{'NoSuch':{'a:b':'c'}}}"))
                .isUnknownFor("organization-policy");
        check(id, publisher(rights).organizationPolicy("p-1", "{'Effect':'Deny','Action':'ec2:*','Resource':'*'}"))
                .isUnknownFor("organization-policy");
    }

    @Test
    void whoMayPublishIsNotNobody() {
        SurveyBuilder lost = sealed().role(
                        "quay",
                        PIPELINE,
                        ",'AttachedManagedPolicies':[{'PolicyName':'lost','PolicyArn':'arn:aws:iam::210987654321:policy/lost'}]");
        for (String id : new String[] {"publisher-is-admin", "publisher-can-escalate", "publisher-excess-actions"}) {
            check(id, lost).isUnknownFor("iam-policy");
        }
    }

    @ParameterizedTest
    @CsvSource({"iam-login", "iam-user-keys"})
    void aMachineUserIsOneUnlessItIsKnownToBeNone(String unread) {
        String user = "arn:aws:iam::210987654321:user/anna";
        SurveyBuilder survey = sealed().user("anna", FULL)
                .found("iam-user-keys", user, "{'AccessKeyMetadata':[{'AccessKeyId':'AKIA1','Status':'Active'}]}")
                .absent("iam-login", user, "NoSuchEntity");
        check("publisher-is-admin", survey).flags(Severity.CRITICAL, user, "");
        check("publisher-is-admin", survey.unread(unread, user)).isUnknownFor(unread);
    }

    @Test
    void whatIsTooComplexIsUnknownForItselfAlone() {
        String hostile = "{'Effect':'Deny','Action':['s3:*','iam:*'],'Resource':['arn:aws:s3:::*/*a" + "?".repeat(30)
                + "','arn:aws:s3:::*/*b" + "?".repeat(25) + "']}";
        SurveyBuilder survey = publisher(PUT, String.format(KEYS, "")).role("hostile", PIPELINE, "", FULL, hostile);
        Audit audit = Audited.audit(survey.cloud(SiteFile.empty()));
        assertThat(audit.findings())
                .anyMatch(finding -> finding.card().id().equals("publisher-can-escalate")
                        && finding.subject().equals(ROLE));
        assertThat(audit.unknowns())
                .anyMatch(unknown -> unknown.card().id().equals("publisher-can-escalate")
                        && unknown.verdict().subject().endsWith(":role/hostile"));
        assertThat(audit.sites()).noneMatch(audit::isHealthy);
    }

    @Test
    void hundredsOfThemEndInSeconds() {
        SurveyBuilder survey = sealed();
        IntStream.range(0, 200)
                .forEach(i -> survey.role(
                        "hostile-" + i,
                        PIPELINE,
                        "",
                        FULL,
                        "{'Effect':'Deny','Action':'*','Resource':'arn:aws:s3:::*/*a" + i + "?".repeat(30) + "'}"));
        Audit audit = Audited.audit(survey.cloud(SiteFile.empty()));
        assertThat(audit.unknowns().stream()
                        .filter(unknown -> unknown.card().id().equals("publisher-can-escalate"))
                        .map(unknown -> unknown.verdict().subject())
                        .distinct())
                .hasSize(200);
    }

    @ParameterizedTest
    @CsvSource({"zone-records", "distribution"})
    void aRecordThatMayLeadAroundTheEdgeIsOpen(String aspect) {
        String of = aspect.equals("zone-records") ? ZONE : EDGE;
        check("record-around-cdn", sealed().unread(aspect, of)).isUnknownFor(aspect);
    }

    /** Each of these checks reads what stands beside it; where that was not read, it says so itself. */
    @ParameterizedTest
    @CsvSource({
        "certificate-not-covering, certificate",
        "certificate-not-covering, distribution",
        "certificate-not-issued, certificate",
        "certificate-authority-barred, certificate",
        "certificate-authority-barred, zone-records",
        "content-wrong-type, object",
        "content-cache-policy, object",
        "apex-or-www-missing, zone-records",
        "apex-cname, zone-records",
        "root-key, account-summary",
    })
    void whatACheckReadsIsMissedByItself(String id, String aspect) {
        String of =
                switch (aspect) {
                    case "certificate" -> CERTIFICATE;
                    case "distribution" -> EDGE;
                    case "object" -> BUCKET_ARN + "/index.html";
                    case "zone-records" -> ZONE;
                    default -> SurveyBuilder.ACCOUNT;
                };
        check(id, sealed().unread(aspect, of)).isUnknownFor(aspect);
    }

    @Test
    void whatTheHostsRecordsWouldSayOfTheBucketIsOpen() {
        check("bucket-host-mismatch", open().unread("zone-records", ZONE)).isUnknownFor("zone-records");
    }

    @Test
    void aListThatIsCutShortMayHoldThePageOrTheFile() {
        String cut = "{'Contents':[{'Key':'index.html'}],'IsTruncated':true}";
        check("content-private-files", sealed().found("bucket-objects", BUCKET_ARN, cut))
                .isUnknownFor("bucket-objects");
        check("folder-index-unserved", sealed().found("bucket-objects", BUCKET_ARN, cut))
                .isUnknownFor("bucket-objects");
    }

    @Test
    void theNumberOfRootKeysIsNotNoughtBecauseItIsMissing() {
        check("root-key", sealed().found("account-summary", SurveyBuilder.ACCOUNT, "{'SummaryMap':{'Users':1}}"))
                .isUnknownFor("account-summary");
    }

    @Test
    void whoIsAnActorIsShownThoughHeWasNotRead() {
        Account account =
                sealed().unread("distribution", EDGE).unread("iam-role", ROLE).account();
        Matrix table = new BucketMatrix(new Reach(new Evaluator(account))).of(account.bucket(BUCKET), List.of());
        assertThat(table.unread()).extracting(row -> row.who()).contains(EDGE, ROLE);
        assertThat(table.unread()).allMatch(row -> row.abilities().values().stream()
                .allMatch(extent ->
                        extent.kind() == Extent.Kind.UNKNOWN && !extent.needs().isEmpty()));
    }

    @ParameterizedTest
    @ValueSource(strings = {"{'Statement':%s}", "{'Version':'2012-10-17','Id':'x','Statement':[%s]}"})
    void whatIsOnlyRespelledKeepsItsFingerprint(String document) {
        String plain = "{'Effect':'Allow','Principal':{'AWS':'*'},'Action':['s3:GetObject'],'Resource':['" + BUCKET_ARN
                + "/*']}";
        String respelled = "{'Sid':'Open','Resource':'" + BUCKET_ARN
                + "/*','Action':'s3:getobject','Principal':{'AWS':['*']},'Effect':'Allow'}";
        List<String> expected = fingerprints(String.format("{'Version':'2012-10-17','Statement':[%s]}", plain));
        assertThat(expected).isNotEmpty();
        assertThat(fingerprints(String.format(document, respelled))).isEqualTo(expected);
    }

    private static List<String> fingerprints(String policy) {
        SurveyBuilder survey = sealed().accountGuard(false)
                .bucket(BUCKET, bucket -> bucket.guard(false).policyText(SurveyBuilder.json(policy)));
        return Audited.audit(survey.cloud(SiteFile.empty())).findings().stream()
                .filter(finding -> finding.card().area() != Area.POLICY)
                .map(finding -> finding.card().id() + " " + finding.fingerprint())
                .sorted()
                .toList();
    }

    @Test
    void strangersAreFoundWhateverOnePageSays() {
        String stranger = "5".repeat(64);
        String spared =
                "{'Effect':'Deny','Principal':'*','Action':'s3:PutObject','Resource':'" + BUCKET_ARN + "/index.html'}";
        SurveyBuilder writes = sealed().bucket(BUCKET, bucket -> bucket.aclsInForce()
                .policy(spared)
                .acl(SurveyBuilder.acl(SurveyBuilder.grant("WRITE", stranger))));
        check("outside-account-access", writes).flags(Severity.CRITICAL, BUCKET_ARN, "which is not trusted");
        SurveyBuilder reads = sealed().bucket(BUCKET, bucket -> bucket.aclsInForce()
                .objectAcl("fares.html", SurveyBuilder.acl(SurveyBuilder.grant("READ", stranger))));
        check("outside-account-access", reads).flags(Severity.HIGH, BUCKET_ARN, "which is not trusted");
    }

    @ParameterizedTest
    @ValueSource(strings = {"'IsTruncated':true", "'ContinuationToken':'next'", "'NextContinuationToken':'next'"})
    void aBucketThatTheListMayStillNameIsNotGone(String more) {
        SurveyBuilder cut = sealed().found(
                        "bucket-list",
                        SurveyBuilder.ACCOUNT,
                        "{'Buckets':[{'Name':'" + BUCKET + "'}],'Owner':{'ID':'" + SurveyBuilder.OWNER + "'}," + more
                                + "}")
                .edit(
                        "zone-records",
                        ZONE,
                        "'ResourceRecordSets':[",
                        "'ResourceRecordSets':[{'Name':'crew.heronferry.example.','Type':'CNAME','TTL':1,'ResourceRecords':"
                                + "[{'Value':'crew.heronferry.example.s3-website-us-east-1.amazonaws.com'}]},");
        check("record-dangling", cut).isUnknownFor("bucket-list");
    }

    @Test
    void severityThatHangsOnSomethingUnreadIsSaidToBeAtLeastThat() {
        String read = "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::shed/*'}";
        SurveyBuilder cut = sealed().accountGuard(false)
                .bucket("shed", bucket -> bucket.policy(read))
                .found("bucket-objects", "arn:aws:s3:::shed", "{'Contents':[{'Key':'a'}],'IsTruncated':true}");
        Audit audit = Audited.audit(cut.cloud(SiteFile.empty()));
        assertThat(audit.findings())
                .anyMatch(finding ->
                        finding.card().id().equals("open-without-site") && finding.severity() == Severity.HIGH);
        assertThat(audit.unknowns()).anyMatch(unknown -> unknown.card().id().equals("open-without-site"));
    }
}
