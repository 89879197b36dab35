package warden.core.aws.site;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.fixture.SurveyBuilder;

/** A value is kept back however the document spells the key that asks for it. */
class SharedSecretsTest {
    private static final String SECRET = "tide-rush-77-quay";
    private static final String TRUST =
            "{'Effect':'Allow','Principal':{'Service':'lambda.amazonaws.com'},'Action':'sts:AssumeRole'}";

    private static String asking(String key) {
        return "{'Effect':'Allow','Action':'s3:GetObject','Resource':'*','Condition':{'StringEquals':{'" + key + "':'"
                + SECRET + "'}}}";
    }

    private static Set<String> of(SurveyBuilder survey) {
        return SharedSecrets.of(survey.cloud());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {"aws:Referer", "AWS:REFERER", "aws:UserAgent", "aws:\\u0052eferer", "\\u0061ws:user\\u0041gent"})
    void ofARole(String key) {
        assertThat(of(aSurvey().role("publisher", TRUST, "", asking(key)))).contains(SECRET);
    }

    @ParameterizedTest
    @ValueSource(strings = {"aws:Referer", "aws:\\u0055serAgent"})
    void ofABucket(String key) {
        assertThat(of(aSurvey()
                        .bucket(
                                "notices",
                                bucket -> bucket.policy(asking(key).replace("'Action'", "'Principal':'*','Action'")))))
                .contains(SECRET);
    }

    @Test
    void ofARoleWhosePolicyIsPercentEncoded() {
        String policy = SurveyBuilder.json("{'Version':'2012-10-17','Statement':[" + asking("aws:Referer") + "]}");
        String encoded = URLEncoder.encode(policy, StandardCharsets.UTF_8).replace("+", "%20");
        for (String spelled : new String[] {encoded, encoded.replace("Referer", "%52ef%65rer")}) {
            String role = "{'RoleName':'publisher','Arn':'arn:aws:iam::210987654321:role/publisher','RolePolicyList':"
                    + "[{'PolicyName':'read','PolicyDocument':'" + spelled + "'}]}";
            assertThat(of(aSurvey().found("iam-role", "arn:aws:iam::210987654321:role/publisher", role)))
                    .as(spelled)
                    .contains(SECRET);
        }
    }

    @Test
    void noneWhereNothingAsks() {
        assertThat(of(aSurvey().role("publisher", TRUST, "", asking("aws:SourceVpce"))))
                .isEmpty();
        assertThat(SharedSecrets.mayName("{\"Resource\":\"*\",\"Path\":\"%7Bplain%7D%20%2F\"}"))
                .isFalse();
    }
}
