package warden.standin.aws;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.standin.Faults;
import warden.standin.aws.Wire.Answer;

/** Roles are assumed as their trust policies say, and for as long as was asked. */
class SessionsTest {
    private static final String PUBLISHER = "arn:aws:iam::210987654321:role/timetables-publisher";
    private static final String BUCKET = "timetables.heronferry.example";

    /** A clock that a test sets. */
    private static final class SetClock extends Clock {
        private Instant now = Instant.parse("2026-11-24T08:00:00Z");

        @Override
        public ZoneId getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
            return this;
        }

        @Override
        public Instant instant() {
            return now;
        }
    }

    private final SetClock clock = new SetClock();

    private StandIn start() throws Exception {
        return StandIn.start(Wire.demo(), "test.ndjson", (bucket, key) -> Optional.empty(), Faults.none(), 0, clock);
    }

    private static String token(String claims) {
        Base64.Encoder encoder = Base64.getUrlEncoder().withoutPadding();
        return encoder.encodeToString("{\"alg\":\"none\"}".getBytes(StandardCharsets.UTF_8)) + "."
                + encoder.encodeToString(claims.replace('\'', '"').getBytes(StandardCharsets.UTF_8)) + ".x";
    }

    private static String claims(String issuer, String audience, String subject, long expires) {
        return "{'iss':'https://" + issuer + "','aud':'" + audience + "','sub':'" + subject + "','exp':" + expires
                + "}";
    }

    private static Answer assume(StandIn standIn, String token, String... more) throws Exception {
        StringBuilder form =
                new StringBuilder("Action=AssumeRoleWithWebIdentity&Version=2011-06-15&RoleSessionName=run&RoleArn="
                        + URLEncoder.encode(PUBLISHER, StandardCharsets.UTF_8) + "&WebIdentityToken="
                        + URLEncoder.encode(token, StandardCharsets.UTF_8));
        for (int i = 0; i < more.length; i += 2) {
            form.append('&').append(more[i]).append('=').append(URLEncoder.encode(more[i + 1], StandardCharsets.UTF_8));
        }
        return new Wire(standIn)
                .send("POST", "/", form.toString(), "Content-Type", "application/x-www-form-urlencoded");
    }

    @ParameterizedTest
    @CsvSource({
        "token.actions.githubusercontent.com, sts.amazonaws.com, repo:heron-sound-ferries/timetables:ref:refs/heads/main, 200",
        "token.actions.githubusercontent.com, somebody-else, repo:heron-sound-ferries/timetables:ref:refs/heads/main, 400",
        "token.actions.githubusercontent.com, sts.amazonaws.com, project_path:heron/timetables, 403",
        "gitlab.com, sts.amazonaws.com, repo:heron-sound-ferries/timetables:ref:refs/heads/main, 403",
    })
    void aRoleIsAssumedByTheTokensThatItsTrustPolicyNames(String issuer, String audience, String subject, int status)
            throws Exception {
        try (StandIn standIn = start()) {
            Answer answer = assume(standIn, token(claims(issuer, audience, subject, 1_900_000_000L)));
            if (status == 400) {
                assertThat(answer.status()).isIn(400, 403);
            } else {
                assertThat(answer.status()).as(answer.body()).isEqualTo(status);
            }
        }
    }

    @Test
    void refusesWhatIsNoTokenOrHasExpired() throws Exception {
        try (StandIn standIn = start()) {
            assertThat(assume(standIn, "any text").status()).isEqualTo(400);
            String old = claims("token.actions.githubusercontent.com", "sts.amazonaws.com", "repo:a", 1_000_000_000L);
            assertThat(assume(standIn, token(old)).body())
                    .contains("ExpiredTokenException", "<ErrorResponse xmlns=\"https://sts.amazonaws.com/");
        }
    }

    private static String key(Answer answer) {
        Matcher key = Pattern.compile("<AccessKeyId>([A-Z0-9]+)<").matcher(answer.body());
        assertThat(key.find()).as(answer.body()).isTrue();
        return key.group(1);
    }

    private static String token(Answer answer) {
        Matcher token = Pattern.compile("<SessionToken>([^<]+)<").matcher(answer.body());
        assertThat(token.find()).as(answer.body()).isTrue();
        return token.group(1);
    }

    private static Answer put(StandIn standIn, String key, String token, String path) throws Exception {
        return new Wire(standIn)
                .send(
                        "PUT",
                        "/" + BUCKET + path,
                        "<p>",
                        "Authorization",
                        "AWS4-HMAC-SHA256 Credential=" + key
                                + "/20261124/eu-west-1/s3/aws4_request, SignedHeaders=host, Signature=00",
                        "x-amz-security-token",
                        token);
    }

    private static String good() {
        return token(
                claims("token.actions.githubusercontent.com", "sts.amazonaws.com", "repo:heron/x", 1_900_000_000L));
    }

    @Test
    void aSessionEnds() throws Exception {
        try (StandIn standIn = start()) {
            Answer assumed = assume(standIn, good(), "DurationSeconds", "900");
            String key = key(assumed);
            String token = token(assumed);
            assertThat(put(standIn, key, token, "/a.html").status()).isEqualTo(200);
            assertThat(put(standIn, key, "made up", "/a.html").body()).contains("InvalidToken");
            assertThat(put(standIn, key, "", "/a.html").body()).contains("InvalidToken");
            assertThat(put(standIn, StandIn.keyOf(Wire.ROOT), token, "/a.html").body())
                    .contains("InvalidToken");
            clock.now = clock.now.plusSeconds(901);
            assertThat(put(standIn, key, token, "/a.html").body()).contains("ExpiredToken");
            assertThat(assume(standIn, good(), "DurationSeconds", "1").status()).isEqualTo(400);
        }
    }

    @Test
    void aSessionPolicyLimitsWhatTheRoleMay() throws Exception {
        String policy =
                "{\"Version\":\"2012-10-17\",\"Statement\":[{\"Effect\":\"Allow\",\"Action\":\"s3:PutObject\",\"Resource\":\"arn:aws:s3:::"
                        + BUCKET + "/islands/*\"}]}";
        try (StandIn standIn = start()) {
            Answer assumed = assume(standIn, good(), "Policy", policy);
            String key = key(assumed);
            assertThat(put(standIn, key, token(assumed), "/islands/a.html").status())
                    .isEqualTo(200);
            assertThat(put(standIn, key, token(assumed), "/a.html").status()).isEqualTo(403);
            assertThat(assume(standIn, good(), "Policy", "{").status()).isEqualTo(400);
            assertThat(assume(standIn, good(), "PolicyArns.member.1.arn", "x").status())
                    .isEqualTo(501);
        }
    }

    @Test
    void anExternalIdIsAskedForWhereTheTrustPolicyDoes() throws Exception {
        String trust =
                "{\"Version\":\"2012-10-17\",\"Statement\":[{\"Effect\":\"Allow\",\"Principal\":{\"AWS\":\"arn:aws:iam::210987654321:root\"},"
                        + "\"Action\":\"sts:AssumeRole\",\"Condition\":{\"StringEquals\":{\"sts:ExternalId\":\"quay-7\"}}}]}";
        String survey = Wire.demo()
                + "{\"aspect\":\"iam-role\",\"of\":\"arn:aws:iam::210987654321:role/lent\",\"found\":{\"RoleName\":\"lent\",\"RoleId\":\"AROALENT\","
                + "\"Arn\":\"arn:aws:iam::210987654321:role/lent\",\"AssumeRolePolicyDocument\":" + trust
                + ",\"RolePolicyList\":[]}}\n";
        try (StandIn standIn = Wire.start(survey, Faults.none())) {
            Wire wire = new Wire(standIn);
            String form =
                    "Action=AssumeRole&Version=2011-06-15&RoleSessionName=run&RoleArn=arn%3Aaws%3Aiam%3A%3A210987654321%3Arole%2Flent";
            assertThat(wire.service(Wire.ROOT, "sts", "POST", "/", form).status())
                    .isEqualTo(403);
            assertThat(wire.service(Wire.ROOT, "sts", "POST", "/", form + "&ExternalId=other")
                            .status())
                    .isEqualTo(403);
            assertThat(wire.service(Wire.ROOT, "sts", "POST", "/", form + "&ExternalId=quay-7")
                            .status())
                    .isEqualTo(200);
        }
    }

    /** More half requests than the server once had threads: others are answered all the same. */
    @Test
    void halfRequestsKeepNobodyWaiting() throws Exception {
        try (StandIn standIn = start()) {
            List<Socket> halves = new ArrayList<>();
            try {
                for (int i = 0; i < 100; i++) {
                    Socket half = new Socket(InetAddress.getLoopbackAddress(), standIn.port());
                    OutputStream out = half.getOutputStream();
                    out.write("PUT /x/y HTTP/1.1\r\nHost: localhost\r\nContent-Length: 100\r\n\r\nhalf"
                            .getBytes(StandardCharsets.US_ASCII));
                    out.flush();
                    halves.add(half);
                }
                assertThat(new Wire(standIn)
                                .storage(Wire.ROOT, "GET", "/" + BUCKET + "?list-type=2", "")
                                .status())
                        .isEqualTo(200);
            } finally {
                for (Socket half : halves) {
                    half.close();
                }
            }
        }
    }

    @ParameterizedTest
    @CsvSource({"-5", "zz", "ffffffff", "fffffffff", "''"})
    void aPieceOfNoSizeIsRefused(String size) throws IOException, InterruptedException {
        try (StandIn standIn = start()) {
            Answer answer = new Wire(standIn)
                    .storage(
                            Wire.ROOT,
                            "PUT",
                            "/" + BUCKET + "/a",
                            size + ";chunk-signature=0\r\nabc\r\n0\r\n\r\n",
                            "x-amz-content-sha256",
                            "STREAMING-AWS4-HMAC-SHA256-PAYLOAD");
            assertThat(answer.status()).as(answer.body()).isEqualTo(400);
        } catch (IOException | InterruptedException failed) {
            throw failed;
        } catch (Exception broken) {
            throw new IllegalStateException(broken);
        }
    }

    @Test
    void aBodyOfAnotherLengthThanItTellsIsRefused() throws Exception {
        try (StandIn standIn = start()) {
            String body = "3;chunk-signature=0\r\nabc\r\n0;chunk-signature=0\r\n\r\n";
            Wire wire = new Wire(standIn);
            String[] headers = {
                "x-amz-content-sha256", "STREAMING-AWS4-HMAC-SHA256-PAYLOAD", "x-amz-decoded-content-length", "3"
            };
            assertThat(wire.storage(Wire.ROOT, "PUT", "/" + BUCKET + "/a", body, headers)
                            .status())
                    .isEqualTo(200);
            headers[3] = "4";
            assertThat(wire.storage(Wire.ROOT, "PUT", "/" + BUCKET + "/a", body, headers)
                            .status())
                    .isEqualTo(400);
            assertThat(wire.storage(Wire.ROOT, "PUT", "/" + BUCKET + "/a", "3;x\r\nabc\r\n", headers[0], headers[1])
                            .status())
                    .isEqualTo(400);
        }
    }
}
