package warden.standin.aws;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.standin.aws.Wire.ROOT;
import static warden.standin.aws.Wire.WWW;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.standin.Faults;
import warden.standin.Loopback;
import warden.standin.aws.Wire.Answer;

/** The storage protocol, byte for byte. Source of what is expected: S3 API Reference. */
class StorageApiTest {
    private static final String PUBLISHER = "arn:aws:iam::210987654321:role/www-publisher";
    private static final String MAILER = "arn:aws:iam::210987654321:role/ticket-mailer";

    private StandIn standIn;
    private Wire wire;

    @BeforeEach
    void start() throws Exception {
        standIn = Wire.start(Wire.demo(), Faults.none());
        wire = new Wire(standIn);
    }

    @AfterEach
    void stop() {
        standIn.close();
    }

    static List<String> all(String body, String element) {
        List<String> found = new ArrayList<>();
        Matcher each =
                Pattern.compile("<" + element + ">([^<]*)</" + element + ">").matcher(body);
        while (each.find()) {
            found.add(each.group(1));
        }
        return found;
    }

    @Test
    void listsTheBuckets() throws Exception {
        Answer answer = wire.storage(ROOT, "GET", "/", "");
        assertThat(answer.status()).isEqualTo(200);
        assertThat(answer.body()).startsWith("<").contains("<ListAllMyBucketsResult");
        assertThat(all(answer.body(), "Name")).contains(WWW, "timetables.heronferry.example");
    }

    @Test
    void listsObjectsPageByPage() throws Exception {
        List<String> whole =
                all(wire.storage(ROOT, "GET", "/" + WWW + "?list-type=2", "").body(), "Key");
        assertThat(whole).hasSizeGreaterThan(4).isSorted().contains("index.html", "404.html");
        List<String> paged = new ArrayList<>();
        String token = "";
        int pages = 0;
        do {
            Answer page = wire.storage(ROOT, "GET", "/" + WWW + "?list-type=2&max-keys=2" + token, "");
            paged.addAll(all(page.body(), "Key"));
            List<String> next = all(page.body(), "NextContinuationToken");
            assertThat(all(page.body(), "IsTruncated")).containsExactly(String.valueOf(!next.isEmpty()));
            token = next.isEmpty() ? "" : "&continuation-token=" + next.get(0);
            pages++;
        } while (!token.isEmpty());
        assertThat(paged).isEqualTo(whole);
        assertThat(pages).isEqualTo((whole.size() + 1) / 2);
    }

    @Test
    void foldsFolders() throws Exception {
        Answer top = wire.storage(ROOT, "GET", "/" + WWW + "?list-type=2&delimiter=/", "");
        assertThat(all(top.body(), "Key")).contains("index.html").noneMatch(key -> key.contains("/"));
        assertThat(top.body()).contains("<CommonPrefixes><Prefix>assets/</Prefix></CommonPrefixes>");
        Answer inside = wire.storage(ROOT, "GET", "/" + WWW + "?list-type=2&delimiter=/&prefix=assets/", "");
        assertThat(all(inside.body(), "Key")).isNotEmpty().allMatch(key -> key.startsWith("assets/"));
    }

    @Test
    void keepsWhatIsPut() throws Exception {
        Answer put = wire.storage(
                ROOT,
                "PUT",
                "/" + WWW + "/isles/a%20b%26c.html",
                "<p>ferry</p>",
                "Content-Type",
                "text/html; charset=utf-8",
                "Cache-Control",
                "no-cache",
                "x-amz-meta-release",
                "42");
        assertThat(put.status()).isEqualTo(200);
        assertThat(put.header("etag")).contains(Digests.tag("<p>ferry</p>".getBytes()));
        Answer got = wire.storage(ROOT, "GET", "/" + WWW + "/isles/a%20b%26c.html", "");
        assertThat(got.body()).isEqualTo("<p>ferry</p>");
        assertThat(got.header("content-type")).contains("text/html; charset=utf-8");
        assertThat(got.header("cache-control")).contains("no-cache");
        assertThat(got.header("x-amz-meta-release")).contains("42");
        assertThat(got.header("etag")).isEqualTo(put.header("etag"));
        Answer head = wire.storage(ROOT, "HEAD", "/" + WWW + "/isles/a%20b%26c.html", "");
        assertThat(head.status()).isEqualTo(200);
        assertThat(head.body()).isEmpty();
        assertThat(head.header("content-length")).contains("12");
        Answer listed = wire.storage(ROOT, "GET", "/" + WWW + "?list-type=2&prefix=isles/", "");
        assertThat(listed.body()).contains("<Key>isles/a b&amp;c.html</Key>", "<Size>12</Size>");
        Answer escaped = wire.storage(ROOT, "GET", "/" + WWW + "?list-type=2&prefix=isles/&encoding-type=url", "");
        assertThat(escaped.body()).contains("<Key>isles/a+b%26c.html</Key>");
    }

    @ParameterizedTest
    @CsvSource({
        "bytes=0-3, 206, 0123, bytes 0-3/10",
        "bytes=7-, 206, 789, bytes 7-9/10",
        "bytes=-2, 206, 89, bytes 8-9/10",
        "bytes=4-99, 206, 456789, bytes 4-9/10"
    })
    void givesParts(String range, int status, String body, String said) throws Exception {
        wire.storage(ROOT, "PUT", "/" + WWW + "/digits", "0123456789");
        Answer part = wire.storage(ROOT, "GET", "/" + WWW + "/digits", "", "Range", range);
        assertThat(part.status()).isEqualTo(status);
        assertThat(part.body()).isEqualTo(body);
        assertThat(part.header("content-range")).contains(said);
    }

    @Test
    void refusesARangeBehindTheEnd() throws Exception {
        wire.storage(ROOT, "PUT", "/" + WWW + "/digits", "0123456789");
        assertThat(wire.storage(ROOT, "GET", "/" + WWW + "/digits", "", "Range", "bytes=20-30")
                        .status())
                .isEqualTo(416);
    }

    private String part(String path, String id, int number, String content) throws Exception {
        Answer put = wire.storage(ROOT, "PUT", path + "?partNumber=" + number + "&uploadId=" + id, content);
        assertThat(put.status()).as(put.body()).isEqualTo(200);
        return "<Part><PartNumber>" + number + "</PartNumber><ETag>"
                + put.header("etag").orElseThrow().replace("\"", "&quot;") + "</ETag></Part>";
    }

    private Answer complete(String path, String id, String... parts) throws Exception {
        return wire.storage(
                ROOT,
                "POST",
                path + "?uploadId=" + id,
                "<CompleteMultipartUpload>" + String.join("", parts) + "</CompleteMultipartUpload>");
    }

    private String begun(String path) throws Exception {
        return all(wire.storage(ROOT, "POST", path + "?uploads", "").body(), "UploadId")
                .get(0);
    }

    @Test
    void joinsAnUploadInParts() throws Exception {
        String path = "/" + WWW + "/big.bin";
        String bow = "bow".repeat(2 * 1024 * 1024);
        String id = begun(path);
        // Parts may come in any order.
        String second = part(path, id, 2, "-stern");
        String first = part(path, id, 1, bow);
        assertThat(all(wire.storage(ROOT, "GET", path + "?uploadId=" + id, "").body(), "PartNumber"))
                .containsExactly("1", "2");
        assertThat(all(wire.storage(ROOT, "GET", "/" + WWW + "?uploads", "").body(), "UploadId"))
                .containsExactly(id);
        assertThat(wire.storage(ROOT, "GET", path, "").status()).isEqualTo(404);
        assertThat(complete(path, id, second, first).body()).contains("InvalidPartOrder");
        assertThat(complete(path, id, first, second.replace("<ETag>", "<ETag>0"))
                        .body())
                .contains("InvalidPart<");
        Answer done = complete(path, id, first, second);
        assertThat(done.status()).as(done.body()).isEqualTo(200);
        Answer got = wire.storage(ROOT, "GET", path, "");
        assertThat(got.body()).isEqualTo(bow + "-stern");
        assertThat(got.header("etag")).get().asString().endsWith("-2\"");
        Answer part = wire.storage(ROOT, "GET", path + "?partNumber=2", "");
        assertThat(part.status()).isEqualTo(206);
        assertThat(part.body()).isEqualTo("-stern");
        assertThat(part.header("x-amz-mp-parts-count")).contains("2");
        String other = begun(path);
        assertThat(complete(path, other, part(path, other, 1, "small"), part(path, other, 2, "smaller"))
                        .body())
                .contains("EntityTooSmall");
        assertThat(wire.storage(ROOT, "DELETE", path + "?uploadId=" + other, "").status())
                .isEqualTo(204);
    }

    @Test
    void copiesWithinTheAccount() throws Exception {
        Answer copied = wire.storage(
                ROOT, "PUT", "/" + WWW + "/start.html", "", "x-amz-copy-source", "/" + WWW + "/index.html");
        assertThat(copied.status()).isEqualTo(200);
        assertThat(copied.body()).contains("<CopyObjectResult");
        assertThat(wire.storage(ROOT, "GET", "/" + WWW + "/start.html", "").body())
                .isEqualTo(
                        wire.storage(ROOT, "GET", "/" + WWW + "/index.html", "").body());
        // A copy takes the permission to read what is copied.
        assertThat(wire.storage(PUBLISHER, "PUT", "/" + WWW + "/x", "", "x-amz-copy-source", "/" + WWW + "/index.html")
                        .status())
                .isEqualTo(403);
    }

    @Test
    void deletesOneAndMany() throws Exception {
        for (String name : List.of("a", "b", "c")) {
            wire.storage(ROOT, "PUT", "/" + WWW + "/tmp/" + name, name);
        }
        assertThat(wire.storage(ROOT, "DELETE", "/" + WWW + "/tmp/a", "").status())
                .isEqualTo(204);
        Answer many = wire.storage(
                ROOT,
                "POST",
                "/" + WWW + "?delete",
                "<Delete><Object><Key>tmp/b</Key></Object><Object><Key>tmp/c</Key></Object></Delete>");
        assertThat(all(many.body(), "Key")).containsExactly("tmp/b", "tmp/c");
        assertThat(all(
                        wire.storage(ROOT, "GET", "/" + WWW + "?list-type=2&prefix=tmp/", "")
                                .body(),
                        "Key"))
                .isEmpty();
        Answer refused = wire.storage(
                MAILER, "POST", "/" + WWW + "?delete", "<Delete><Object><Key>index.html</Key></Object></Delete>");
        assertThat(refused.body()).contains("<Code>AccessDenied</Code>");
        assertThat(wire.storage(ROOT, "HEAD", "/" + WWW + "/index.html", "").status())
                .isEqualTo(200);
    }

    @ParameterizedTest
    @CsvSource({
        // A key that is not there is 404 to those who may list, and 403 to others who may read.
        "arn:aws:iam::210987654321:root, GET, /heronferry-www-content/none, 404, NoSuchKey",
        "arn:aws:iam::210987654321:role/ticket-mailer, GET, /heronferry-www-content/none, 403, AccessDenied",
        "arn:aws:iam::210987654321:role/www-publisher, GET, /heronferry-www-content/index.html, 403, AccessDenied",
        "arn:aws:iam::210987654321:root, GET, /no-such-harbour, 404, NoSuchBucket",
        "arn:aws:iam::210987654321:root, GET, /heronferry-www-content?website, 404, NoSuchWebsiteConfiguration",
        "arn:aws:iam::210987654321:root, PUT, /heronferry-www-content?policy, 400, MalformedPolicy",
        "arn:aws:iam::210987654321:role/ticket-mailer, GET, /heronferry-www-content?policy, 403, AccessDenied"
    })
    void refusesInTheProvidersWords(String who, String method, String path, int status, String code) throws Exception {
        Answer answer = wire.storage(who, method, path, "");
        assertThat(answer.status()).isEqualTo(status);
        assertThat(all(answer.body(), "Code")).containsExactly(code);
        assertThat(answer.header("content-type")).get().asString().contains("xml");
    }

    @Test
    void strangersGetWhatThePoliciesSay() throws Exception {
        assertThat(wire.send("GET", "/" + WWW + "/index.html", "").status()).isEqualTo(403);
        assertThat(wire.send("GET", "/book.heronferry.example/index.html", "").status())
                .isEqualTo(200);
        assertThat(wire.send("PUT", "/" + WWW + "/index.html", "defaced").status())
                .isEqualTo(403);
        Answer unknown = wire.send(
                "GET",
                "/",
                "",
                "Authorization",
                "AWS4-HMAC-SHA256 Credential=AKIANOBODY/20261124/eu-west-1/s3/aws4_request, Signature=0");
        assertThat(unknown.status()).isEqualTo(403);
        assertThat(unknown.body()).contains("InvalidAccessKeyId");
    }

    @ParameterizedTest
    @ValueSource(strings = {"public-read", "authenticated-read", "private"})
    void takesNoAccessListsWhereTheyAreDisabled(String acl) throws Exception {
        Answer answer = wire.storage(ROOT, "PUT", "/" + WWW + "/x", "x", "x-amz-acl", acl);
        assertThat(answer.status()).isEqualTo(400);
        assertThat(answer.body()).contains("AccessControlListNotSupported");
        assertThat(wire.storage(ROOT, "PUT", "/" + WWW + "/x", "x", "x-amz-acl", "bucket-owner-full-control")
                        .status())
                .isEqualTo(200);
    }

    @Test
    void readsChunkedBodies() throws Exception {
        String framed = "5;chunk-signature=00\r\nferry\r\n0;chunk-signature=00\r\n\r\n";
        Answer put = wire.storage(
                ROOT,
                "PUT",
                "/" + WWW + "/chunked",
                framed,
                "x-amz-content-sha256",
                "STREAMING-AWS4-HMAC-SHA256-PAYLOAD",
                "x-amz-decoded-content-length",
                "5");
        assertThat(put.status()).isEqualTo(200);
        assertThat(wire.storage(ROOT, "GET", "/" + WWW + "/chunked", "").body()).isEqualTo("ferry");
    }

    @Test
    void answersByHostNameToo() throws Exception {
        // The provider's own host in plain HTTP is what the bucket's policy denies; the simulated endpoint stands for
        // TLS.
        assertThat(wire.storage(ROOT, "GET", "/index.html", "", "Host", WWW + ".s3.eu-west-1.amazonaws.com")
                        .status())
                .isEqualTo(403);
        Answer answer = wire.storage(ROOT, "GET", "/index.html", "", "Host", WWW + ".localhost");
        assertThat(answer.status()).isEqualTo(200);
        assertThat(answer.body())
                .isEqualTo(
                        wire.storage(ROOT, "GET", "/" + WWW + "/index.html", "").body());
    }

    @Test
    void tellsItsStateAsASurvey() throws Exception {
        wire.storage(ROOT, "PUT", "/" + WWW + "/new.html", "new");
        wire.storage(ROOT, "DELETE", "/" + WWW + "/robots.txt", "");
        Answer state = wire.send("GET", Loopback.STATE_PATH, "");
        assertThat(state.status()).isEqualTo(200);
        assertThat(state.body()).isEqualTo(standIn.state()).contains("new.html").startsWith("{\"survey\":1");
        assertThat(state.body().lines().filter(line -> line.contains(WWW)))
                .noneMatch(line -> line.contains("robots.txt"));
        // The state can be loaded again.
        try (StandIn again = Wire.start(state.body(), Faults.none())) {
            assertThat(new Wire(again)
                            .storage(ROOT, "GET", "/" + WWW + "/new.html", "")
                            .status())
                    .isEqualTo(200);
        }
    }
}
