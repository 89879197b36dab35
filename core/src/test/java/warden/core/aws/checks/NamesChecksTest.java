package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.Audited.check;
import static warden.core.fixture.HealthySites.APEX;
import static warden.core.fixture.HealthySites.BUCKET;
import static warden.core.fixture.HealthySites.CERTIFICATE;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.HOST;
import static warden.core.fixture.HealthySites.ZONE;
import static warden.core.fixture.HealthySites.open;
import static warden.core.fixture.HealthySites.sealed;
import static warden.core.fixture.PipelineBuilder.aPipeline;
import static warden.core.fixture.SurveyBuilder.ACCOUNT;

import java.util.Optional;
import org.junit.jupiter.api.Test;
import warden.core.audit.Severity;
import warden.core.fixture.Audited;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

/** Hit, near miss and unread of each check of the areas certificate, dns and leftovers that SiteChecksTest does not hold. */
class NamesChecksTest {
    private static final String CUSTOM = "'ACMCertificateArn':'" + CERTIFICATE
            + "','SSLSupportMethod':'sni-only','MinimumProtocolVersion':'TLSv1.2_2021'}";
    private static final String THE_CDNS = "'CloudFrontDefaultCertificate':true}";

    private static SurveyBuilder certificate(String from, String to) {
        return sealed().edit("certificate", CERTIFICATE, from, to);
    }

    private static SurveyBuilder records(String from, String to) {
        return sealed().edit("zone-records", ZONE, from, to);
    }

    private static SurveyBuilder withoutCertificate() {
        return sealed().edit("distribution", EDGE, CUSTOM, THE_CDNS).without("certificate", CERTIFICATE);
    }

    @Test
    void certificateMissing() {
        check("certificate-missing", withoutCertificate()).flags(Severity.HIGH, EDGE, "only the CDN's own certificate");
        check("certificate-missing", sealed()).isSilent();
        check(
                        "certificate-missing",
                        sealed().edit("distribution", EDGE, CUSTOM, THE_CDNS)
                                .edit("distribution", EDGE, "['heronferry.example','www.heronferry.example']", "[]"))
                .isSilent();
    }

    @Test
    void certificateNotCovering() {
        check(
                        "certificate-not-covering",
                        certificate(
                                "'heronferry.example','*.heronferry.example'],'Domain",
                                "'heronferry.example'],'Domain"))
                .flags(Severity.HIGH, CERTIFICATE, "does not cover " + HOST);
        check(
                        "certificate-not-covering",
                        sealed().edit("distribution", EDGE, "'www.heronferry.example'", "'a.www.heronferry.example'"))
                .flags(Severity.HIGH, CERTIFICATE, "a.www.heronferry.example");
        check("certificate-not-covering", sealed()).isSilent();
        check("certificate-not-covering", sealed().unread("certificate", CERTIFICATE))
                .isUnknownFor("certificate");
        check("certificate-not-covering", sealed().without("certificate", CERTIFICATE))
                .isUnknownFor("certificate");
    }

    @Test
    void certificateWrongRegion() {
        String elsewhere = CERTIFICATE.replace("us-east-1", "eu-west-1");
        SurveyBuilder wrong = withoutCertificate()
                .found(
                        "certificate",
                        elsewhere,
                        "{'Certificate':{'DomainName':'*.heronferry.example','Status':'ISSUED','Type':'AMAZON_ISSUED','InUseBy':[]}}");
        check("certificate-wrong-region", wrong).flags(Severity.HIGH, elsewhere, "lies in eu-west-1");
        check("certificate-missing", wrong).isSilent();
        check("leftover-certificate", wrong).doesNotApply();
        SurveyBuilder second = sealed().found(
                        "certificate",
                        elsewhere,
                        "{'Certificate':{'DomainName':'*.heronferry.example','Status':'ISSUED','Type':'AMAZON_ISSUED','InUseBy':[]}}");
        check("certificate-wrong-region", second).isSilent();
        check("leftover-certificate", second).flags(Severity.LOW, elsewhere, "is used by nothing");
        check("certificate-wrong-region", wrong.unread("distribution", EDGE)).isUnknownFor("distribution");
    }

    @Test
    void certificateNotIssued() {
        SurveyBuilder pending = withoutCertificate()
                .found(
                        "certificate",
                        CERTIFICATE,
                        "{'Certificate':{'DomainName':'www.heronferry.example','Status':'PENDING_VALIDATION','InUseBy':[]}}");
        check("certificate-not-issued", pending).flags(Severity.HIGH, CERTIFICATE, "status PENDING_VALIDATION");
        check("certificate-missing", pending).isSilent();
        check("certificate-not-issued", certificate("'ISSUED'", "'REVOKED'"))
                .flags(Severity.HIGH, CERTIFICATE, "REVOKED");
        SurveyBuilder unwanted = sealed().found(
                        "certificate",
                        CERTIFICATE + "x",
                        "{'Certificate':{'DomainName':'x.heronferry.example','Status':'FAILED','InUseBy':[]}}");
        check("certificate-not-issued", unwanted).isSilent();
        check("certificate-not-issued", sealed().unread("certificate", CERTIFICATE))
                .isUnknownFor("certificate");
    }

    @Test
    void certificateExpiring() {
        String end = "2027-03-11T23:59:59+00:00";
        check("certificate-expiring", certificate(end, "2026-11-01T00:00:00Z"))
                .flags(Severity.CRITICAL, CERTIFICATE, "has expired");
        SurveyBuilder soon =
                certificate(end, "2026-12-10T00:00:00Z").edit("certificate", CERTIFICATE, "AMAZON_ISSUED", "IMPORTED");
        check("certificate-expiring", soon).flags(Severity.HIGH, CERTIFICATE, "ends in 16 days");
        check("certificate-not-renewing", soon).doesNotApply();
        check("certificate-expiring", certificate(end, "2026-12-10T00:00:00Z")).isSilent();
        check("certificate-expiring", certificate(end, "tomorrow")).isUnknownFor("certificate");
    }

    @Test
    void certificateNotRenewing() {
        check("certificate-not-renewing", certificate("AMAZON_ISSUED", "IMPORTED"))
                .flags(Severity.MEDIUM, CERTIFICATE, "it was imported");
        check("certificate-not-renewing", certificate("'ValidationMethod':'DNS'", "'ValidationMethod':'EMAIL'"))
                .flags(Severity.MEDIUM, CERTIFICATE, "validated by mail");
        check("certificate-not-renewing", records("'Name':'_p.heronferry.example.'", "'Name':'_q.heronferry.example.'"))
                .flags(Severity.MEDIUM, CERTIFICATE, "_p.heronferry.example is gone from DNS");
        check("certificate-not-renewing", sealed()).isSilent();
        check("certificate-not-renewing", sealed().unread("zone-records", ZONE)).isUnknownFor("zone-records");
    }

    @Test
    void certificateWeakKey() {
        check("certificate-weak-key", certificate("RSA-2048", "RSA-1024"))
                .flags(Severity.MEDIUM, CERTIFICATE, "RSA-1024");
        check("certificate-weak-key", certificate("SHA256WITHRSA", "SHA1WITHRSA"))
                .flags(Severity.MEDIUM, CERTIFICATE, "SHA1WITHRSA");
        check("certificate-weak-key", certificate("RSA-2048", "EC-prime256v1")).isSilent();
        check("certificate-weak-key", sealed().unread("certificate", CERTIFICATE))
                .isUnknownFor("certificate");
    }

    private static final String TO_EDGE =
            "'AliasTarget':{'HostedZoneId':'Z2FDTNDATAQYW2','DNSName':'e1.cloudfront.net.'}}";

    @Test
    void recordAroundCdn() {
        String www = "{'Name':'www.heronferry.example.','Type':'A',";
        SurveyBuilder around = records(
                        www + TO_EDGE, www + "'AliasTarget':{'DNSName':'s3-website-us-east-1.amazonaws.com.'}}")
                .bucket(HOST, bucket -> bucket.guard(true));
        check("record-around-cdn", around).flags(Severity.MEDIUM, HOST, "straight to s3-website");
        check("record-around-cdn", sealed()).isSilent();
        check("record-around-cdn", sealed().unread("zone-records", ZONE)).isUnknownFor("zone-records");
    }

    @Test
    void hostUnresolved() {
        String gate =
                "'ResourceRecordSets':[{'Name':'gate.heronferry.example.','Type':'CNAME','TTL':1,'ResourceRecords':[{'Value':'%s'}]},";
        String gone = "gone.heronferry.example";
        check(
                        "host-unresolved",
                        sealed().edit("zone-records", ZONE, "'ResourceRecordSets':[", String.format(gate, gone)))
                .flags(Severity.HIGH, "gate.heronferry.example", "leads to gone.heronferry.example, which has no");
        check(
                        "host-unresolved",
                        sealed().edit("zone-records", ZONE, "'ResourceRecordSets':[", String.format(gate, HOST)))
                .isSilent();
        check(
                        "host-unresolved",
                        sealed().edit(
                                        "zone-records",
                                        ZONE,
                                        "'ResourceRecordSets':[",
                                        String.format(gate, "www.elsewhere.example")))
                .isSilent();
        SurveyBuilder none = records("'Name':'www.heronferry.example.'", "'Name':'x.heronferry.example.'");
        check("host-unresolved", none).flags(Severity.HIGH, HOST, "has no address record");
        check("apex-or-www-missing", none).doesNotApply();
        check("host-unresolved", records("'Name':'www.heronferry.example.'", "'Name':'\\\\052.heronferry.example.'"))
                .isSilent();
        check("host-unresolved", sealed().unread("zone-records", ZONE)).isUnknownFor("zone-records");
        SurveyBuilder delegated = records(
                        "'Name':'www.heronferry.example.','Type':'A'", "'Name':'www.heronferry.example.','Type':'NS'")
                .edit(
                        "zone-records",
                        ZONE,
                        "{'Name':'www.heronferry.example.','Type':'AAAA'",
                        "{'Name':'y.heronferry.example.','Type':'AAAA'");
        check("host-unresolved", delegated).isUnknownFor("zone-records");
    }

    @Test
    void apexOrWwwMissing() {
        SurveyBuilder onlyApex = records("'Name':'www.heronferry.example.'", "'Name':'x.heronferry.example.'")
                .edit(
                        "distribution",
                        EDGE,
                        "'heronferry.example','www.heronferry.example'",
                        "'heronferry.example','x.heronferry.example'");
        check("apex-or-www-missing", onlyApex).flags(Severity.LOW, HOST, "does not exist");
        check("apex-or-www-missing", sealed()).isSilent();
        check("apex-or-www-missing", open()).doesNotApply();
    }

    @Test
    void apexCname() {
        String apex = "{'Name':'heronferry.example.','Type':'A'," + TO_EDGE;
        check(
                        "apex-cname",
                        records(
                                apex,
                                "{'Name':'heronferry.example.','Type':'CNAME','ResourceRecords':[{'Value':'e1.cloudfront.net'}]}"))
                .flags(Severity.HIGH, APEX, "has a CNAME record");
        check("apex-cname", sealed()).isSilent();
        check("apex-cname", sealed().unread("zone-records", ZONE)).isUnknownFor("zone-records");
    }

    @Test
    void ipv6RecordMissing() {
        String aaaa = ",{'Name':'www.heronferry.example.','Type':'AAAA'," + TO_EDGE;
        check("ipv6-record-missing", records(aaaa, "")).flags(Severity.LOW, HOST, "has an A record and no AAAA");
        check(
                        "ipv6-record-missing",
                        records(aaaa, "").edit("distribution", EDGE, "'IsIPV6Enabled':true", "'IsIPV6Enabled':false"))
                .doesNotApply();
        check("ipv6-record-missing", sealed()).isSilent();
        check(
                        "ipv6-record-missing",
                        records(aaaa, "").edit("zone-records", ZONE, "'IsTruncated':false", "'IsTruncated':true"))
                .isUnknownFor("zone-records");
    }

    @Test
    void zoneNotDelegated() {
        check("zone-not-delegated", sealed().edit("domain", APEX, "ns-1.example.net", "ns-9.example.net"))
                .flags(Severity.HIGH, ZONE, "is delegated to ns-2.example.org, ns-9.example.net");
        check("zone-not-delegated", sealed()).isSilent();
        check("zone-not-delegated", sealed().absent("domain", APEX, "DomainNotFound"))
                .doesNotApply();
        check("zone-not-delegated", sealed().unread("domain", APEX)).isUnknownFor("domain");
    }

    @Test
    void domainExpiring() {
        check(
                        "domain-expiring",
                        sealed().edit("domain", APEX, "true", "false").edit("domain", APEX, "2027-06-01", "2026-12-20"))
                .flags(Severity.HIGH, APEX, "ends in 26 days");
        check("domain-expiring", sealed().edit("domain", APEX, "2027-06-01", "2026-12-20"))
                .isSilent();
        check("domain-expiring", sealed().edit("domain", APEX, "clientTransferProhibited", "ok"))
                .flags(Severity.MEDIUM, APEX, "transfer lock");
        check("domain-expiring", sealed().unread("domain", APEX)).isUnknownFor("domain");
    }

    @Test
    void certificateAuthorityBarred() {
        check("certificate-authority-barred", records("0 issue \\'amazon.com\\'", "0 issue \\'other-ca.example\\'"))
                .flags(Severity.HIGH, APEX, "does not allow the certificate authority");
        check(
                        "certificate-authority-barred",
                        records("0 issue \\'amazon.com\\'", "0 iodef \\'mailto:x@heronferry.example\\'"))
                .isSilent();
        check(
                        "certificate-authority-barred",
                        records(
                                "{'Value':'0 issue \\'amazon.com\\''}",
                                "{'Value':'0 issue \\'amazon.com\\''},{'Value':'0 issuewild \\';\\''}"))
                .flags(Severity.HIGH, APEX, "*.heronferry.example");
        check("certificate-authority-barred", sealed()).isSilent();
        check("certificate-authority-barred", sealed().unread("zone-records", ZONE))
                .isUnknownFor("zone-records");
    }

    @Test
    void aDomainConcernsTheSitesBelowIt() {
        SurveyBuilder below = SurveyBuilder.aSurvey()
                .bucket(HOST)
                .zone(SurveyBuilder.alias(HOST, "s3-website-us-east-1.amazonaws.com"))
                .unread("domain", APEX);
        assertThat(Audited.audit(below.cloud(SiteFile.empty())).unknowns())
                .filteredOn(answer -> answer.card().id().equals("domain-expiring"))
                .extracting(answer -> answer.verdict().site())
                .containsExactly(Optional.of(HOST));
    }

    @Test
    void zoneDuplicate() {
        SurveyBuilder two = sealed().found(
                        "zone",
                        "hostedzone/Z2",
                        "{'HostedZone':{'Id':'/hostedzone/Z2','Name':'heronferry.example.'},'DelegationSet':{'NameServers':['ns-7.example.net']}}")
                .found("zone-records", "hostedzone/Z2", "{'ResourceRecordSets':[],'IsTruncated':false}");
        String listed = "{'HostedZones':[{'Id':'/hostedzone/Z1','Name':'heronferry.example.'},"
                + "{'Id':'/hostedzone/Z2','Name':'heronferry.example.','Config':{'PrivateZone':false}}],'IsTruncated':false}";
        check("zone-duplicate", sealed().found("zone-list", ACCOUNT, listed))
                .flags(Severity.MEDIUM, "hostedzone/Z2", "There are 2 public zones");
        check("record-dangling", sealed().found("zone-list", ACCOUNT, listed)).isUnknownFor("zone-records");
        check("zone-duplicate", sealed().without("zone-list", ACCOUNT)).isUnknownFor("zone-list");
        check("record-dangling", sealed().unread("zone-list", ACCOUNT)).isUnknownFor("zone-list");
        check("zone-duplicate", sealed().edit("zone-list", ACCOUNT, "'IsTruncated':false", "'IsTruncated':true"))
                .isUnknownFor("zone-list");
        check("zone-duplicate", two)
                .flags(Severity.MEDIUM, "hostedzone/Z2", "There are 2 public zones called heronferry.example");
        check("zone-not-delegated", two).isSilent();
        check(
                        "zone-duplicate",
                        two.edit(
                                "zone",
                                "hostedzone/Z2",
                                "'Name':'heronferry.example.'",
                                "'Name':'heronferry.example.','Config':{'PrivateZone':true}"))
                .isSilent();
    }

    @Test
    void leftoverDistribution() {
        String second = SurveyBuilder.distributionArn("E2");
        SurveyBuilder idle = sealed().distribution("E2", "", "index.html", SurveyBuilder.restOrigin(BUCKET, "", "C1"));
        check("leftover-distribution", idle).flags(Severity.LOW, second, "No host, no record and no pipeline");
        check(
                        "leftover-distribution",
                        idle,
                        aPipeline()
                                .text("create-invalidation --distribution-id E2")
                                .build())
                .isSilent();
        check("leftover-distribution", sealed().edit("distribution", EDGE, "},'Enabled':true,", "},'Enabled':false,"))
                .isSilent();
        check("leftover-distribution", sealed()).isSilent();
    }

    @Test
    void leftoverZone() {
        SurveyBuilder empty = sealed().found("zone", "hostedzone/Z3", "{'HostedZone':{'Name':'old-heron.example.'}}")
                .found(
                        "zone-records",
                        "hostedzone/Z3",
                        "{'ResourceRecordSets':[{'Name':'old-heron.example.','Type':'NS'},{'Name':'old-heron.example.','Type':'SOA'}],'IsTruncated':false}");
        check("leftover-zone", empty).flags(Severity.LOW, "hostedzone/Z3", "nothing but its own NS and SOA");
        check("leftover-zone", sealed()).isSilent();
        check("leftover-zone", sealed().unread("zone-records", ZONE)).isUnknownFor("zone-records");
    }

    @Test
    void leftoverPublisher() {
        String write = "{'Effect':'Allow','Action':['s3:PutObject','s3:DeleteObject'],'Resource':'arn:aws:s3:::%s/*'}";
        String arn = "arn:aws:iam::210987654321:user/old-publisher";
        check("leftover-publisher", sealed().user("old-publisher", write.formatted("heron-gone")))
                .flags(Severity.MEDIUM, arn, "heron-gone, which is not in the account any more");
        check("leftover-publisher", sealed().user("old-publisher", write.formatted(BUCKET)))
                .isSilent();
        check("leftover-publisher", sealed().user("old-publisher", write.formatted("heron-*")))
                .doesNotApply();
        check(
                        "leftover-publisher",
                        sealed().user("old-publisher", write.formatted("heron-gone"))
                                .withoutBucketList())
                .isUnknownFor("bucket-list");
    }
}
