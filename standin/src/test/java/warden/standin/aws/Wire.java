package warden.standin.aws;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.survey.SurveyException;
import warden.standin.Faults;

/** Talks to a simulated account as bytes on the wire, without anybody's client library. */
final class Wire {
    static {
        // The JDK's client sends other Host headers only when told so before its first use.
        System.setProperty("jdk.httpclient.allowRestrictedHeaders", "host,content-length");
    }

    static final String ROOT = "arn:aws:iam::210987654321:root";
    static final String WWW = "heronferry-www-content";
    private static final HttpClient CLIENT = HttpClient.newHttpClient();
    private final StandIn standIn;

    Wire(StandIn standIn) {
        this.standIn = standIn;
    }

    /** What came back. */
    record Answer(int status, String body, HttpResponse<byte[]> whole) {
        Optional<String> header(String name) {
            return whole.headers().firstValue(name);
        }
    }

    static String demo() throws IOException {
        return Files.readString(Path.of("..", "demo", "heron-sound-ferries.ndjson"));
    }

    static StandIn start(String survey, Faults faults) throws SurveyException, IOException {
        return StandIn.start(
                survey,
                "test.ndjson",
                (bucket, key) -> Optional.empty(),
                faults,
                0,
                Clock.fixed(Instant.parse("2026-11-24T08:00:00Z"), ZoneOffset.UTC));
    }

    /** Returns the header that names a principal's key; the signature itself is not looked at. */
    static String signed(String arn, String service) {
        return "AWS4-HMAC-SHA256 Credential=" + StandIn.keyOf(arn) + "/20261124/eu-west-1/" + service
                + "/aws4_request, SignedHeaders=host, Signature=00";
    }

    Answer storage(String arn, String method, String path, String body, String... headers)
            throws IOException, InterruptedException {
        return send(method, path, body, with(headers, "Authorization", signed(arn, "s3")));
    }

    Answer service(String arn, String service, String method, String path, String body, String... headers)
            throws IOException, InterruptedException {
        return send(method, path, body, with(headers, "Authorization", signed(arn, service)));
    }

    Answer visit(String host, String path) throws IOException, InterruptedException {
        return send("GET", path, "", "Host", host);
    }

    private static String[] with(String[] headers, String... more) {
        List<String> all = new ArrayList<>(List.of(headers));
        all.addAll(List.of(more));
        return all.toArray(String[]::new);
    }

    Answer send(String method, String path, String body, String... headers) throws IOException, InterruptedException {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(standIn.endpoint() + path))
                .method(
                        method,
                        body.isEmpty()
                                ? HttpRequest.BodyPublishers.noBody()
                                : HttpRequest.BodyPublishers.ofString(body));
        if (headers.length > 0) {
            request.headers(headers);
        }
        HttpResponse<byte[]> response = CLIENT.send(request.build(), HttpResponse.BodyHandlers.ofByteArray());
        return new Answer(response.statusCode(), new String(response.body(), StandardCharsets.UTF_8), response);
    }
}
