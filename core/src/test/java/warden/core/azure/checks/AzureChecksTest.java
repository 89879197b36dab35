package warden.core.azure.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.azure.fixture.AzureSurvey.ACC;
import static warden.core.azure.fixture.AzureSurvey.AFD;
import static warden.core.azure.fixture.AzureSurvey.ENDPOINT;
import static warden.core.azure.fixture.AzureSurvey.HOST;
import static warden.core.azure.fixture.AzureSurvey.PUBLISHER;
import static warden.core.azure.fixture.AzureSurvey.RG;
import static warden.core.azure.fixture.AzureSurvey.SERVICE;
import static warden.core.azure.fixture.AzureSurvey.SUB;
import static warden.core.azure.fixture.AzureSurvey.WEB;
import static warden.core.azure.fixture.AzureSurvey.ZONE;
import static warden.core.azure.fixture.AzureSurvey.assignment;
import static warden.core.azure.fixture.AzureSurvey.definition;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import warden.core.CheckCatalogue;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.azure.fixture.AzureSurvey;
import warden.core.fixture.MendLaw;
import warden.core.site.SiteFile;
import warden.core.site.SitePattern;

/** Each check: flagged, near miss, unread. */
class AzureChecksTest {
    private static final String OPEN = "'networkAcls':{'defaultAction':'Allow'}";
    private static final String DENY = "'networkAcls':{'defaultAction':'Deny','ipRules':[]}";
    private static final String HOSTING =
            "'enabled':true,'indexDocument':'index.html','errorDocument404Path':'404.html'";
    private static final String ORIGIN = "quaysidewifi.z6.web.core.windows.net";
    private static final String BLOBS = "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/";
    private static final String CONTENT = "11111111-0000-4000-8000-00000000c001";
    private static final String PURGE = "11111111-0000-4000-8000-00000000c002";
    private static final String CONTRIBUTOR = "b24988ac-6180-42a0-ab88-20f7382dd24c";
    private static final String OWNER = "8e3af657-a8ff-443c-a75c-2fe8c4bcb635";

    private static AzureSurvey healthy() {
        return AzureSurvey.healthy();
    }

    private static void flags(String check, Severity severity, AzureSurvey survey) {
        flags(check, severity, survey, SiteFile.empty());
    }

    private static void flags(String check, Severity severity, AzureSurvey survey, SiteFile file) {
        Audit audit = survey.audit(file);
        List<Finding> findings = audit.findings().stream()
                .filter(finding -> finding.card().id().equals(check))
                .toList();
        assertThat(findings).as(check + " flags").isNotEmpty();
        assertThat(findings.get(0).severity()).as(check).isEqualTo(severity);
        MendLaw.holds(audit, findings.get(0), CheckCatalogue.asked());
    }

    private static void silent(String check, AzureSurvey survey) {
        silent(check, survey, SiteFile.empty());
    }

    private static void silent(String check, AzureSurvey survey, SiteFile file) {
        Audit audit = survey.audit(file);
        assertThat(audit.findings())
                .as(check + " is silent")
                .noneMatch(finding -> finding.card().id().equals(check));
        assertThat(audit.unknowns())
                .as(check + " is not open")
                .noneMatch(answer -> answer.card().id().equals(check));
    }

    private static void unknown(String check, AzureSurvey survey) {
        Audit audit = survey.audit();
        assertThat(audit.findings())
                .as(check + " is silent")
                .noneMatch(finding -> finding.card().id().equals(check));
        assertThat(audit.unknowns())
                .as(check + " is open")
                .anyMatch(answer -> answer.card().id().equals(check));
    }

    private static SiteFile stating(SitePattern pattern, SiteFile.Routing routing, boolean isPrivate) {
        return new SiteFile(
                List.of(new SiteFile.StatedSite(
                        HOST,
                        List.of(HOST),
                        Optional.ofNullable(pattern),
                        Optional.ofNullable(routing),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        List.of(),
                        List.of(),
                        Optional.empty(),
                        isPrivate)),
                List.of(),
                Optional.empty(),
                List.of());
    }

    @Test
    void exposure() {
        String anonymous = "'allowBlobPublicAccess':true,";
        AzureSurvey listable = healthy().account(anonymous + OPEN).containers("'$web':'None','exports':'Container'");
        flags("anyone-can-list", Severity.MEDIUM, listable);
        flags("open-without-site", Severity.HIGH, listable);
        AzureSurvey readable = healthy().account(anonymous + OPEN).containers("'$web':'None','exports':'Blob'");
        silent("anyone-can-list", readable);
        flags("open-without-site", Severity.HIGH, readable);
        silent("open-without-site", healthy().account(OPEN).containers("'$web':'None','exports':'Container'"));
        AzureSurvey silentAccount = healthy().account("'allowBlobPublicAccess':null," + OPEN);
        unknown("open-without-site", silentAccount.containers("'$web':'None','exports':'Container'"));
        unknown("anyone-can-list", healthy().unread("container-list", SERVICE));
        flags(
                "anyone-can-list",
                Severity.HIGH,
                healthy().account(anonymous + OPEN).containers("'$web':'Container'"),
                stating(SitePattern.WEB_CONTAINER_BEHIND_CDN, null, false));

        flags("open-endpoint-around-cdn", Severity.MEDIUM, healthy().account(OPEN));
        flags(
                "open-endpoint-around-cdn",
                Severity.MEDIUM,
                healthy().account("'networkAcls':{'defaultAction':'Deny','ipRules':[{'value':'0.0.0.0/1'}]}"));
        silent("open-endpoint-around-cdn", healthy());
        silent(
                "open-endpoint-around-cdn",
                healthy().account(OPEN),
                stating(SitePattern.OPEN_BUCKET_BEHIND_CDN, null, false));
        unknown("open-endpoint-around-cdn", healthy().account("'networkAcls':null"));
        unknown("open-endpoint-around-cdn", healthy().account("'publicNetworkAccess':'SecuredByPerimeter'"));

        flags("account-allows-open-containers", Severity.MEDIUM, healthy().account(anonymous + DENY));
        silent("account-allows-open-containers", readable);
        unknown("account-allows-open-containers", healthy().account("'allowBlobPublicAccess':null," + DENY));
        flags("account-key-access", Severity.MEDIUM, healthy().account("'allowSharedKeyAccess':null," + DENY));
        silent("account-key-access", healthy());
        flags("account-tls-old", Severity.MEDIUM, healthy().account("'minimumTlsVersion':'TLS1_1'," + DENY));
        flags("account-tls-old", Severity.MEDIUM, healthy().account("'minimumTlsVersion':null," + DENY));
        silent("account-tls-old", healthy().account("'minimumTlsVersion':'TLS1_3'," + DENY));
        unknown("account-tls-old", healthy().account("'minimumTlsVersion':'TLS9'," + DENY));
        flags("account-plain-http", Severity.HIGH, healthy().account("'supportsHttpsTrafficOnly':false," + DENY));
        unknown("account-plain-http", healthy().account("'supportsHttpsTrafficOnly':null," + DENY));
        flags("account-network-open", Severity.LOW, healthy().account(OPEN), stating(null, null, true));
        silent("account-network-open", healthy(), stating(null, null, true));
        silent("account-network-open", healthy().account(OPEN));
        AzureSurvey blobOrigin = healthy()
                .account(anonymous + OPEN)
                .containers("'$web':'Blob'")
                .frontDoor("'originPath':'/$web'")
                .origin(
                        "quaysidewifi.blob.core.windows.net",
                        "'originHostHeader':'quaysidewifi.blob.core.windows.net'");
        flags("open-around-cdn", Severity.HIGH, blobOrigin);
        flags("root-object-missing", Severity.HIGH, blobOrigin);
        flags("guard-contradicts-grant", Severity.HIGH, blobOrigin.account(OPEN));
        silent("guard-contradicts-grant", healthy());
        AzureSurvey wide = healthy()
                .found(
                        "blob-service",
                        SERVICE,
                        "{'properties':{'cors':{'corsRules':[{'allowedOrigins':['*'],'allowedMethods':['PUT']}]},"
                                + "'deleteRetentionPolicy':{'enabled':true},'staticWebsite':{" + HOSTING + "}}}");
        flags("cors-too-wide", Severity.MEDIUM, wide);
        silent("cors-too-wide", healthy());
        unknown("cors-too-wide", healthy().unread("blob-service", SERVICE));
        flags("outside-account-access", Severity.CRITICAL, delegated(OTHERS, CONTRIBUTOR));
        silent("outside-account-access", delegated("5A1C0DE0-1111-4222-8333-944445555666", CONTRIBUTOR));
        silent("outside-account-access", delegated(OTHERS, READER));
        flags("outside-account-access", Severity.CRITICAL, delegated(OTHERS, READER, CONTRIBUTOR));
        unknown("outside-account-access", delegated(OTHERS, "99999999-0000-4000-8000-000000000009"));
        unknown(
                "outside-account-access",
                healthy()
                        .list(
                                "delegated-management-list",
                                SUB,
                                "{'id':'d','properties':{'registrationDefinition':{}}}"));
        silent("outside-account-access", healthy());
        unknown("outside-account-access", healthy().unread("delegated-management-list", SUB));
    }

    /** A site whose plain requests a rule redirects where the scheme fits. */
    private static AzureSurvey redirecting(String scheme, String... before) {
        List<String> rules = new ArrayList<>(List.of(before));
        rules.add("{'name':'tls','properties':{'order':1,'conditions':[{'name':'RequestScheme','parameters':{" + scheme
                + "}}],'actions':[{'name':'UrlRedirect','parameters':{'redirectType':'Moved','destinationProtocol':"
                + "'Https'}}]}}");
        return healthy().frontDoor("'httpsRedirect':'Disabled'").rules(rules.toArray(String[]::new));
    }

    private static final String OTHERS = "99990000-0000-4000-8000-000000000000";
    private static final String READER = "acdd72a7-3385-48ef-bd42-f606fba81ae7";

    private static AzureSurvey delegated(String tenant, String... roles) {
        String authorizations = Stream.of(roles)
                .map(role -> "{'roleDefinitionId':'x/" + role + "'}")
                .collect(Collectors.joining(","));
        return healthy()
                .list(
                        "delegated-management-list",
                        SUB,
                        "{'id':'d','properties':{'registrationDefinition':{'properties':{'managedByTenantId':'" + tenant
                                + "','authorizations':[" + authorizations + "]}}}}");
    }

    @Test
    void hosting() {
        flags("hosting-off", Severity.HIGH, healthy().website("'enabled':false,'indexDocument':'index.html'"));
        silent("hosting-off", healthy());
        unknown("hosting-off", healthy().found("blob-service", SERVICE, "{'properties':{}}"));
        flags("index-missing", Severity.HIGH, healthy().blobs("Index.html", "404.html"));
        flags("index-missing", Severity.HIGH, healthy().website("'enabled':true,'errorDocument404Path':'404.html'"));
        silent("index-missing", healthy());
        unknown("index-missing", healthy().unread("container-blobs", WEB));
        unknown(
                "index-missing",
                healthy().found("container-blobs", WEB, "{'value':[{'name':'a.html'}],'nextMarker':'more'}"));
        silent(
                "index-missing",
                healthy().found("container-blobs", WEB, "{'value':[{'name':'index.html'}],'nextMarker':'more'}"));
        flags("index-invalid", Severity.HIGH, healthy().website("'enabled':true,'indexDocument':'a/index.html'"));
        silent("index-invalid", healthy());
        flags("error-unset", Severity.LOW, healthy().website("'enabled':true,'indexDocument':'index.html'"));
        silent("error-unset", healthy());
        flags("error-missing", Severity.MEDIUM, healthy().blobs("index.html"));
        unknown("error-missing", healthy().unread("container-blobs", WEB));
        silent(
                "error-missing",
                healthy().website("'enabled':true,'indexDocument':'index.html','errorDocument404Path':'/404.html'"));
        SiteFile singlePage = stating(null, SiteFile.Routing.SINGLE_PAGE, false);
        flags("single-page-unrouted", Severity.HIGH, healthy(), singlePage);
        silent(
                "single-page-unrouted",
                healthy().website("'enabled':true,'indexDocument':'index.html','errorDocument404Path':'index.html'"),
                singlePage);
        String rewrite = "{'name':'deep','properties':{'order':1,'conditions':[{'name':'UrlFileExtension','parameters':"
                + "{'operator':'LessThan','matchValues':['1'],'negateCondition':false}}],'actions':[{'name':'UrlRewrite',"
                + "'parameters':{'sourcePattern':'/','destination':'/index.html','preserveUnmatchedPath':false}}]}}";
        silent("single-page-unrouted", healthy().rules(rewrite), singlePage);
        flags("single-page-masks-errors", Severity.LOW, healthy().rules(rewrite));
        silent("single-page-masks-errors", healthy());
        unknown("single-page-masks-errors", healthy().rules(rewrite.replace("UrlFileExtension", "IsDevice")));
        flags(
                "versioning-off",
                Severity.MEDIUM,
                healthy().found("blob-service", SERVICE, "{'properties':{'staticWebsite':{" + HOSTING + "}}}"));
        silent("versioning-off", healthy());
        unknown("versioning-off", healthy().unread("blob-service", SERVICE));
        flags(
                "expires-live-content",
                Severity.HIGH,
                healthy()
                        .found(
                                "container-blobs",
                                WEB,
                                "{'value':[{'name':'index.html','properties':{'accessTier':'Archive'}},{'name':'404.html'}],'nextMarker':''}"));
        unknown(
                "expires-live-content",
                healthy()
                        .found(
                                "management-policy",
                                ACC,
                                "{'properties':{'policy':{'rules':[{'enabled':true,'definition':{'filters':{'prefixMatch':['$web/']}}}]}}}"));
        silent("expires-live-content", healthy());
        AzureSurvey direct = healthy()
                .list("cdn-profile-list", SUB)
                .records("'wifi':'" + ORIGIN + "'")
                .account(OPEN);
        flags("storage-logging-off", Severity.LOW, direct);
        flags("web-host-unregistered", Severity.HIGH, direct);
        flags("web-host-unregistered", Severity.HIGH, direct.account("'customDomain':{'name':'" + HOST + "'}," + OPEN));
        silent(
                "web-host-unregistered",
                direct.account("'supportsHttpsTrafficOnly':false,'customDomain':{'name':'" + HOST + "'}," + OPEN));
        silent("storage-logging-off", healthy());
        AzureSurvey unkind = healthy();
        unkind.list(
                "storage-account-list",
                SUB,
                "{'id':'" + ACC
                        + "','name':'quaysidewifi','kind':'BlobStorage','properties':{'primaryEndpoints':{'web':'https://"
                        + ORIGIN + "/'}}}");
        flags("account-kind-unsupported", Severity.HIGH, unkind);
        silent("account-kind-unsupported", healthy());
        AzureSurvey empty = AzureSurvey.empty()
                .account(OPEN)
                .website(HOSTING)
                .containers("'$web':'None'")
                .blobs();
        flags("hosting-unused", Severity.LOW, empty);
        silent("hosting-unused", healthy());
    }

    @Test
    void edges() {
        flags("viewer-plain-http", Severity.HIGH, healthy().frontDoor("'httpsRedirect':'Disabled'"));
        silent("viewer-plain-http", healthy());
        silent("viewer-plain-http", healthy().frontDoor("'httpsRedirect':'Disabled','supportedProtocols':['Https']"));
        unknown(
                "viewer-plain-http",
                healthy()
                        .frontDoor("'httpsRedirect':'Disabled'")
                        .unread("front-door-rule-list", AFD + "/ruleSets/headers"));
        silent("viewer-plain-http", redirecting("'operator':'Equal','matchValues':['HTTP']"));
        silent("viewer-plain-http", redirecting("'operator':'Equal','negateCondition':true,'matchValues':['HTTPS']"));
        flags(
                "viewer-plain-http",
                Severity.HIGH,
                redirecting("'operator':'Equal','negateCondition':true,'matchValues':['HTTP']"));
        unknown("viewer-plain-http", redirecting("'operator':'RegEx','matchValues':['HTTP']"));
        unknown(
                "viewer-plain-http",
                redirecting(
                        "'operator':'Equal','matchValues':['HTTP']",
                        "{'name':'first','properties':{'order':0,'matchProcessingBehavior':'Stop','conditions':[],"
                                + "'actions':[]}}"));
        String approved = "'domainValidationState':'Approved',";
        flags(
                "viewer-tls-old",
                Severity.MEDIUM,
                healthy().domain(approved + "'tlsSettings':{'minimumTlsVersion':'TLS10'}"));
        unknown("viewer-tls-old", healthy().domain(approved + "'tlsSettings':{}"));
        silent("viewer-tls-old", healthy());
        flags(
                "certificate-not-issued",
                Severity.HIGH,
                healthy().domain("'domainValidationState':'Pending','tlsSettings':{'minimumTlsVersion':'TLS12'}"));
        silent("certificate-not-issued", healthy());
        unknown(
                "certificate-not-issued",
                healthy()
                        .domain("'domainValidationState':'InternalError','tlsSettings':{'minimumTlsVersion':'TLS12'}"));
        flags(
                "certificate-not-renewing",
                Severity.MEDIUM,
                healthy()
                        .domain(
                                "'domainValidationState':'PendingRevalidation','tlsSettings':{'minimumTlsVersion':'TLS12'}"));
        AzureSurvey own = healthy()
                .domain(approved
                        + "'tlsSettings':{'certificateType':'CustomerCertificate','minimumTlsVersion':'TLS12','secret':{'id':'"
                        + AFD + "/secrets/s'}}");
        unknown("certificate-not-covering", own);
        own.list(
                "front-door-secret-list",
                AFD,
                "{'id':'" + AFD
                        + "/secrets/s','name':'s','properties':{'parameters':{'subjectAlternativeNames':['other.example'],'expirationDate':'2026-12-01T00:00:00Z'}}}");
        flags("certificate-not-covering", Severity.HIGH, own);
        flags("certificate-expiring", Severity.HIGH, own);
        own.list(
                "front-door-secret-list",
                AFD,
                "{'id':'" + AFD
                        + "/secrets/s','name':'s','properties':{'parameters':{'subjectAlternativeNames':['*.quayside.example'],'expirationDate':'2027-12-01T00:00:00Z'}}}");
        silent("certificate-not-covering", own);
        silent("certificate-expiring", own);
        flags("host-not-on-distribution", Severity.HIGH, healthy().frontDoor("'customDomains':[]"));
        silent("host-not-on-distribution", healthy());
        unknown("host-not-on-distribution", healthy().unread("front-door-route-list", ENDPOINT));
        flags("host-on-no-record", Severity.MEDIUM, healthy().records("'other':'a.example'"));
        silent("host-on-no-record", healthy());
        flags("origin-host-forwarded", Severity.HIGH, healthy().origin(ORIGIN, "'originHostHeader':''"));
        silent("origin-host-forwarded", healthy());
        flags(
                "origin-bucket-gone",
                Severity.CRITICAL,
                healthy()
                        .origin(
                                "gonewifi.z6.web.core.windows.net",
                                "'originHostHeader':'gonewifi.z6.web.core.windows.net'"));
        unknown(
                "origin-bucket-gone",
                healthy()
                        .origin("gonewifi.z6.web.core.windows.net", "'originHostHeader':'x'")
                        .takenBy(""));
        silent("origin-bucket-gone", healthy());
        flags("origin-path-missing", Severity.HIGH, healthy().frontDoor("'originPath':'/site'"));
        silent(
                "origin-path-missing",
                healthy().frontDoor("'originPath':'/site'").blobs("site/index.html"));
        unknown(
                "origin-path-missing",
                healthy().frontDoor("'originPath':'/site'").unread("container-blobs", WEB));
        flags("distribution-off", Severity.HIGH, healthy().frontDoor("'enabledState':'Disabled'"));
        silent("distribution-off", healthy());
        flags("cdn-logging-off", Severity.LOW, healthy().list("diagnostic-setting-list", AFD));
        unknown("cdn-logging-off", healthy().without("diagnostic-setting-list", AFD));
        silent("cdn-logging-off", healthy());
        flags("compression-off", Severity.LOW, healthy().frontDoor("'cacheConfiguration':{}"));
        silent("compression-off", healthy());
        flags("security-headers-missing", Severity.MEDIUM, healthy().rules());
        silent("security-headers-missing", healthy());
        AzureSurvey classic = classic("'customHttpsProvisioningState':'Disabled'");
        flags("cdn-classic-retiring", Severity.MEDIUM, classic);
        flags("cdn-custom-domain-no-https", Severity.HIGH, classic);
        flags("viewer-plain-http", Severity.HIGH, classic);
        silent("cdn-custom-domain-no-https", classic("'customHttpsProvisioningState':'Enabled'"));
        unknown("cdn-custom-domain-no-https", classic("'customHttpsProvisioningState':'Later'"));
        flags("certificate-not-issued", Severity.HIGH, classic("'customHttpsProvisioningState':'Enabling'"));
        flags(
                "viewer-tls-old",
                Severity.MEDIUM,
                classic(
                        "'customHttpsProvisioningState':'Enabled','customHttpsParameters':{'minimumTlsVersion':'None'}"));
        silent("cdn-classic-retiring", healthy());
    }

    private static AzureSurvey classic(String domain) {
        String cdn = RG + "/providers/Microsoft.Cdn/profiles/old";
        AzureSurvey survey = healthy()
                .list("cdn-profile-list", SUB, "{'id':'" + cdn + "','name':'old','sku':{'name':'Standard_Microsoft'}}")
                .records("'wifi':'old.azureedge.net'");
        survey.list(
                "cdn-endpoint-list",
                cdn,
                "{'id':'" + cdn
                        + "/endpoints/old','name':'old','properties':{'hostName':'old.azureedge.net','resourceState':'Running','originHostHeader':'"
                        + ORIGIN + "','origins':[{'name':'o','properties':{'hostName':'" + ORIGIN
                        + "'}}],'customDomains':[{'name':'wifi','properties':{'hostName':'" + HOST + "'}}]}}");
        return survey.list(
                "cdn-custom-domain-list",
                cdn + "/endpoints/old",
                "{'id':'" + cdn + "/endpoints/old/customDomains/wifi','name':'wifi','properties':{'hostName':'" + HOST
                        + "'," + domain + "}}");
    }

    private static AzureSurvey authority(String name) {
        return healthy()
                .list(
                        "dns-records",
                        ZONE,
                        "{'id':'" + ZONE
                                + "/CAA/@','name':'@','type':'Microsoft.Network/dnszones/CAA','properties':{'TTL':60,"
                                + "'caaRecords':[{'flags':0,'tag':'issue','value':'" + name + "'}]}}");
    }

    @Test
    void names() {
        flags("record-dangling", Severity.CRITICAL, healthy().records("'wifi':'gonewifi.z6.web.core.windows.net'"));
        flags("record-dangling", Severity.CRITICAL, healthy().records("'wifi':'quaysidewifi.z7.web.core.windows.net'"));
        flags("record-dangling", Severity.CRITICAL, healthy().records("'wifi':'gone.azureedge.net'"));
        flags("record-dangling", Severity.MEDIUM, healthy().records("'wifi':'gone-abc.z01.azurefd.net'"));
        flags(
                "record-dangling",
                Severity.MEDIUM,
                healthy().records("'wifi':'gray-sand-0d1b2c3d4.azurestaticapps.net'"));
        unknown("certificate-authority-barred", authority("letsencrypt.org"));
        silent("certificate-authority-barred", authority("digicert.com"));
        silent("certificate-authority-barred", healthy());
        unknown("certificate-authority-barred", healthy().unread("dns-records", ZONE));
        unknown("record-dangling", healthy().records("'wifi':'classic.azurefd.net'"));
        unknown(
                "record-dangling",
                healthy()
                        .records("'wifi':'quaysidewifi.z7.web.core.windows.net'")
                        .account("'primaryEndpoints':null"));
        unknown(
                "record-dangling",
                healthy()
                        .records("'wifi':'gray-sand-0d1b2c3d4.azurestaticapps.net'")
                        .list("static-site-list", SUB, "{'id':'menu','properties':{}}"));
        unknown(
                "record-dangling",
                healthy().records("'wifi':'gonewifi.z6.web.core.windows.net'").takenBy(""));
        silent("record-dangling", healthy());
        flags(
                "record-around-cdn",
                Severity.MEDIUM,
                healthy()
                        .records("'wifi':'" + ORIGIN + "'")
                        .account("'customDomain':{'name':'" + HOST + "'},'supportsHttpsTrafficOnly':false," + OPEN));
        silent("record-around-cdn", healthy());
        AzureSurvey alias = healthy();
        alias.list(
                "dns-records",
                ZONE,
                "{'id':'a','name':'wifi','type':'Microsoft.Network/dnszones/A','properties':{'targetResource':{'id':'"
                        + AFD + "/afdEndpoints/gone'}}}");
        flags("host-unresolved", Severity.HIGH, alias);
        silent("host-unresolved", healthy());
        AzureSurvey aliased = healthy();
        aliased.list(
                "dns-records",
                ZONE,
                "{'id':'a','name':'wifi','type':'Microsoft.Network/dnszones/A','properties':{'targetResource':{'id':'"
                        + ENDPOINT + "'}}}");
        flags("ipv6-record-missing", Severity.LOW, aliased);
        silent("host-unresolved", aliased);
        silent("ipv6-record-missing", healthy());
        unknown("zone-not-delegated", healthy());
        flags(
                "leftover-zone",
                Severity.LOW,
                healthy()
                        .list(
                                "dns-records",
                                ZONE,
                                "{'id':'n','name':'@','type':'Microsoft.Network/dnszones/NS','properties':{}}"));
        silent("leftover-zone", healthy());
        flags(
                "leftover-distribution",
                Severity.LOW,
                healthy().frontDoor("'customDomains':[]").records("'other':'a.example'"));
        silent("leftover-distribution", healthy());
        silent("zone-duplicate", healthy());
    }

    /** Returns a healthy site with a publisher that may do just what it needs. */
    private static AzureSurvey published(String... more) {
        AzureSurvey survey = healthy()
                .account("'networkAcls':{'defaultAction':'Allow'}")
                .definitions(
                        definition(
                                CONTENT,
                                "content",
                                "",
                                "",
                                "'" + BLOBS + "read','" + BLOBS + "write','" + BLOBS + "delete'"),
                        definition(PURGE, "purge", "'Microsoft.Cdn/profiles/afdEndpoints/Purge/action'", "", ""));
        List<String> all = new ArrayList<>(List.of(more));
        all.add(assignment(CONTENT, PUBLISHER, "ServicePrincipal", WEB, ""));
        all.add(assignment(PURGE, PUBLISHER, "ServicePrincipal", ENDPOINT, ""));
        survey.assignments(all.toArray(String[]::new));
        survey.list("member-of", "servicePrincipals/" + PUBLISHER);
        survey.found(
                "service-principal",
                "servicePrincipals/" + PUBLISHER,
                "{'id':'" + PUBLISHER
                        + "','appId':'11111111-2222-4333-8444-555555555555','displayName':'quaysidewifi-publisher','servicePrincipalType':'Application'}");
        return secrets(survey, "");
    }

    private static AzureSurvey secrets(AzureSurvey survey, String passwords) {
        survey.found(
                "application",
                "applications/app",
                "{'id':'app','appId':'11111111-2222-4333-8444-555555555555','passwordCredentials':[" + passwords
                        + "]}");
        return federated(survey, "'subject':'repo:heron-sound/wifi:ref:refs/heads/main'");
    }

    private static AzureSurvey federated(AzureSurvey survey, String subject) {
        return survey.list(
                "federated-credential-list",
                "applications/app",
                "{'id':'f','name':'main','issuer':'https://token.actions.githubusercontent.com'," + subject
                        + ",'audiences':['api://AzureADTokenExchange']}");
    }

    private static AzureSurvey also(String role, String scope, String condition) {
        return published(assignment(role, PUBLISHER, "ServicePrincipal", scope, condition));
    }

    @Test
    void credentials() {
        Set<String> ids = published().audit().findings().stream()
                .map(finding -> finding.card().id())
                .collect(Collectors.toCollection(TreeSet::new));
        assertThat(ids).containsExactly("open-endpoint-around-cdn");
        assertThat(published().audit().context().publishers())
                .extracting(each -> each.id())
                .containsExactly("servicePrincipals/" + PUBLISHER);
        flags("publisher-is-admin", Severity.CRITICAL, also(OWNER, SUB, ""));
        silent("publisher-is-admin", published());
        unknown("publisher-is-admin", published().unread("role-assignment-list", SUB + "?atScope()"));
        flags("assignment-too-wide", Severity.HIGH, also(CONTRIBUTOR, RG, ""));
        flags("assignment-too-wide", Severity.CRITICAL, also(OWNER, RG, ""));
        flags("assignment-too-wide", Severity.HIGH, also(CONTENT, ACC, ""));
        silent("assignment-too-wide", published());
        silent("assignment-too-wide", also("acdd72a7-3385-48ef-bd42-f606fba81ae7", SUB, ""));
        String pinned = "\"((!(ActionMatches{'" + BLOBS
                + "*'})) OR (@Resource[Microsoft.Storage/storageAccounts/blobServices/containers:name] StringEquals '$web'))\"";
        silent("assignment-too-wide", also(CONTENT, ACC, pinned));
        unknown("assignment-too-wide", also(CONTENT, ACC, "\"@Request[x] StringEquals 'y'\""));
        String escalating = "22222222-0000-4000-8000-00000000c002";
        AzureSurvey escalates = also(escalating, RG, "");
        escalates.definitions(
                definition(
                        CONTENT, "content", "", "", "'" + BLOBS + "read','" + BLOBS + "write','" + BLOBS + "delete'"),
                definition(
                        escalating,
                        "identities",
                        "'Microsoft.ManagedIdentity/userAssignedIdentities/federatedIdentityCredentials/write'",
                        "",
                        ""));
        flags("publisher-can-escalate", Severity.CRITICAL, escalates);
        flags(
                "publisher-can-escalate",
                Severity.CRITICAL,
                published().list("application-owners", "applications/other", "{'id':'" + PUBLISHER + "'}"));
        silent(
                "publisher-can-escalate",
                published().list("application-owners", "applications/other", "{'id':'somebody-else'}"));
        // One role assigns identities, another runs code.
        String assigns = "22222222-0000-4000-8000-00000000c003";
        String runs = "22222222-0000-4000-8000-00000000c004";
        AzureSurvey both = published(
                assignment(assigns, PUBLISHER, "ServicePrincipal", RG, ""),
                assignment(runs, PUBLISHER, "ServicePrincipal", RG, ""));
        both.definitions(
                definition(
                        CONTENT, "content", "", "", "'" + BLOBS + "read','" + BLOBS + "write','" + BLOBS + "delete'"),
                definition(
                        assigns, "assigns", "'Microsoft.ManagedIdentity/userAssignedIdentities/assign/action'", "", ""),
                definition(runs, "runs", "'Microsoft.Web/sites/write'", "", ""));
        flags("publisher-can-escalate", Severity.CRITICAL, both);
        AzureSurvey vaults = also(escalating, RG, "");
        vaults.definitions(
                definition(
                        CONTENT, "content", "", "", "'" + BLOBS + "read','" + BLOBS + "write','" + BLOBS + "delete'"),
                definition(escalating, "vaults", "'Microsoft.KeyVault/vaults/write'", "", ""));
        unknown("publisher-can-escalate", vaults);
        flags("publisher-excess-services", Severity.MEDIUM, escalates);
        silent("publisher-can-escalate", published());
        AzureSurvey rules = published();
        rules.definitions(definition(
                CONTENT,
                "content",
                "'Microsoft.Storage/storageAccounts/blobServices/containers/write'",
                "",
                "'" + BLOBS + "read','" + BLOBS + "write','" + BLOBS + "deleteBlobVersion/action','" + BLOBS
                        + "tags/write'"));
        flags("publisher-can-change-rules", Severity.HIGH, rules);
        flags("publisher-can-lose-versions", Severity.MEDIUM, rules);
        flags("publisher-excess-actions", Severity.LOW, rules);
        silent("publisher-can-change-rules", published());
        silent("publisher-can-lose-versions", published());
        silent("publisher-excess-actions", published());
        AzureSurvey cannot = published();
        cannot.definitions(definition(CONTENT, "content", "", "", "'" + BLOBS + "write'"));
        flags("publisher-cannot-publish", Severity.HIGH, cannot);
        silent("publisher-cannot-publish", published());
        flags(
                "trust-pull-requests",
                Severity.HIGH,
                federated(published(), "'subject':'repo:heron-sound/wifi:pull_request'"));
        silent("trust-pull-requests", published());
        flags(
                "trust-too-wide",
                Severity.CRITICAL,
                federated(published(), "'claimsMatchingExpression':{'value':'matches any'}"));
        silent("trust-too-wide", published());
        unknown("trust-too-wide", published().unread("federated-credential-list", "applications/app"));
        flags(
                "principal-secret-long",
                Severity.MEDIUM,
                secrets(
                        published(),
                        "{'keyId':'k','startDateTime':'2026-01-01T00:00:00Z','endDateTime':'2027-01-01T00:00:00Z'}"));
        silent(
                "principal-secret-long",
                secrets(
                        published(),
                        "{'keyId':'k','startDateTime':'2026-10-01T00:00:00Z','endDateTime':'2027-01-01T00:00:00Z'}"));
        silent(
                "principal-secret-long",
                secrets(
                        published(),
                        "{'keyId':'k','startDateTime':'2024-01-01T00:00:00Z','endDateTime':'2026-01-01T00:00:00Z'}"));
        AzureSurvey ending = secrets(
                        published(),
                        "{'keyId':'k','startDateTime':'2026-10-01T00:00:00Z','endDateTime':'2026-12-01T00:00:00Z'}")
                .list("federated-credential-list", "applications/app");
        flags("principal-secret-expiring", Severity.MEDIUM, ending);
        silent("principal-secret-expiring", published());
        flags(
                "policy-stale-principal",
                Severity.LOW,
                published().absent("service-principal", "servicePrincipals/" + PUBLISHER, "Request_ResourceNotFound"));
        silent("policy-stale-principal", published());
        AzureSurvey odd = published();
        odd.definitions(definition(
                CONTENT, "content", "", "", "'" + BLOBS + "read','" + BLOBS + "write','" + BLOBS + "remove'"));
        flags("policy-unknown-action", Severity.MEDIUM, odd);
        silent("policy-unknown-action", published());
        AzureSurvey leftover = published(assignment(
                CONTENT,
                "55550000-0000-4000-8000-000000000000",
                "ServicePrincipal",
                RG + "/providers/Microsoft.Storage/storageAccounts/gone",
                ""));
        flags("leftover-publisher", Severity.MEDIUM, leftover);
        silent("leftover-publisher", published());
    }
}
