package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** What the simulated account makes of calls to its storage: what it does not simulate never acts as another call. */
class StandInCallsTest {
    private static final String PAGE = "/heronferry-www-content/index.html";

    private final HttpClient client = HttpClient.newHttpClient();
    private StandIn standIn;

    @BeforeEach
    void start() throws Exception {
        standIn = Program.standIn(Program.demo(), Faults.none());
    }

    @AfterEach
    void stop() {
        standIn.close();
    }

    private HttpResponse<String> call(String method, String path, String body)
            throws IOException, InterruptedException {
        return client.send(
                HttpRequest.newBuilder(URI.create(standIn.endpoint() + path))
                        .header(
                                "Authorization",
                                "AWS4-HMAC-SHA256 Credential=" + StandIn.keyOf("arn:aws:iam::210987654321:root")
                                        + "/20261124/eu-west-1/s3/aws4_request, SignedHeaders=host, Signature=any")
                        .method(method, BodyPublishers.ofString(body))
                        .build(),
                BodyHandlers.ofString());
    }

    @ParameterizedTest
    @CsvSource({
        "PUT, /heronferry-www-content/index.html?legal-hold",
        "PUT, /heronferry-www-content/index.html?retention",
        "GET, /heronferry-www-content?tagging",
        "GET, /heronferry-www-content?replication",
        "GET, /heronferry-www-content?notification",
        "GET, /heronferry-www-content?inventory",
        "PUT, /heronferry-www-content?replication",
        "PUT, /heronferry-www-content?encryption",
        "DELETE, /heronferry-www-content?tagging"
    })
    void endsInNotImplementedAndChangesNothing(String method, String path) throws Exception {
        String before = standIn.state();
        HttpResponse<String> answer = call(method, path, method.equals("PUT") ? "<Tagging/>" : "");
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(501);
        assertThat(standIn.state()).isEqualTo(before);
    }

    @Test
    void tellsWhetherAPolicyIsPublic() throws Exception {
        assertThat(call("GET", "/heronferry-www-content?policyStatus", "").body())
                .contains("<IsPublic>false<");
        assertThat(call("GET", "/timetables.heronferry.example?policyStatus", "")
                        .body())
                .contains("<IsPublic>true<");
        assertThat(call("GET", "/ferry.heronferry.example?policyStatus", "").statusCode())
                .isEqualTo(404);
    }

    @Test
    void refusesAPublicPolicyWhereThoseAreBlocked() throws Exception {
        String open =
                "{\"Version\":\"2012-10-17\",\"Statement\":[{\"Effect\":\"Allow\",\"Principal\":\"*\",\"Action\":\"s3:GetObject\","
                        + "\"Resource\":\"arn:aws:s3:::heronferry-www-content/*\"}]}";
        assertThat(call("PUT", "/heronferry-www-content?policy", open).statusCode())
                .isEqualTo(403);
        assertThat(call("PUT", "/heronferry-www-content?policy", "{").statusCode())
                .isEqualTo(400);
        assertThat(call("DELETE", "/heronferry-www-content?publicAccessBlock", "")
                        .statusCode())
                .isEqualTo(204);
        assertThat(call("PUT", "/heronferry-www-content?policy", open).statusCode())
                .isEqualTo(204);
        assertThat(call("GET", "/heronferry-www-content?policy", "").body()).isEqualTo(open);
    }

    @Test
    void keepsSettingsAsTheyWereWritten() throws Exception {
        String block =
                "<PublicAccessBlockConfiguration xmlns=\"http://s3.amazonaws.com/doc/2006-03-01/\"><BlockPublicAcls>true</BlockPublicAcls>"
                        + "<IgnorePublicAcls>true</IgnorePublicAcls><BlockPublicPolicy>false</BlockPublicPolicy>"
                        + "<RestrictPublicBuckets>false</RestrictPublicBuckets></PublicAccessBlockConfiguration>";
        assertThat(call("PUT", "/timetables.heronferry.example?publicAccessBlock", block)
                        .statusCode())
                .isEqualTo(200);
        assertThat(standIn.state())
                .contains("{\"PublicAccessBlockConfiguration\":{\"BlockPublicAcls\":true,\"IgnorePublicAcls\":true,"
                        + "\"BlockPublicPolicy\":false,\"RestrictPublicBuckets\":false}}");
        assertThat(call("PUT", "/timetables.heronferry.example?publicAccessBlock", "<x")
                        .statusCode())
                .isEqualTo(400);
        assertThat(call("GET", PAGE, "").statusCode()).isEqualTo(200);
    }
}
