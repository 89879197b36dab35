package warden.standin.aws;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.standin.aws.Wire.ROOT;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.rehearse.RehearsedCall;
import warden.standin.Faults;
import warden.standin.aws.Wire.Answer;

/** Each call does what it says, under its own permission; what is not simulated does nothing. */
class CallsAsTheyAreTest {
    private static final String OLD = "quay-archive";
    private static final String WRITER = "arn:aws:iam::210987654321:user/archivist";

    /** A bucket that keeps versions and takes access lists, and somebody whose rights hang on what requests tell. */
    private static final String SURVEY = ("{'survey':1,'provider':'aws','account':'210987654321'}\n"
                    + "{'aspect':'bucket-list','of':'210987654321','found':{'Buckets':[{'Name':'quay-archive'}],'Owner':{'ID':'0ffe'}}}\n"
                    + line("bucket-location", "{'LocationConstraint':'eu-west-1'}")
                    + absent("bucket-policy", "NoSuchBucketPolicy")
                    + line(
                            "bucket-public-access",
                            "{'PublicAccessBlockConfiguration':{'BlockPublicAcls':false,'IgnorePublicAcls':false,'BlockPublicPolicy':false,'RestrictPublicBuckets':false}}")
                    + line("bucket-ownership", "{'OwnershipControls':{'Rules':[{'ObjectOwnership':'ObjectWriter'}]}}")
                    + line(
                            "bucket-acl",
                            "{'Owner':{'ID':'0ffe'},'Grants':[{'Grantee':{'ID':'0ffe','Type':'CanonicalUser'},'Permission':'FULL_CONTROL'}]}")
                    + line("bucket-versioning", "{'Status':'Enabled'}")
                    + absent("bucket-website", "NoSuchWebsiteConfiguration")
                    + absent("bucket-encryption", "ServerSideEncryptionConfigurationNotFoundError")
                    + line(
                            "bucket-objects",
                            "{'Contents':[{'Key':'old.html','Size':3,'ETag':'e0'}],'IsTruncated':false}")
                    + "{'aspect':'account-public-access','of':'210987654321','absent':'NoSuchPublicAccessBlockConfiguration'}\n"
                    + "{'aspect':'iam-user','of':'" + WRITER
                    + "','found':{'UserName':'archivist','UserId':'AIDA1','Arn':'" + WRITER
                    + "','UserPolicyList':[{'PolicyName':'p','PolicyDocument':{'Version':'2012-10-17','Statement':["
                    + allow("s3:ListBucket", "arn:aws:s3:::quay-archive", "'s3:prefix':'2026/'") + ","
                    + allow("s3:GetObject", "arn:aws:s3:::quay-archive/*", "'s3:ExistingObjectTag/open':'yes'") + ","
                    + allow("s3:PutObject", "arn:aws:s3:::quay-archive/*", "'s3:x-amz-storage-class':'STANDARD_IA'")
                    + "]}}],'AttachedManagedPolicies':[],'GroupList':[]}}\n")
            .replace('\'', '"');

    private static String line(String aspect, String found) {
        return "{'aspect':'" + aspect + "','of':'arn:aws:s3:::quay-archive','found':" + found + "}\n";
    }

    private static String absent(String aspect, String code) {
        return "{'aspect':'" + aspect + "','of':'arn:aws:s3:::quay-archive','absent':'" + code + "'}\n";
    }

    private static String allow(String action, String resource, String condition) {
        return "{'Effect':'Allow','Action':'" + action + "','Resource':'" + resource + "','Condition':{'StringEquals':{"
                + condition + "}}}";
    }

    @TempDir
    private Path folder;

    private final List<RehearsedCall> calls = Collections.synchronizedList(new ArrayList<>());
    private StandIn standIn;
    private Wire wire;

    @BeforeEach
    void start() throws Exception {
        standIn = started(false, calls::add);
        wire = new Wire(standIn);
    }

    private StandIn started(boolean keepsGoing, Consumer<RehearsedCall> record) throws Exception {
        return StandIn.start(
                SURVEY,
                "quay.ndjson",
                (bucket, key) -> Optional.empty(),
                new StandIn.Settings(Faults.none(), Optional.of(folder), Optional.empty(), keepsGoing, record),
                0,
                Clock.fixed(Instant.parse("2026-11-24T08:00:00Z"), ZoneOffset.UTC));
    }

    @AfterEach
    void stop() {
        standIn.close();
    }

    private Answer root(String method, String path, String body, String... headers) throws Exception {
        return wire.storage(ROOT, method, "/" + OLD + path, body, headers);
    }

    private Answer writer(String method, String path, String body, String... headers) throws Exception {
        return wire.storage(WRITER, method, "/" + OLD + path, body, headers);
    }

    @ParameterizedTest
    @CsvSource({
        "PUT, /old.html?legal-hold",
        "PUT, /old.html?retention",
        "PUT, /old.html?anything=new",
        "POST, /old.html?restore",
        "POST, /old.html?select&select-type=2",
        "GET, /old.html?torrent",
        "DELETE, /old.html?anything",
        "GET, ?accelerate",
        "GET, ?inventory&id=1",
        "GET, ?notification",
        "GET, ?replication",
        "GET, ?object-lock",
        "GET, ?tagging",
        "PUT, ?tagging",
        "PUT, ?notification",
        "DELETE, ?replication",
        "PUT, ''",
        "DELETE, ''",
        "HEAD, ?versions"
    })
    void whatIsNotSimulatedDoesNothingAndSaysSo(String method, String path) throws Exception {
        String before = standIn.state();
        Answer answer = root(method, path, method.equals("PUT") ? "<x/>" : "");
        assertThat(answer.status()).as(answer.body()).isEqualTo(501);
        assertThat(standIn.state()).isEqualTo(before);
        assertThat(calls).last().satisfies(call -> assertThat(call.isSimulated())
                .isFalse());
    }

    @Test
    void whatARequestTellsDecides() throws Exception {
        assertThat(writer("GET", "?list-type=2&prefix=2026/", "").status()).isEqualTo(200);
        assertThat(writer("GET", "?list-type=2&prefix=2025/", "").status()).isEqualTo(403);
        assertThat(writer("PUT", "/a", "a", "x-amz-storage-class", "STANDARD_IA")
                        .status())
                .isEqualTo(200);
        assertThat(writer("PUT", "/a", "a").status()).isEqualTo(403);
        assertThat(calls).last().satisfies(call -> {
            assertThat(call.operation()).isEqualTo("PutObject");
            assertThat(call.isRefused()).isTrue();
            assertThat(call.needs()).extracting(RehearsedCall.Need::action).containsExactly("s3:PutObject");
        });
        assertThat(calls.get(0).needs().get(0).context()).containsEntry("s3:prefix", List.of("2026/"));
        assertThat(calls.get(0).needs().get(0).because()).isNotEmpty();
    }

    @Test
    void tagsAreKeptReadAndAskedFor() throws Exception {
        root("PUT", "/t", "t", "x-amz-tagging", "open=yes&season=winter");
        assertThat(writer("GET", "/t", "").status()).isEqualTo(200);
        assertThat(root("GET", "/t?tagging", "").body())
                .contains("<Tag><Key>open</Key><Value>yes</Value></Tag><Tag><Key>season</Key>");
        assertThat(root(
                                "PUT",
                                "/t?tagging",
                                "<Tagging><TagSet><Tag><Key>open</Key><Value>no</Value></Tag></TagSet></Tagging>")
                        .status())
                .isEqualTo(200);
        assertThat(root("GET", "/t", "").body()).isEqualTo("t");
        assertThat(writer("GET", "/t", "").status()).isEqualTo(403);
        assertThat(root("DELETE", "/t?tagging", "").status()).isEqualTo(204);
        assertThat(root("GET", "/t", "").body()).isEqualTo("t");
        assertThat(root("GET", "/t?tagging", "").body()).contains("<TagSet></TagSet>");
        // Nothing tells the tags of an object of the survey, and so not who may read it.
        assertThat(writer("GET", "/old.html", "").status()).isEqualTo(501);
        assertThat(root("GET", "/old.html?tagging", "").status()).isEqualTo(501);
    }

    @Test
    void versionsAreKeptAndDeletionsLeaveMarkers() throws Exception {
        String first = root("PUT", "/v", "one").header("x-amz-version-id").orElseThrow();
        String second = root("PUT", "/v", "two").header("x-amz-version-id").orElseThrow();
        assertThat(first).isNotEqualTo(second);
        assertThat(root("GET", "/v?versionId=" + first, "").body()).isEqualTo("one");
        Answer deleted = root("DELETE", "/v", "");
        assertThat(deleted.header("x-amz-delete-marker")).contains("true");
        assertThat(root("GET", "/v", "").status()).isEqualTo(404);
        assertThat(root("GET", "/v?versionId=" + second, "").body()).isEqualTo("two");
        String versions = root("GET", "?versions&prefix=v", "").body();
        assertThat(versions.split("<Version>")).hasSize(3);
        assertThat(versions).contains("<DeleteMarker><Key>v</Key>");
        String marker = deleted.header("x-amz-version-id").orElseThrow();
        assertThat(root("GET", "/v?versionId=" + marker, "").status()).isEqualTo(405);
        assertThat(root("DELETE", "/v?versionId=" + marker, "").status()).isEqualTo(204);
        assertThat(root("GET", "/v", "").body()).isEqualTo("two");
        root("DELETE", "/v?versionId=" + second, "");
        assertThat(root("GET", "/v", "").body()).isEqualTo("one");
        assertThat(calls).last().satisfies(call -> assertThat(call.needs())
                .extracting(RehearsedCall.Need::action)
                .containsExactly("s3:GetObject"));
        assertThat(root("GET", "/v?versionId=none", "").status()).isEqualTo(404);
    }

    @Test
    void pagesOfVersionsHoldEachOnce() throws Exception {
        for (int i = 0; i < 3; i++) {
            root("PUT", "/p/a", "a" + i);
            root("PUT", "/p/b", "b" + i);
        }
        List<String> seen = new ArrayList<>();
        String marker = "";
        for (int page = 0; page < 10; page++) {
            String body =
                    root("GET", "?versions&prefix=p/&max-keys=2" + marker, "").body();
            seen.addAll(StorageApiTest.all(body, "VersionId"));
            List<String> key = StorageApiTest.all(body, "NextKeyMarker");
            if (key.isEmpty()) {
                break;
            }
            marker = "&key-marker=" + key.get(0) + "&version-id-marker="
                    + StorageApiTest.all(body, "NextVersionIdMarker").get(0);
        }
        assertThat(seen).hasSize(6).doesNotHaveDuplicates();
    }

    @Test
    void accessListsAreKeptAndInForce() throws Exception {
        root("PUT", "/open.html", "open", "x-amz-acl", "public-read");
        assertThat(wire.send("GET", "/" + OLD + "/open.html", "").body()).isEqualTo("open");
        assertThat(root("GET", "/open.html?acl", "").body()).contains("AllUsers", "<Permission>READ</Permission>");
        assertThat(standIn.state()).contains("\"aspect\":\"object-acl\"");
        root("PUT", "/open.html?acl", "", "x-amz-acl", "private");
        assertThat(wire.send("GET", "/" + OLD + "/open.html", "").status()).isEqualTo(403);
        root(
                "PUT",
                "/open.html?acl",
                "",
                "x-amz-grant-read",
                "uri=\"http://acs.amazonaws.com/groups/global/AllUsers\"");
        assertThat(wire.send("GET", "/" + OLD + "/open.html", "").status()).isEqualTo(200);
        // What is written anew is private again.
        root("PUT", "/open.html", "shut");
        assertThat(wire.send("GET", "/" + OLD + "/open.html", "").status()).isEqualTo(403);
        assertThat(root("PUT", "/x", "x", "x-amz-acl", "private", "x-amz-grant-read", "id=\"a\"")
                        .status())
                .isEqualTo(400);
        String block =
                "<PublicAccessBlockConfiguration><BlockPublicAcls>true</BlockPublicAcls></PublicAccessBlockConfiguration>";
        assertThat(root("PUT", "?publicAccessBlock", block).status()).isEqualTo(200);
        assertThat(root("PUT", "/open.html", "open", "x-amz-acl", "public-read").status())
                .isEqualTo(403);
        assertThat(root("PUT", "?acl", "", "x-amz-acl", "public-read").status()).isEqualTo(403);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "content-md5 | 1B2M2Y8AsgTpgAmY7PhCfg== | BadDigest",
                "content-md5 | nonsense | InvalidRequest",
                "x-amz-checksum-crc32 | AAAAAA== | BadDigest",
                "x-amz-checksum-crc64nvme | AAAAAAAAAAA= | BadDigest",
                "x-amz-content-sha256 | e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855 | XAmzContentSHA256Mismatch"
            })
    void aBodyThatIsNotWhatIsSaidOfItIsRefused(String header, String value, String code) throws Exception {
        Answer answer = root("PUT", "/sum", "ferry", header, value);
        assertThat(answer.status()).isEqualTo(400);
        assertThat(answer.body()).contains("<Code>" + code + "</Code>");
        assertThat(root("GET", "/sum", "").status()).isEqualTo(404);
    }

    @Test
    void rightSumsAreTakenAndSaidAgain() throws Exception {
        assertThat(Checksums.crc64("123456789".getBytes(StandardCharsets.US_ASCII)))
                .isEqualTo(0xAE8B14860A799888L);
        Answer put = root("PUT", "/sum", "123456789", "x-amz-checksum-crc32", "y/Q5Jg==");
        assertThat(put.status()).as(put.body()).isEqualTo(200);
        assertThat(root("GET", "/sum", "", "x-amz-checksum-mode", "ENABLED").header("x-amz-checksum-crc32"))
                .contains("y/Q5Jg==");
        assertThat(root("GET", "/sum", "").header("x-amz-checksum-crc32")).isEmpty();
    }

    @Test
    void conditionsHold() throws Exception {
        String tag = root("PUT", "/c", "one").header("etag").orElseThrow();
        assertThat(root("PUT", "/c", "two", "If-None-Match", "*").status()).isEqualTo(412);
        assertThat(root("PUT", "/c", "two", "If-Match", "\"other\"").status()).isEqualTo(412);
        assertThat(root("PUT", "/none", "two", "If-Match", tag).status()).isEqualTo(404);
        assertThat(root("GET", "/c", "", "If-None-Match", tag).status()).isEqualTo(304);
        assertThat(root("GET", "/c", "", "If-Match", "\"other\"").status()).isEqualTo(412);
        assertThat(root("GET", "/c", "", "If-Modified-Since", "Tue, 24 Nov 2026 08:00:00 GMT")
                        .status())
                .isEqualTo(304);
        assertThat(root("GET", "/c", "", "If-Unmodified-Since", "Mon, 23 Nov 2026 08:00:00 GMT")
                        .status())
                .isEqualTo(412);
        assertThat(root("PUT", "/c", "two", "If-Match", tag).status()).isEqualTo(200);
    }

    @Test
    void partsAreCopiedWithTheirTags() throws Exception {
        root("PUT", "/whole", "0123456789");
        String id = StorageApiTest.all(root("POST", "/copy?uploads", "").body(), "UploadId")
                .get(0);
        Answer part = root(
                "PUT",
                "/copy?partNumber=1&uploadId=" + id,
                "",
                "x-amz-copy-source",
                "/" + OLD + "/whole",
                "x-amz-copy-source-range",
                "bytes=2-5");
        String tag = StorageApiTest.all(part.body(), "ETag").get(0);
        root(
                "POST",
                "/copy?uploadId=" + id,
                "<CompleteMultipartUpload><Part><PartNumber>1</PartNumber><ETag>" + tag
                        + "</ETag></Part></CompleteMultipartUpload>");
        assertThat(root("GET", "/copy", "").body()).isEqualTo("2345");
        assertThat(calls)
                .filteredOn(call -> call.operation().equals("UploadPartCopy"))
                .singleElement()
                .satisfies(call -> assertThat(call.needs())
                        .extracting(RehearsedCall.Need::action)
                        .containsExactly("s3:PutObject", "s3:GetObject"));
    }

    @Test
    void anotherRegionLeadsToTheRightOne() throws Exception {
        Answer answer = wire.send(
                "GET",
                "/" + OLD + "?list-type=2",
                "",
                "Authorization",
                Wire.signed(ROOT, "s3").replace("eu-west-1", "us-east-1"));
        assertThat(answer.status()).isEqualTo(301);
        assertThat(answer.header("x-amz-bucket-region")).contains("eu-west-1");
        assertThat(answer.body()).contains("<Code>PermanentRedirect</Code>", "<Region>eu-west-1</Region>");
    }

    @Test
    void signaturesOfTheOlderKindAreNobodysToGuess() throws Exception {
        String key = StandIn.keyOf(ROOT);
        root("PUT", "/signed", "signed");
        String query = "?AWSAccessKeyId=" + key + "&Signature=x&Expires=";
        assertThat(wire.send("GET", "/" + OLD + "/signed" + query + "1900000000", "")
                        .body())
                .isEqualTo("signed");
        assertThat(wire.send("GET", "/" + OLD + "/signed" + query + "1000000000", "")
                        .status())
                .isEqualTo(403);
        assertThat(wire.send("GET", "/" + OLD + "/signed", "", "Authorization", "AWS " + key + ":x")
                        .status())
                .isEqualTo(200);
        assertThat(root("GET", "/signed", "", "x-amz-date", "20261124T070000Z").body())
                .contains("RequestTimeTooSkewed");
    }

    @Test
    void aDeletionOfManyIsRefusedInParts() throws Exception {
        root("PUT", "/a", "a");
        Answer answer = writer(
                "POST", "?delete", "<Delete><Object><Key>a</Key></Object><Object><Key>b</Key></Object></Delete>");
        assertThat(answer.status()).isEqualTo(200);
        assertThat(calls).last().satisfies(call -> {
            assertThat(call.isRefused()).isTrue();
            assertThat(call.needs()).hasSize(2);
        });
        assertThat(root("POST", "?delete", "<Delete></Delete>").status()).isEqualTo(400);
    }

    @Test
    void whoKeepsGoingIsToldWhatWouldHaveBeenRefused() throws Exception {
        List<RehearsedCall> seen = Collections.synchronizedList(new ArrayList<>());
        try (StandIn lenient = started(true, seen::add)) {
            Wire other = new Wire(lenient);
            assertThat(other.storage(WRITER, "PUT", "/" + OLD + "/a", "a").status())
                    .isEqualTo(200);
            assertThat(seen).singleElement().satisfies(call -> assertThat(call.isRefused())
                    .isTrue());
        }
    }

    @Test
    void largeContentsLieInTheFolder() throws Exception {
        String large = "ferry ".repeat(100_000);
        root("PUT", "/large", large);
        try (var files = Files.list(folder)) {
            assertThat(files).hasSize(1);
        }
        assertThat(root("GET", "/large", "").body()).isEqualTo(large);
        assertThat(root("GET", "/large", "", "Range", "bytes=6-10").body()).isEqualTo("ferry");
        String version = root("PUT", "/large", large).header("x-amz-version-id").orElseThrow();
        root("DELETE", "/large?versionId=" + version, "");
        try (var files = Files.list(folder)) {
            assertThat(files).hasSize(1);
        }
    }

    @Test
    void waitersOfInvalidationsEnd() throws Exception {
        try (StandIn demo = Wire.start(Wire.demo(), Faults.none())) {
            Wire edge = new Wire(demo);
            String id = StorageApiTest.all(
                            edge.service(ROOT, "cloudfront", "GET", "/2020-05-31/distribution", "")
                                    .body(),
                            "Id")
                    .get(0);
            String path = "/2020-05-31/distribution/" + id + "/invalidation";
            Answer made = edge.service(
                    ROOT,
                    "cloudfront",
                    "POST",
                    path,
                    "<InvalidationBatch><Paths><Quantity>1</Quantity><Items><Path>/*</Path></Items></Paths>"
                            + "<CallerReference>r</CallerReference></InvalidationBatch>");
            assertThat(made.status()).as(made.body()).isEqualTo(201);
            String batch = StorageApiTest.all(made.body(), "Id").get(0);
            assertThat(edge.service(ROOT, "cloudfront", "GET", path + "/" + batch, "")
                            .body())
                    .contains("<Status>Completed</Status>", "<Path>/*</Path>");
            assertThat(edge.service(ROOT, "cloudfront", "GET", path, "").body())
                    .contains("<InvalidationSummary><Id>" + batch);
            assertThat(edge.service(ROOT, "cloudfront", "GET", path + "/I0", "").status())
                    .isEqualTo(404);
            assertThat(demo.invalidated()).singleElement().asString().endsWith(" /*");
            assertThat(demo.keys()).containsEntry(StandIn.keyOf(ROOT), ROOT);
        }
    }

    @Test
    void whoAmIBearsTheSessionsName() throws Exception {
        String role = "arn:aws:iam::210987654321:role/www-publisher";
        try (StandIn demo = Wire.start(Wire.demo(), Faults.none())) {
            StandIn.Credentials made = demo.credentials(role, "rehearsal").orElseThrow();
            Answer answer = new Wire(demo)
                    .send(
                            "POST",
                            "/",
                            "Action=GetCallerIdentity&Version=2011-06-15",
                            "Authorization",
                            Wire.signed(ROOT, "sts").replace(StandIn.keyOf(ROOT), made.keyId()),
                            "x-amz-security-token",
                            made.token().orElseThrow());
            assertThat(answer.body()).contains("assumed-role/www-publisher/rehearsal", ":rehearsal</UserId>");
        }
    }
}
