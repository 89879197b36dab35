package warden.core.azure.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.azure.fixture.AzureSurvey.ACC;
import static warden.core.azure.fixture.AzureSurvey.AFD;
import static warden.core.azure.fixture.AzureSurvey.ENDPOINT;
import static warden.core.azure.fixture.AzureSurvey.HOST;
import static warden.core.azure.fixture.AzureSurvey.NOW;
import static warden.core.azure.fixture.AzureSurvey.SERVICE;
import static warden.core.azure.fixture.AzureSurvey.SUB;
import static warden.core.azure.fixture.AzureSurvey.WEB;
import static warden.core.azure.fixture.AzureSurvey.ZONE;

import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import warden.core.azure.fixture.AzureSurvey;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;

/** What visitors get, by the tables of the provider's documentation. */
class AzureTracerTest {
    private static final String ORIGIN = "quaysidewifi.z6.web.core.windows.net";
    private static final String OPEN = "'networkAcls':{'defaultAction':'Allow'}";

    private static AzureSurvey healthy() {
        return AzureSurvey.healthy();
    }

    private static Trace trace(AzureSurvey survey, String url, String method) {
        WebAddress address = WebAddress.parse(url).address().orElseThrow();
        return new AzureTracer(survey.cloud()).trace(new Visit(address, method, NOW));
    }

    /** Says the outcomes in words; an open end as "?". What is not certain has to say why. */
    private static String got(AzureSurvey survey, String url) {
        Trace trace = trace(survey, url, "GET");
        if (trace.open()) {
            assertThat(trace.needs()).as(url).isNotEmpty();
        }
        assertThat(trace.steps()).as(url).anyMatch(step -> step.decides());
        return trace.outcomes().stream().map(Outcome::said).collect(Collectors.joining(" | "))
                + (trace.open() ? " ?" : "");
    }

    private static String at(AzureSurvey survey, String path) {
        return got(survey, "https://" + HOST + path);
    }

    @Test
    void theWebEndpointsTable() {
        AzureSurvey site = healthy().blobs("index.html", "404.html", "docs/index.html", "a/b.html");
        assertThat(at(site, "/")).isEqualTo("200, the object index.html");
        assertThat(at(site, "/a/b.html")).isEqualTo("200, the object a/b.html");
        assertThat(at(site, "/A/b.html")).isEqualTo("404, the object 404.html");
        assertThat(at(site, "/docs/")).isEqualTo("200, the object docs/index.html");
        assertThat(at(site, "/docs")).isEqualTo("200, the object docs/index.html | 404, the object 404.html");
        assertThat(at(site, "/a/")).isEqualTo("404, the object 404.html");
        assertThat(at(site, "/no/such/view")).isEqualTo("404, the object 404.html");
        assertThat(at(site, "/a%2Fb.html")).isEqualTo("200, the object a/b.html");
        assertThat(at(site, "/?x=y")).isEqualTo("200, the object index.html");
        assertThat(at(site.blobs("index.html"), "/x")).isEqualTo("404");
        assertThat(at(healthy().website("'enabled':true,'indexDocument':'index.html'"), "/x"))
                .isEqualTo("404");
        assertThat(at(healthy().website("'enabled':false"), "/")).isEqualTo("404 | 400");
        assertThat(at(healthy().found("blob-service", SERVICE, "{'properties':{}}"), "/"))
                .isEqualTo(" ?");
        assertThat(at(healthy().unread("container-blobs", WEB), "/"))
                .isEqualTo("200, the object index.html | 404, the object 404.html | 404");
        assertThat(at(
                        healthy()
                                .website("'enabled':true,'defaultIndexDocumentPath':'/start.html'")
                                .blobs("start.html"),
                        "/"))
                .isEqualTo("200, the object start.html");
        assertThat(trace(healthy(), "https://" + HOST + "/", "POST").open()).isTrue();
    }

    @Test
    void theEndpointsOwnNames() {
        assertThat(got(healthy(), "https://" + ORIGIN + "/")).isEqualTo("403");
        assertThat(got(healthy().account(OPEN), "https://" + ORIGIN + "/")).isEqualTo("200, the object index.html");
        assertThat(got(healthy().account(OPEN), "http://" + ORIGIN + "/")).isEqualTo("400");
        assertThat(got(healthy().account("'supportsHttpsTrafficOnly':false," + OPEN), "http://" + ORIGIN + "/"))
                .isEqualTo("200, the object index.html");
        String rules = "'networkAcls':{'defaultAction':'Deny','ipRules':[{'value':'203.0.113.0/24'}]}";
        assertThat(got(healthy().account(rules), "https://" + ORIGIN + "/"))
                .isEqualTo("403 | 200, the object index.html");
        assertThat(got(healthy().account("'publicNetworkAccess':'Disabled'"), "https://" + ORIGIN + "/"))
                .isEqualTo("403");
        String blob = "https://quaysidewifi.blob.core.windows.net/";
        assertThat(got(healthy().account(OPEN), blob + "$web/index.html")).isEqualTo("409");
        String anonymous = "'allowBlobPublicAccess':true," + OPEN;
        assertThat(got(healthy().account(anonymous), blob + "$web/index.html")).isEqualTo("404 | 401");
        assertThat(got(healthy().account(anonymous).containers("'$web':'Blob'"), blob + "$web/index.html"))
                .isEqualTo("200, the object index.html");
        assertThat(got(healthy().account(anonymous).containers("'$web':'Blob'"), blob + "$web/no.html"))
                .isEqualTo("404");
        assertThat(got(healthy().account(anonymous).containers("'$web':'Blob'"), blob))
                .isEqualTo("404 | 400");
    }

    /** What an edge does that is printed in a form that is not known may be anything. */
    @Test
    void whatAnEdgePrintsOddlyIsUnknown() {
        assertThat(at(healthy(), "/")).isEqualTo("200, the object index.html");
        for (String route : List.of(
                "'forwardingProtocol':'Both'",
                "'httpsRedirect':'Perhaps'",
                "'linkToDefaultDomain':{}",
                "'enabledState':'Resting'",
                "'ruleSets':[{}]",
                "'customDomains':[{}]")) {
            assertThat(at(healthy().frontDoor(route), "/")).as(route).endsWith("?");
        }
        assertThat(at(healthy().origin(ORIGIN, "'enabledState':'Resting'"), "/"))
                .endsWith("?");
        assertThat(at(healthy().origin("", "'priority':1"), "/")).endsWith("?");
        assertThat(at(healthy().list("front-door-origin-list", AFD + "/originGroups/web", "{}"), "/"))
                .endsWith("?");
        String start = "{'name':'odd','properties':{'order':1,";
        String redirect =
                "'actions':[{'name':'UrlRedirect','parameters':{'redirectType':'Moved'," + "'customPath':'/x'}}]";
        assertThat(at(healthy().rules(start + "'conditions':[]," + redirect + "}}"), "/"))
                .isEqualTo("301 to https://" + HOST + "/x");
        for (String rule : List.of(
                "'conditions':{}," + redirect,
                "'conditions':[],'actions':'all'",
                "'conditions':[],'actions':[{'name':'UrlRedirect'}]",
                "'conditions':[],'matchProcessingBehavior':'Pause'," + redirect,
                "'conditions':[{'name':'UrlPath','parameters':{'operator':'Equal','matchValues':['X'],"
                        + "'transforms':['Trim']}}]," + redirect,
                "'conditions':[{'name':'UrlPath','parameters':{'operator':'LessThan','matchValues':['few']}}],"
                        + redirect)) {
            assertThat(at(healthy().rules(start + rule + "}}"), "/")).as(rule).endsWith("?");
        }
        assertThat(at(healthy().rules("{'name':'odd','properties':{'conditions':[]," + redirect + "}}"), "/"))
                .endsWith("?");
        AzureSurvey wild = healthy();
        wild.list(
                "front-door-custom-domain-list",
                AFD,
                "{'id':'" + AFD + "/customDomains/wifi','name':'wifi','properties':{'hostName':'*.quayside.example',"
                        + "'domainValidationState':'Approved','tlsSettings':{'certificateType':'ManagedCertificate'}}}");
        assertThat(at(wild, "/")).endsWith("?");
    }

    @Test
    void blobsAndRecordsThatAreNoListAreNotKnown() {
        assertThat(at(healthy().found("container-blobs", WEB, "{'blobs':[]}"), "/"))
                .isEqualTo(at(healthy().unread("container-blobs", WEB), "/"));
        assertThat(at(healthy().list("container-blobs", WEB, "{'title':'index.html'}"), "/"))
                .isEqualTo(at(healthy().unread("container-blobs", WEB), "/"));
        assertThat(at(healthy().found("dns-records", ZONE, "{'items':[]}"), "/"))
                .endsWith("?");
        assertThat(at(healthy().list("dns-records", ZONE, "{'name':'wifi'}"), "/"))
                .endsWith("?");
    }

    @Test
    void namesAndCertificates() {
        AzureSurvey direct = healthy().list("cdn-profile-list", SUB).records("'wifi':'" + ORIGIN + "'");
        assertThat(at(direct.account(OPEN), "/")).isEqualTo("TLS fails");
        assertThat(got(direct, "http://" + HOST + "/")).isEqualTo("400");
        AzureSurvey registered =
                direct.account("'supportsHttpsTrafficOnly':false,'customDomain':{'name':'" + HOST + "'}," + OPEN);
        assertThat(got(registered, "http://" + HOST + "/")).isEqualTo("200, the object index.html");
        assertThat(at(healthy().records("'other':'a.example'"), "/")).isEqualTo("the name is not found");
        assertThat(at(healthy().unread("dns-records", AzureSurvey.ZONE), "/"))
                .isEqualTo("200, the object index.html ?");
        assertThat(at(healthy().records("'wifi':'gone.azureedge.net'"), "/")).isEqualTo("the name is not found ?");
        assertThat(at(healthy().records("'wifi':'somewhere.example.net'"), "/")).isEqualTo(" ?");
        assertThat(at(healthy().domain("'domainValidationState':'Pending'"), "/"))
                .isEqualTo("TLS fails");
        assertThat(at(healthy().domain("'domainValidationState':'PendingRevalidation'"), "/"))
                .isEqualTo("200, the object index.html | TLS fails");
        assertThat(at(healthy().frontDoor("'customDomains':[]"), "/")).isEqualTo("TLS fails");
        assertThat(got(healthy(), "https://192.0.2.1/")).isEqualTo(" ?");
    }

    @Test
    void theEdge() {
        String https = "https://" + HOST + "/x";
        assertThat(got(healthy(), "http://" + HOST + "/x"))
                .isEqualTo("307 to " + https + " | 301 to " + https + " | 302 to " + https + " | 308 to " + https);
        assertThat(at(healthy().frontDoor("'enabledState':'Disabled'"), "/")).isEqualTo("404 | 400");
        assertThat(at(healthy().frontDoor("'patternsToMatch':['/other/*']"), "/"))
                .isEqualTo("404 | 400");
        assertThat(at(
                        healthy()
                                .origin(
                                        ORIGIN,
                                        "'originHostHeader':null,'sharedPrivateLinkResource':{'groupId':'web','status':'Approved'}"),
                        "/"))
                .isEqualTo("400");
        assertThat(at(healthy().origin(ORIGIN, "'originHostHeader':'" + ORIGIN + "'"), "/"))
                .isEqualTo("403");
        assertThat(at(
                        healthy()
                                .origin(
                                        ORIGIN,
                                        "'originHostHeader':'" + ORIGIN
                                                + "','sharedPrivateLinkResource':{'groupId':'web','status':'Pending'}"),
                        "/"))
                .isEqualTo("502 | 503");
        assertThat(at(
                        healthy()
                                .origin(
                                        "gone.z6.web.core.windows.net",
                                        "'originHostHeader':'gone.z6.web.core.windows.net'"),
                        "/"))
                .isEqualTo("502 | 503 ?");
        assertThat(at(healthy().frontDoor("'forwardingProtocol':'HttpOnly'"), "/"))
                .isEqualTo("400");
        assertThat(at(healthy().unread("front-door-rule-list", AFD + "/ruleSets/headers"), "/"))
                .isEqualTo("200, the object index.html ?");
        assertThat(at(healthy().unread("front-door-route-list", ENDPOINT), "/")).contains("?");
        assertThat(at(healthy().frontDoor("'originPath':'/site'").blobs("site/index.html"), "/index.html"))
                .isEqualTo("200, the object site/index.html");
    }

    @Test
    void rules() {
        assertThat(at(
                        healthy()
                                .rules(rule(
                                        "deep",
                                        condition("UrlFileExtension", "LessThan", "1"),
                                        rewrite("/", "/index.html", false))),
                        "/a/b"))
                .isEqualTo("200, the object index.html");
        assertThat(at(
                        healthy()
                                .rules(rule(
                                        "deep",
                                        condition("UrlFileExtension", "LessThan", "1"),
                                        rewrite("/", "/index.html", false))),
                        "/a.png"))
                .isEqualTo("404, the object 404.html");
        assertThat(at(
                        healthy()
                                .rules(rule(
                                        "old", condition("UrlPath", "BeginsWith", "old/"), redirect("Moved", "/new"))),
                        "/old/x?y=1"))
                .isEqualTo("301 to https://" + HOST + "/new?y=1");
        assertThat(at(
                        healthy()
                                .rules(rule(
                                        "old", condition("UrlPath", "BeginsWith", "/old/"), redirect("Moved", "/new"))),
                        "/old/x"))
                .isEqualTo(" ?");
        assertThat(at(
                        healthy().rules(rule("odd", condition("IsDevice", "Equal", "Mobile"), redirect("Moved", "/m"))),
                        "/"))
                .isEqualTo(" ?");
        assertThat(at(healthy().rules(rule("odd", condition("UrlPath", "RegEx", "x"), redirect("Moved", "/m"))), "/"))
                .isEqualTo(" ?");
        assertThat(at(
                        healthy()
                                .rules(rule(
                                        "both",
                                        condition("UrlPath", "BeginsWith", "x") + ","
                                                + condition("IsDevice", "Equal", "Mobile"),
                                        redirect("Moved", "/m"))),
                        "/"))
                .isEqualTo("200, the object index.html");
        assertThat(at(
                        healthy()
                                .rules(rule(
                                        "part", condition("UrlPath", "BeginsWith", "v1/"), rewrite("/v1/", "/", true))),
                        "/v1/style.css"))
                .isEqualTo("200, the object style.css");
    }

    private static String rule(String name, String conditions, String action) {
        return "{'name':'" + name + "','properties':{'order':1,'conditions':[" + conditions + "],'actions':[" + action
                + "]}}";
    }

    private static String condition(String name, String operator, String value) {
        return "{'name':'" + name + "','parameters':{'operator':'" + operator
                + "','negateCondition':false,'matchValues':['" + value + "'],'transforms':[]}}";
    }

    private static String rewrite(String pattern, String to, boolean keeps) {
        return "{'name':'UrlRewrite','parameters':{'sourcePattern':'" + pattern + "','destination':'" + to
                + "','preserveUnmatchedPath':" + keeps + "}}";
    }

    private static String redirect(String type, String path) {
        return "{'name':'UrlRedirect','parameters':{'redirectType':'" + type
                + "','destinationProtocol':'Https','customPath':'" + path + "'}}";
    }

    @Test
    void aSiteIsFoundByWhatLeadsToIt() {
        assertThat(healthy().cloud().sites()).hasSize(1);
        assertThat(AzureSurvey.empty().account(OPEN).cloud().sites()).isEmpty();
        assertThat(AzureSurvey.empty()
                        .account(OPEN)
                        .website("'enabled':true")
                        .cloud()
                        .sites())
                .singleElement()
                .satisfies(site -> assertThat(site.hosts()).containsExactly(ORIGIN));
        assertThat(healthy().cloud().storageAccounts())
                .extracting(account -> account.id())
                .containsExactly(ACC);
    }
}
