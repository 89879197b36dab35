package warden.core.aws.policy;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.json;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.document.Pointer;

class StatementTest {
    private static final String PLAIN =
            "{'Effect':'Allow','Principal':{'AWS':['109876543210']},'Action':['s3:GetObject','s3:PutObject'],'Resource':['arn:aws:s3:::b/*'],"
                    + "'Condition':{'StringEquals':{'aws:Referer':['x','y']}}}";

    private static Statement statement(String text) {
        return PolicyParser.parse(
                        json("{'Version':'2012-10-17','Statement':" + text + "}"), PolicyKind.BUCKET, Pointer.ROOT)
                .statements()
                .get(0);
    }

    @Test
    void meansTheSameHoweverItIsSpelled() {
        String respelled =
                "[{'Sid':'x','Condition':{'StringEquals':{'AWS:referer':['y','x']}},'Resource':'arn:aws:s3:::b/*',"
                        + "'Action':['s3:putobject','S3:GetObject'],'Principal':{'AWS':'arn:aws:iam::109876543210:root'},'Effect':'Allow'}]";
        assertThat(statement(respelled).meaning()).isEqualTo(statement(PLAIN).meaning());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "'Allow'>'Deny'",
                "'Principal'>'NotPrincipal'",
                "'Action'>'NotAction'",
                "'Resource'>'NotResource'",
                "'s3:PutObject'>'s3:DeleteObject'",
                "b/*>b/c/*",
                "109876543210>109876543211",
                "'y'>'z'",
                "StringEquals>StringLike",
                "aws:Referer>aws:UserAgent"
            })
    void meansSomethingElseWhereAnythingDiffers(String change) {
        String[] parts = change.split(">");
        assertThat(statement(PLAIN.replace(parts[0], parts[1])).meaning())
                .isNotEqualTo(statement(PLAIN).meaning());
    }

    @Test
    void whatIsNotUnderstoodMeansItsText() {
        Statement opaque = statement("{'Effect':'Perhaps','Principal':'*','Action':'*','Resource':'*'}");
        assertThat(opaque.isOpaque()).isTrue();
        assertThat(opaque.meaning()).isEqualTo(opaque.text()).contains("Perhaps");
    }
}
