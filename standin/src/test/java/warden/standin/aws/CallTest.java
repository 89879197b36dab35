package warden.standin.aws;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;
import software.amazon.awssdk.services.s3.model.GetBucketWebsiteResponse;
import software.amazon.awssdk.services.s3.model.GetPublicAccessBlockResponse;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/** How requests are taken apart and answers spelled on the wire. */
class CallTest {
    @Test
    void takesFramesOff() throws Exception {
        assertThat(unframed("3;chunk-signature=ab\r\nfer\r\n2\r\nry\r\n0\r\n\r\n"))
                .isEqualTo("ferry");
        assertThat(unframed("0\r\nx-amz-checksum-crc32:AAAA\r\n\r\n")).isEmpty();
        assertThat(FramedBody.parse("0\r\nx-amz-checksum-crc32:AAAA\r\n\r\n".getBytes(StandardCharsets.UTF_8))
                        .trailers())
                .containsExactly(Map.entry("x-amz-checksum-crc32", "AAAA"));
        assertThat(unframed("a\r\n0123456789\r\n0\r\n")).isEqualTo("0123456789");
        assertThatThrownBy(() -> unframed("ff\r\nfer")).isInstanceOf(IOException.class);
        assertThatThrownBy(() -> unframed("zz\r\nfer")).isInstanceOf(IOException.class);
    }

    private static String unframed(String body) throws IOException {
        return new String(
                FramedBody.parse(body.getBytes(StandardCharsets.UTF_8)).content(), StandardCharsets.UTF_8);
    }

    private static JsonPart json(String text) {
        return JsonReader.read(text.replace('\'', '"')).root().orElseThrow();
    }

    @Test
    void spellsAnswersAsTheServiceDoes() {
        assertThat(
                        WireSpelling.xml(
                                GetBucketWebsiteResponse.builder(),
                                json(
                                        "{'IndexDocument':{'Suffix':'a<b>&c.html'},'RoutingRules':[{'Redirect':{'HostName':'x'}}]}")))
                .isEqualTo(
                        "<IndexDocument><Suffix>a&lt;b&gt;&amp;c.html</Suffix></IndexDocument>"
                                + "<RoutingRules><RoutingRule><Redirect><HostName>x</HostName></Redirect></RoutingRule></RoutingRules>");
        assertThat(WireSpelling.xmlPayload(
                        GetPublicAccessBlockResponse.builder(),
                        json("{'PublicAccessBlockConfiguration':{'BlockPublicAcls':true}}")))
                .contains(
                        "<PublicAccessBlockConfiguration><BlockPublicAcls>true</BlockPublicAcls></PublicAccessBlockConfiguration>");
    }

    @Test
    void spellsHeaders() {
        Map<String, String> headers = new LinkedHashMap<>();
        WireSpelling.headers(
                HeadObjectResponse.builder(),
                json("{'ContentType':'text/html','CacheControl':'no-cache','LastModified':'2026-11-12T22:41:07+00:00',"
                        + "'Metadata':{'release':'42'}}"),
                headers);
        assertThat(headers)
                .containsEntry("Content-Type", "text/html")
                .containsEntry("Cache-Control", "no-cache")
                .containsEntry("Last-Modified", "Thu, 12 Nov 2026 22:41:07 GMT")
                .containsEntry("x-amz-meta-release", "42");
    }

    @Test
    void makesTheSameKeyForTheSamePrincipal() {
        String key = StandIn.keyOf("arn:aws:iam::210987654321:root");
        assertThat(key).matches("STANDIN[A-Z2-7]{13}").isEqualTo(StandIn.keyOf("arn:aws:iam::210987654321:root"));
        assertThat(StandIn.keyOf("arn:aws:iam::210987654321:user/a"))
                .isNotEqualTo(StandIn.keyOf("arn:aws:iam::210987654321:user/b"));
    }
}
