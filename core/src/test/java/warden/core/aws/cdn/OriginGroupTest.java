package warden.core.aws.cdn;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.page;
import static warden.core.fixture.HealthySites.sealed;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.audit.Audit;
import warden.core.aws.trace.Tracer;
import warden.core.fixture.Audited;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;

/** Origins of which the second is asked where the first fails. */
class OriginGroupTest {
    private static final String FIRST = "{'TargetOriginId':'o',";
    private static final String ORIGIN_ENDS = "'OriginAccessControlId':'C1'}]}";
    private static final String SPARE = "heron-spare";

    /** The sealed site whose edge asks a second bucket, which holds another page, with these statuses. */
    private static SurveyBuilder grouped(String codes) {
        return sealed().bucket(SPARE, bucket -> bucket.policy(
                                "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject',"
                                        + "'Resource':'arn:aws:s3:::" + SPARE
                                        + "/*','Condition':{'StringEquals':{'aws:SourceArn':'" + EDGE + "'}}}")
                        .guard(true)
                        .objects("index.html", "old.html")
                        .object("index.html", page())
                        .object("old.html", page()))
                .edit(
                        "distribution",
                        EDGE,
                        ORIGIN_ENDS,
                        "'OriginAccessControlId':'C1'},{'Id':'spare','DomainName':'" + SPARE
                                + ".s3.us-east-1.amazonaws.com','OriginPath':'','S3OriginConfig':{'OriginAccessIdentity':''},'OriginAccessControlId':'C1'}]},"
                                + group("o", "spare", codes))
                .edit("distribution", EDGE, FIRST, "{'TargetOriginId':'both',");
    }

    private static String group(String first, String second, String codes) {
        return "'OriginGroups':{'Quantity':1,'Items':[{'Id':'both','FailoverCriteria':{'StatusCodes':{'Items':[" + codes
                + "]}},'Members':{'Items':[{'OriginId':'" + first + "'},{'OriginId':'" + second + "'}]}}]}";
    }

    private static Trace trace(SurveyBuilder survey, String path, String method) {
        WebAddress address = WebAddress.parse("https://www.heronferry.example" + path)
                .address()
                .orElseThrow();
        return new Tracer(survey.cloud(SiteFile.empty())).trace(new Visit(address, method, Audited.NOW));
    }

    private static String got(SurveyBuilder survey, String path, String method) {
        Trace trace = trace(survey, path, method);
        String all = trace.outcomes().stream().map(Outcome::said).collect(Collectors.joining(" | "));
        return trace.isCertain() ? all : (all + " ?").strip();
    }

    @ParameterizedTest
    @CsvSource({
        "'403,404', /, GET, '200, the object index.html'",
        "'403,404', /fares.html, GET, '200, the object fares.html'",
        "'403,404', /old.html, GET, '200, the object old.html'",
        "'403,404', /old.html, HEAD, '200, the object old.html'",
        "'403', /old.html, GET, '200, the object old.html'",
        "'404', /old.html, GET, '404, the object 404.html'",
        "'500,502', /old.html, GET, '404, the object 404.html'",
        "'', /old.html, GET, '404, the object 404.html'",
    })
    void theSecondIsAskedWhereTheFirstFails(String codes, String path, String method, String expected) {
        assertThat(got(grouped(codes), path, method)).isEqualTo(expected);
    }

    @Test
    void theTraceTellsWhichOriginAnswered() {
        Trace trace = trace(grouped("403,404"), "/old.html", "GET");
        assertThat(trace.steps()).anySatisfy(step -> {
            assertThat(step.says())
                    .isEqualTo("With 403 the first origin of the group both has failed: the second is asked.");
            assertThat(step.because().get(0).path()).endsWith("/OriginGroups/Items/0");
        });
        assertThat(trace.steps()).anySatisfy(step -> assertThat(step.says()).contains("the REST endpoint of " + SPARE));
        assertThat(trace.why()).isEqualTo("The visitor gets 200, the object old.html.");
    }

    /** What neither has is answered by the error page, which the first has. */
    @Test
    void theErrorPageComesThroughTheGroupToo() {
        assertThat(got(grouped("403,404"), "/nowhere", "GET")).isEqualTo("404, the object 404.html");
    }

    /** An edge that cannot reach the first origin may ask the second: which status that takes is not told for each cause. */
    @Test
    void whetherAnUnreachableOriginHasFailedIsNotAlwaysTold() {
        SurveyBuilder survey = grouped("500,502,503,504")
                .edit(
                        "distribution",
                        EDGE,
                        "{'Id':'o','DomainName':'heron-www.s3.us-east-1.amazonaws.com','OriginPath':'','S3OriginConfig':{'OriginAccessIdentity':''},'OriginAccessControlId':'C1'}",
                        "{'Id':'o','DomainName':'heron-www.s3-website-us-east-1.amazonaws.com','OriginPath':'','CustomOriginConfig':{'OriginProtocolPolicy':'https-only'}}");
        assertThat(got(survey, "/", "GET"))
                .contains("200, the object index.html")
                .contains("502")
                .endsWith("?");
    }

    @ParameterizedTest
    @ValueSource(strings = {"gone", ""})
    void aMemberThatIsNotThereLeavesTheAnswerOpen(String second) {
        SurveyBuilder survey = sealed().edit(
                        "distribution", EDGE, ORIGIN_ENDS, ORIGIN_ENDS + "," + group("o", second, "404"))
                .edit("distribution", EDGE, FIRST, "{'TargetOriginId':'both',");
        assertThat(got(survey, "/", "GET")).isEqualTo("?");
        assertThat(trace(survey, "/", "GET").needs()).anyMatch(need -> need.of().equals(EDGE));
    }

    private static Set<String> said(SurveyBuilder survey) {
        Audit audit = Audited.audit(survey.cloud(SiteFile.empty()));
        Set<String> all = new TreeSet<>();
        audit.findings().forEach(each -> all.add(each.card().id() + " " + each.subject()));
        audit.unknowns()
                .forEach(each -> all.add(each.card().id() + " " + each.verdict().subject()));
        return all;
    }

    /** A group of one origin twice is the origin, for every check. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "'DefaultRootObject':'index.html' | 'DefaultRootObject':''",
                "'ViewerProtocolPolicy':'redirect-to-https' | 'ViewerProtocolPolicy':'allow-all'",
                "'AllowedMethods':{'Items':['GET','HEAD']} | 'AllowedMethods':{'Items':['GET','HEAD','OPTIONS','PUT','POST','PATCH','DELETE']}",
                "'Compress':true | 'Compress':false",
                "'ResponseHeadersPolicyId':'67f7725c-6f97-4210-82d7-5512b31e9d03', | ''",
                "{'ErrorCode':403,'ResponsePagePath':'/404.html','ResponseCode':'404'}, | ''",
                "'ResponsePagePath':'/404.html' | 'ResponsePagePath':'/gone.html'",
                "'OriginAccessControlId':'C1' | 'OriginAccessControlId':''",
            })
    void aGroupHidesNothing(String from, String to) {
        String other = to.equals("''") ? "" : to;
        SurveyBuilder plain = sealed().edit("distribution", EDGE, from, other);
        SurveyBuilder grouped = sealed().edit("distribution", EDGE, from, other)
                .edit(
                        "distribution",
                        EDGE,
                        "'DefaultCacheBehavior':{",
                        group("o", "o", "500") + ",'DefaultCacheBehavior':{")
                .edit("distribution", EDGE, FIRST, "{'TargetOriginId':'both',");
        assertThat(said(plain)).isNotEmpty().isSubsetOf(said(grouped));
    }

    @Test
    void tellsWhenTheSecondIsAsked() {
        OriginGroup group =
                new OriginGroup(warden.core.document.Pointer.ROOT, "g", List.of("a", "b"), Set.of(404, 503));
        assertThat(group.failsOver("GET", 404)).isTrue();
        assertThat(group.failsOver("POST", 404)).isFalse();
        assertThat(group.failsOver("GET", 403)).isFalse();
        assertThat(group.mayFailOver("GET", 502)).isTrue();
        assertThat(group.mayFailOver("PUT", 502)).isFalse();
        assertThat(new OriginGroup(group.at(), "g", group.members(), Set.of(404)).mayFailOver("GET", 502))
                .isFalse();
    }
}
