package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import warden.core.Providers;
import warden.core.document.JsonReader;
import warden.core.site.SiteFile;
import warden.gather.survey.SurveyFiles;

/** What clients of the second provider get from the simulated subscription, as {@code reach} decides. */
class AzureStandInTest extends QuaysideStandIn {
    private static final String PUBLISHER = "22222222-3333-4444-8555-666666666666";
    private static final String READER = "33333333-4444-4555-8666-777777777777";
    private static final String CONTRIBUTOR = "11111111-2222-4333-8444-555555555555";
    private static final String RG =
            "/subscriptions/0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90/resourceGroups/quayside-rg/providers/";
    private static final String STORAGE = RG + "Microsoft.Storage/storageAccounts/";

    private HttpClient http;

    @BeforeEach
    void start() throws Exception {
        http = HttpClient.newBuilder()
                .sslContext(Trust.in(standIn.authority()))
                .version(HttpClient.Version.HTTP_1_1)
                .build();
    }

    private HttpResponse<String> send(HttpRequest.Builder request) throws IOException, InterruptedException {
        return http.send(request.build(), HttpResponse.BodyHandlers.ofString());
    }

    private HttpRequest.Builder to(String path) {
        return HttpRequest.newBuilder(URI.create(standIn.endpoint() + path));
    }

    private String token(String client) throws Exception {
        HttpResponse<String> answer = send(to("/heron/oauth2/v2.0/token")
                .header("Content-Type", "application/x-www-form-urlencoded")
                .POST(HttpRequest.BodyPublishers.ofString(
                        "grant_type=client_credentials&scope=x&client_secret=any&client_id=" + client)));
        assertThat(answer.statusCode()).isEqualTo(200);
        return JsonReader.read(answer.body())
                .root()
                .orElseThrow()
                .text("access_token")
                .orElseThrow();
    }

    private HttpResponse<String> call(String client, String method, String path, String body) throws Exception {
        return send(to(path).header("Authorization", "Bearer " + token(client))
                .header("x-ms-blob-type", "BlockBlob")
                .header("x-ms-blob-content-type", "text/html")
                .method(method, HttpRequest.BodyPublishers.ofString(body)));
    }

    private int status(String client, String method, String path) throws Exception {
        return call(client, method, path, method.equals("PUT") ? "page" : "").statusCode();
    }

    @Test
    void blobsArePutReadListedAndDeletedByThoseWhoMay() throws Exception {
        String page = "/harbourmenu/$web/new/page.html";
        assertThat(status(PUBLISHER, "PUT", page)).isEqualTo(201);
        HttpResponse<String> read = call(PUBLISHER, "GET", page, "");
        assertThat(read.body()).isEqualTo("page");
        assertThat(read.headers().firstValue("Content-Type")).contains("text/html");
        assertThat(call(PUBLISHER, "GET", "/harbourmenu/$web?restype=container&comp=list&prefix=new/", "")
                        .body())
                .contains("<Name>new/page.html</Name>")
                .doesNotContain("index.html");
        assertThat(status(PUBLISHER, "DELETE", page)).isEqualTo(202);
        assertThat(status(PUBLISHER, "GET", page)).isEqualTo(404);
    }

    @Test
    void blocksBecomeABlob() throws Exception {
        String blob = "/harbourmenu/$web/large.bin";
        assertThat(call(PUBLISHER, "PUT", blob + "?comp=block&blockid=AA%3D%3D", "one ")
                        .statusCode())
                .isEqualTo(201);
        assertThat(call(PUBLISHER, "PUT", blob + "?comp=block&blockid=AB%3D%3D", "two")
                        .statusCode())
                .isEqualTo(201);
        String list = "<BlockList><Latest>AA==</Latest><Latest>AB==</Latest></BlockList>";
        assertThat(call(PUBLISHER, "PUT", blob + "?comp=blocklist", list).statusCode())
                .isEqualTo(201);
        assertThat(call(PUBLISHER, "GET", blob, "").body()).isEqualTo("one two");
        HttpResponse<String> part = send(
                to(blob).header("Authorization", "Bearer " + token(PUBLISHER)).header("x-ms-range", "bytes=4-6"));
        assertThat(part.statusCode()).isEqualTo(206);
        assertThat(part.body()).isEqualTo("two");
        assertThat(call(PUBLISHER, "PUT", blob + "?comp=blocklist", list).statusCode())
                .isEqualTo(400);
    }

    /** Each call is allowed and refused as the questions of reach decide. */
    @Test
    void everyCallIsDecidedAsReachDecides() throws Exception {
        var cloud = Providers.open(
                        java.util.List.of(SurveyFiles.read(
                                new java.io.ByteArrayInputStream(
                                        DemoSurvey.quaysideText().getBytes(java.nio.charset.StandardCharsets.UTF_8)),
                                "survey.ndjson")),
                        SiteFile.empty(),
                        Optional.empty())
                .all()
                .get(0);
        var answers = cloud.questions(false);
        String blobs = "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/";
        for (String client : new String[] {PUBLISHER, READER, CONTRIBUTOR}) {
            for (String account : new String[] {"harbourmenu", "quaysidewifi"}) {
                for (String method : new String[] {"PUT", "GET", "DELETE"}) {
                    String action = blobs + (method.equals("PUT") ? "write" : method.equals("GET") ? "read" : "delete");
                    String answer = answers.apply("{\"id\":\"q\",\"who\":\"" + client + "\",\"action\":\"" + action
                            + "\",\"on\":\"" + STORAGE + account
                            + "/blobServices/default/containers/$web/blobs/index.html\",\"context\":{}}");
                    int status = status(client, method, "/" + account + "/$web/index.html");
                    if (method.equals("DELETE") && status == 202) {
                        status(client, "PUT", "/" + account + "/$web/index.html");
                    }
                    assertThat(status < 300)
                            .as(client + " " + method + " " + account + ": " + answer)
                            .isEqualTo(answer.contains("\"decision\":\"allow\""));
                }
            }
        }
    }

    @Test
    void keysAndPurges() throws Exception {
        assertThat(status(CONTRIBUTOR, "POST", STORAGE + "quaysidewifi/listKeys?api-version=2025-08-01"))
                .isEqualTo(200);
        assertThat(status(PUBLISHER, "POST", STORAGE + "harbourmenu/listKeys?api-version=2025-08-01"))
                .isEqualTo(403);
        String own = RG + "Microsoft.Cdn/profiles/hsf-front/afdEndpoints/menu/purge?api-version=2025-06-01";
        HttpResponse<String> purged = call(PUBLISHER, "POST", own, "{\"contentPaths\":[\"/*\"]}");
        assertThat(purged.statusCode()).isEqualTo(202);
        assertThat(purged.headers().firstValue("Location")).isPresent();
        assertThat(status(READER, "POST", own)).isEqualTo(403);
    }

    @Test
    void whatIsNotSimulatedIsSaidSo() throws Exception {
        assertThat(status(PUBLISHER, "PUT", "/harbourmenu/$web/a?comp=tags")).isEqualTo(501);
        assertThat(status(PUBLISHER, "PUT", "/harbourmenu/other?restype=container"))
                .isEqualTo(403);
        assertThat(status(CONTRIBUTOR, "PUT", "/quaysidewifi/exports?restype=container"))
                .isEqualTo(409);
        assertThat(status(CONTRIBUTOR, "PUT", "/quaysidewifi/other?restype=container"))
                .isEqualTo(501);
        assertThat(status(CONTRIBUTOR, "POST", STORAGE + "quaysidewifi/regenerateKey?api-version=2025-08-01"))
                .isEqualTo(501);
        assertThat(status(CONTRIBUTOR, "DELETE", STORAGE + "quaysidewifi?api-version=2025-08-01"))
                .isEqualTo(501);
        // Whether strangers are refused with 403 or 409 there is not known.
        assertThat(send(to("/harbourmenu/$web/index.html")).statusCode()).isEqualTo(501);
        assertThat(send(to("/subscriptions")).statusCode()).isEqualTo(401);
    }

    @Test
    void strangersWriteAndListNothing() throws Exception {
        HttpResponse<String> put = send(to("/quaysidewifi/exports/x.txt")
                .header("x-ms-blob-type", "BlockBlob")
                .PUT(HttpRequest.BodyPublishers.ofString("x")));
        assertThat(put.statusCode()).isEqualTo(401);
        assertThat(put.body()).contains("<Code>NoAuthenticationInformation</Code>");
        assertThat(send(to("/quaysidewifi/$web?restype=container&comp=list")).statusCode())
                .isEqualTo(401);
        // The demo's mistake: a container that is left open.
        assertThat(send(to("/quaysidewifi/exports?restype=container&comp=list")).statusCode())
                .isEqualTo(200);
    }

    @Test
    void settingsOfABlobAreKept() throws Exception {
        String page = "/harbourmenu/$web/new/page.html";
        assertThat(status(PUBLISHER, "PUT", page)).isEqualTo(201);
        assertThat(send(to(page + "?comp=properties")
                                .header("Authorization", "Bearer " + token(PUBLISHER))
                                .header("x-ms-blob-content-type", "text/plain")
                                .header("x-ms-blob-cache-control", "max-age=60")
                                .PUT(HttpRequest.BodyPublishers.noBody()))
                        .statusCode())
                .isEqualTo(200);
        assertThat(send(to(page + "?comp=metadata")
                                .header("Authorization", "Bearer " + token(PUBLISHER))
                                .header("x-ms-meta-release", "42")
                                .PUT(HttpRequest.BodyPublishers.noBody()))
                        .statusCode())
                .isEqualTo(200);
        HttpResponse<String> read = call(PUBLISHER, "GET", page, "");
        assertThat(read.body()).isEqualTo("page");
        assertThat(read.headers().firstValue("Content-Type")).contains("text/plain");
        assertThat(read.headers().firstValue("Cache-Control")).contains("max-age=60");
        assertThat(read.headers().firstValue("x-ms-meta-release")).contains("42");
        HttpResponse<String> stale = send(to(page).header("Authorization", "Bearer " + token(PUBLISHER))
                .header("If-Match", "\"0xOLD\"")
                .DELETE());
        assertThat(stale.statusCode()).isEqualTo(412);
        HttpResponse<String> damaged = send(to(page).header("Authorization", "Bearer " + token(PUBLISHER))
                .header("x-ms-blob-type", "BlockBlob")
                .header("Content-MD5", "AAAAAAAAAAAAAAAAAAAAAA==")
                .PUT(HttpRequest.BodyPublishers.ofString("another page")));
        assertThat(damaged.statusCode()).isEqualTo(400);
        assertThat(call(PUBLISHER, "GET", page, "").body()).isEqualTo("page");
    }

    private HttpResponse<String> change(String client, String method, String path, String body) throws Exception {
        return send(to(path + "?api-version=2025-08-01")
                .header("Authorization", "Bearer " + token(client))
                .header("Content-Type", "application/json")
                .method(method, HttpRequest.BodyPublishers.ofString(body)));
    }

    @Test
    void settingsAreChangedByThoseWhoMay() throws Exception {
        String account = STORAGE + "quaysidewifi";
        String newer = "{\"properties\":{\"minimumTlsVersion\":\"TLS1_2\"}}";
        assertThat(change(PUBLISHER, "PATCH", account, newer).statusCode()).isEqualTo(403);
        HttpResponse<String> patched = change(CONTRIBUTOR, "PATCH", account, newer);
        assertThat(patched.statusCode()).as(patched.body()).isEqualTo(200);
        assertThat(patched.body()).contains("\"TLS1_2\"", "\"supportsHttpsTrafficOnly\":true");
        assertThat(change(CONTRIBUTOR, "GET", account, "").body()).contains("\"TLS1_2\"");
        assertThat(standIn.state()).contains("\"TLS1_2\"");
        assertThat(change(CONTRIBUTOR, "PATCH", STORAGE + "nosuch", newer).statusCode())
                .isEqualTo(404);
        assertThat(change(CONTRIBUTOR, "PATCH", account, "[]").statusCode()).isEqualTo(400);
        assertThat(change(CONTRIBUTOR, "PUT", account, newer).statusCode()).isEqualTo(501);
    }

    /** Closing the container to strangers changes what they are answered. */
    @Test
    void aChangedSettingIsEnforced() throws Exception {
        String list = "/quaysidewifi/exports?restype=container&comp=list";
        assertThat(send(to(list)).statusCode()).isEqualTo(200);
        HttpResponse<String> closed = change(
                CONTRIBUTOR,
                "PATCH",
                STORAGE + "quaysidewifi/blobServices/default/containers/exports",
                "{\"properties\":{\"publicAccess\":\"None\"}}");
        assertThat(closed.statusCode()).as(closed.body()).isEqualTo(200);
        assertThat(send(to(list)).statusCode()).isEqualTo(401);
    }

    @Test
    void resourcesAreMadeAndDeleted() throws Exception {
        String policy = STORAGE + "quaysidewifi/managementPolicies/default";
        String rules = "{\"properties\":{\"policy\":{\"rules\":[]}}}";
        assertThat(change(CONTRIBUTOR, "PUT", policy, rules).statusCode()).isEqualTo(201);
        assertThat(change(CONTRIBUTOR, "GET", policy, "").body()).contains("\"rules\":[]");
        assertThat(change(CONTRIBUTOR, "DELETE", policy, "").statusCode()).isEqualTo(200);
        assertThat(change(CONTRIBUTOR, "GET", policy, "").statusCode()).isEqualTo(404);
        assertThat(change(CONTRIBUTOR, "DELETE", policy, "").statusCode()).isEqualTo(204);
        // A contributor hands out no roles.
        assertThat(change(
                                CONTRIBUTOR,
                                "PUT",
                                STORAGE + "quaysidewifi/providers/Microsoft.Authorization/roleAssignments/"
                                        + "77777777-0000-4000-8000-000000000001",
                                "{\"properties\":{}}")
                        .statusCode())
                .isEqualTo(403);
    }
}
