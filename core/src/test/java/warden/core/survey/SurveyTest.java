package warden.core.survey;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.aws.survey.AbsenceCodes;
import warden.core.aws.survey.AwsAspects;
import warden.core.aws.survey.Permissions;

class SurveyTest {
    private static final String HEADER = "{'survey':1,'provider':'aws','account':'210987654321'}\n";
    private static final String QUAY = "arn:aws:s3:::quay";

    private static Survey survey(String... lines) throws Exception {
        Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
        String text = (HEADER + String.join("\n", lines)).replace('\'', '"');
        SurveyHeader header = SurveyReader.read(
                new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "s.ndjson", collector::add);
        return collector.toSurvey(header);
    }

    private static String line(String aspect, String rest) {
        return "{'aspect':'" + aspect + "','of':'" + QUAY + "'," + rest + "}";
    }

    @Test
    void keepsFoundAbsentAndUnreadApart() throws Exception {
        Survey survey = survey(
                line("bucket-acl", "'found':{}"),
                line("bucket-cors", "'absent':'NoSuchCORSConfiguration'"),
                line("bucket-policy", "'unread':{'code':'AccessDenied'}"));
        assertThat(survey.reading("bucket-acl", QUAY).found()).isPresent();
        assertThat(survey.reading("bucket-cors", QUAY).isAbsent()).isTrue();
        assertThat(survey.reading("bucket-cors", QUAY).found()).isEmpty();
        assertThat(survey.reading("bucket-policy", QUAY)).isInstanceOfSatisfying(Reading.Unread.class, unread -> {
            assertThat(unread.need().why()).isEqualTo("AccessDenied");
            assertThat(unread.need().permission()).isEqualTo("s3:GetBucketPolicy");
        });
        assertThat(survey.reading("bucket-website", QUAY))
                .isInstanceOfSatisfying(
                        Reading.Unread.class,
                        unread -> assertThat(unread.need().why()).isEqualTo("never asked"));
        assertThat(survey.asked("bucket-policy", QUAY)).isTrue();
        assertThat(survey.asked("bucket-website", QUAY)).isFalse();
    }

    @Test
    void spellsNeedsByTheirReason() {
        List<Need> needs = List.of(
                new Need("bucket-acl", QUAY, "never asked", ""),
                new Need("bucket-policy", QUAY, "AccessDenied", ""),
                new Need("account-public-access", "210987654321", "never asked", ""),
                new Need("bucket-acl", "arn:aws:s3:::other", "never asked", ""));
        assertThat(Need.spelled(needs))
                .isEqualTo("bucket-acl, account-public-access: never asked; bucket-policy: AccessDenied");
    }

    @Test
    void letsTheLastLineCount() throws Exception {
        Survey survey = survey(
                line("bucket-acl", "'unread':{'code':'AccessDenied'}"),
                line("bucket-acl", "'found':{'a':1}"),
                line("bucket-acl", "'found':{'a':2}"));
        assertThat(survey.reading("bucket-acl", QUAY).found().orElseThrow().text("a"))
                .contains("2");
    }

    @Test
    void joinsPagesWhileMoreIsSaidToFollow() throws Exception {
        String first = line("bucket-objects", "'found':{'Contents':[{'Key':'a'}],'IsTruncated':true}");
        String last = line("bucket-objects", "'found':{'Contents':[{'Key':'b'}],'IsTruncated':false}");
        Survey.Listing whole =
                survey(first, last).listing("bucket-objects", QUAY).found().orElseThrow();
        assertThat(whole.pages()).hasSize(2);
        assertThat(whole.complete()).isTrue();
        Survey.Listing half =
                survey(first).listing("bucket-objects", QUAY).found().orElseThrow();
        assertThat(half.complete()).isFalse();
        // A new listing begins where the one before had ended.
        Survey.Listing again = survey(first, last, last)
                .listing("bucket-objects", QUAY)
                .found()
                .orElseThrow();
        assertThat(again.pages()).hasSize(1);
        String refused = line("bucket-objects", "'unread':{'code':'AccessDenied'}");
        Survey.Listing cut =
                survey(first, refused).listing("bucket-objects", QUAY).found().orElseThrow();
        assertThat(cut.pages()).hasSize(1);
        assertThat(cut.complete()).isFalse();
        assertThat(survey(refused).listing("bucket-objects", QUAY).found()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "'IsTruncated':true | true",
                "'IsTruncated':false | false",
                "'NextToken':'x' | true",
                "'NextContinuationToken':'x' | true",
                "'DistributionList':{'IsTruncated':true} | true",
                "'DistributionList':{'IsTruncated':false} | false",
                "'Comment':'IsTruncated is a word' | false",
                "'a':1 | false"
            })
    void knowsTheMarksOfPages(String members, boolean more) throws Exception {
        List<SurveyLine> lines = new ArrayList<>();
        String text = (HEADER + line("zone-records", "'found':{" + members + "}")).replace('\'', '"');
        SurveyReader.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "s", lines::add);
        assertThat(AwsAspects.TABLE.saysMoreFollows(lines.get(0))).isEqualTo(more);
    }

    @Test
    void writesWhatItReads() throws Exception {
        String text = (HEADER
                        + line("bucket-acl", "'call':'s3:GetBucketAcl','found':{'n':1.50,'t':'ø \\u2028 '}") + "\n"
                        + line("bucket-cors", "'call':'s3:GetBucketCORS','absent':'NoSuchCORSConfiguration'") + "\n"
                        + line("bucket-policy", "'call':'s3:GetBucketPolicy','unread':{'code':'AccessDenied'}") + "\n")
                .replace('\'', '"');
        String once = rewritten(text);
        assertThat(rewritten(once)).isEqualTo(once);
        assertThat(once.lines()).hasSize(4);
        assertThat(once).contains("\"n\":1.50", "\"absent\":\"NoSuchCORSConfiguration\"");
    }

    private static String rewritten(String text) throws SurveyException, IOException {
        StringWriter out = new StringWriter();
        SurveyWriter writer = new SurveyWriter(out);
        List<SurveyLine> lines = new ArrayList<>();
        SurveyHeader header = SurveyReader.read(
                new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "s.ndjson", lines::add);
        writer.header(header);
        for (SurveyLine line : lines) {
            writer.reading(line);
        }
        return out.toString();
    }

    @Test
    void namesOnlyActionsThatRead() {
        assertThat(Permissions.all())
                .isSorted()
                .doesNotHaveDuplicates()
                .allMatch(action -> action.matches("[a-z0-9]+:(Get|List|Describe)[A-Za-z0-9]+"));
        assertThat(Permissions.toRead("bucket-policy")).isEqualTo("s3:GetBucketPolicy");
        assertThat(Permissions.toRead("no-such-aspect")).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "bucket-policy, NoSuchBucketPolicy, true",
        "bucket-policy, NoSuchBucket, false",
        "bucket-policy, AccessDenied, false",
        "bucket-cors, NoSuchBucketPolicy, false",
        "object, 404, true",
        "object, 403, false",
        "iam-login, NoSuchEntity, true",
        "iam-user-mfa, NoSuchEntity, false",
        "no-such-aspect, NotFound, false"
    })
    void takesForAbsentOnlyWhatTheProviderCallsSo(String aspect, String code, boolean absent) {
        assertThat(AbsenceCodes.means(aspect, code)).isEqualTo(absent);
        assertThat(AbsenceCodes.means(aspect, code.toUpperCase(Locale.ROOT) + "x"))
                .isFalse();
    }

    private static SurveyLine changed(String aspect, String of, String body) {
        return new SurveyLine("s.ndjson", 1, aspect, of, "", SurveyLine.Outcome.FOUND, body);
    }

    /** However many changes lie over it, a survey says what one that was read with them would say. */
    @Test
    void changesLieOverWhatWasRead() throws Exception {
        Survey before =
                survey(line("bucket-acl", "'found':{}"), "{'aspect':'object','of':'" + QUAY + "/a.html','found':{}}");
        Survey survey = before;
        List<String> keys = new ArrayList<>(List.of("a.html"));
        for (int i = 0; i < 20; i++) {
            survey = survey.with(changed("object", QUAY + "/" + i, "{\"Size\":" + i + "}"));
            keys.add(Integer.toString(i));
            if (i % 3 == 0) {
                survey = survey.without("object", QUAY + "/" + (i / 2));
                keys.remove(Integer.toString(i / 2));
            }
            assertThat(survey.subjects("object"))
                    .containsExactlyElementsOf(
                            keys.stream().map(key -> QUAY + "/" + key).toList());
            assertThat(survey.subjectsBelow("object", QUAY)).isEqualTo(keys);
        }
        assertThat(survey.reading("object", QUAY + "/19").found().orElseThrow().text("Size"))
                .contains("19");
        assertThat(survey.asked("object", QUAY + "/0")).isFalse();
        assertThat(survey.reading("object", QUAY + "/0").missing()).isPresent();
        assertThat(survey.listing("object", QUAY + "/0").missing()).isPresent();
        assertThat(survey.reading("bucket-acl", QUAY).found()).isPresent();
        assertThat(survey.without("bucket-acl", QUAY).subjects("bucket-acl")).isEmpty();
        assertThat(survey.without("bucket-website", QUAY)).isSameAs(survey);
        assertThat(before.subjects("object")).containsExactly(QUAY + "/a.html");
    }
}
