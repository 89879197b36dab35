package warden.standin.aws;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static warden.standin.aws.Wire.ROOT;
import static warden.standin.aws.Wire.WWW;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Set;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.survey.SurveyException;
import warden.standin.Faults;
import warden.standin.aws.Wire.Answer;

/** The other services, the edges, and misbehaviour on demand. */
class StandInTest {
    private static final String MAILER = "arn:aws:iam::210987654321:role/ticket-mailer";
    private static final String PUBLISHER = "arn:aws:iam::210987654321:role/www-publisher";

    @TempDir
    private Path folder;

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "cloudfront | GET | /2020-05-31/distribution | | DistributionList",
                "cloudfront | GET | /2020-05-31/distribution/E2WQ7HERONWWW | | DistributionConfig",
                "route53 | GET | /2013-04-01/hostedzone | | ListHostedZonesResponse",
                "route53 | GET | /2013-04-01/hostedzone/Z08HERONSOUND1/rrset | | ResourceRecordSet",
                "iam | POST | / | Action=GetAccountSummary&Version=2010-05-08 | GetAccountSummaryResult",
                "iam | POST | / | Action=GetAccountAuthorizationDetails&Version=2010-05-08 | UserDetailList",
                "sts | POST | / | Action=GetCallerIdentity&Version=2011-06-15 | <Account>210987654321</Account>",
                "amplify | GET | /apps | | apps"
            })
    void answersEachServiceInItsOwnProtocol(String service, String method, String path, String body, String holds)
            throws Exception {
        try (StandIn standIn = Wire.start(Wire.demo(), Faults.none())) {
            Wire wire = new Wire(standIn);
            String sent = body == null ? "" : body;
            Answer answer = wire.service(
                    ROOT, service, method, path, sent, "Content-Type", "application/x-www-form-urlencoded");
            assertThat(answer.status()).as(answer.body()).isEqualTo(200);
            assertThat(answer.body()).contains(holds);
            Answer refused = wire.service(
                    MAILER, service, method, path, sent, "Content-Type", "application/x-www-form-urlencoded");
            if (service.equals("sts")) {
                // Everybody may ask who they are.
                assertThat(refused.body()).contains("role/ticket-mailer");
            } else {
                assertThat(refused.status()).isIn(400, 403);
                assertThat(refused.body()).contains("AccessDenied");
            }
        }
    }

    @Test
    void answersServicesOfJson() throws Exception {
        try (StandIn standIn = Wire.start(Wire.demo(), Faults.none())) {
            Wire wire = new Wire(standIn);
            Answer listed = wire.service(
                    ROOT,
                    "acm",
                    "POST",
                    "/",
                    "{}",
                    "X-Amz-Target",
                    "CertificateManager.ListCertificates",
                    "Content-Type",
                    "application/x-amz-json-1.1");
            assertThat(listed.status()).as(listed.body()).isEqualTo(200);
            assertThat(listed.body()).contains("CertificateSummaryList");
            Answer refused = wire.service(
                    MAILER, "acm", "POST", "/", "{}", "X-Amz-Target", "CertificateManager.ListCertificates");
            assertThat(refused.status()).isEqualTo(400);
            assertThat(refused.body()).contains("AccessDeniedException");
            assertThat(refused.header("x-amzn-errortype")).contains("AccessDeniedException");
        }
    }

    @Test
    void invalidatesForThoseWhoMay() throws Exception {
        try (StandIn standIn = Wire.start(Wire.demo(), Faults.none())) {
            Wire wire = new Wire(standIn);
            String path = "/2020-05-31/distribution/E2WQ7HERONWWW/invalidation";
            String batch = "<InvalidationBatch><Paths><Quantity>1</Quantity><Items><Path>/*</Path></Items></Paths>"
                    + "<CallerReference>1</CallerReference></InvalidationBatch>";
            Answer made = wire.service(PUBLISHER, "cloudfront", "POST", path, batch);
            assertThat(made.status()).as(made.body()).isEqualTo(201);
            assertThat(made.body()).contains("<Invalidation", "/*");
            assertThat(wire.service(MAILER, "cloudfront", "POST", path, batch).status())
                    .isEqualTo(403);
            assertThat(wire.service(
                                    PUBLISHER,
                                    "cloudfront",
                                    "POST",
                                    "/2020-05-31/distribution/E3KD1TIMETABLE/invalidation",
                                    batch)
                            .status())
                    .as("not its distribution")
                    .isEqualTo(403);
        }
    }

    @Test
    void servesTheSitesByHost() throws Exception {
        try (StandIn standIn = Wire.start(Wire.demo(), Faults.none())) {
            Wire wire = new Wire(standIn);
            Answer moved = wire.visit("www.heronferry.example", "/fares.html");
            assertThat(moved.status()).isIn(301, 302, 307, 308, 200);
            Answer forbidden = wire.visit(WWW + ".s3.eu-west-1.amazonaws.com", "/index.html");
            assertThat(forbidden.status()).isEqualTo(403);
            Answer page = wire.visit("book.heronferry.example.s3.eu-west-1.amazonaws.com", "/index.html");
            assertThat(page.status()).isEqualTo(200);
            assertThat(page.header("content-type")).contains("text/html");
            assertThat(wire.visit("www.elsewhere.example", "/").status()).isEqualTo(502);
        }
    }

    @Test
    void makesACertificateForTheHostsThatHaveOne() throws Exception {
        try (StandIn standIn = Wire.start(Wire.demo(), Faults.none())) {
            assertThat(standIn.authority()).isEmpty();
            int port = standIn.startTls(folder, 0);
            Path authority = standIn.authority().orElseThrow();
            assertThat(shown(port, authority, "www.heronferry.example")).contains("www.heronferry.example");
            assertThat(shown(port, authority, "crew.heronferry.example")).contains("localhost");
            assertThat(shown(port, authority, "www.elsewhere.example")).contains("localhost");
        }
    }

    /** Returns the names of the certificate that a host shows, which the authority must have signed. */
    private static String shown(int port, Path authority, String host) throws Exception {
        KeyStore trusted = KeyStore.getInstance(KeyStore.getDefaultType());
        trusted.load(null, null);
        try (InputStream in = Files.newInputStream(authority)) {
            trusted.setCertificateEntry(
                    "authority", CertificateFactory.getInstance("X.509").generateCertificate(in));
        }
        TrustManagerFactory managers = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
        managers.init(trusted);
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(null, managers.getTrustManagers(), null);
        try (SSLSocket socket =
                (SSLSocket) context.getSocketFactory().createSocket(InetAddress.getLoopbackAddress(), port)) {
            SSLParameters parameters = socket.getSSLParameters();
            parameters.setServerNames(List.of(new SNIHostName(host)));
            socket.setSSLParameters(parameters);
            socket.startHandshake();
            X509Certificate certificate = (X509Certificate) socket.getSession().getPeerCertificates()[0];
            return certificate.getSubjectAlternativeNames().toString();
        }
    }

    @Test
    void misbehavesAsOftenAsAsked() throws Exception {
        try (StandIn standIn = Wire.start(Wire.demo(), new Faults(0, 40, 0, 0, Set.of()))) {
            Wire wire = new Wire(standIn);
            int slowed = 0;
            for (int i = 0; i < 200; i++) {
                Answer answer = wire.storage(ROOT, "HEAD", "/" + WWW + "/index.html", "");
                slowed += answer.status() == 503 ? 1 : 0;
            }
            assertThat(slowed).isBetween(50, 110);
            assertThat(standIn.calls()).isEqualTo(200);
        }
        try (StandIn standIn = Wire.start(Wire.demo(), new Faults(0, 0, 100, 0, Set.of()))) {
            assertThatThrownBy(() -> new Wire(standIn).storage(ROOT, "GET", "/", ""))
                    .isInstanceOf(IOException.class);
        }
        try (StandIn standIn = Wire.start(Wire.demo(), new Faults(0, 0, 0, 100, Set.of()))) {
            assertThatThrownBy(() -> new Wire(standIn).storage(ROOT, "GET", "/", ""))
                    .isInstanceOf(IOException.class);
        }
    }

    @Test
    void refusesAnActionToEverybody() throws Exception {
        try (StandIn standIn = Wire.start(Wire.demo(), new Faults(0, 0, 0, 0, Set.of("s3:listallmybuckets")))) {
            Wire wire = new Wire(standIn);
            assertThat(wire.storage(ROOT, "GET", "/", "").status()).isEqualTo(403);
            assertThat(wire.storage(ROOT, "GET", "/" + WWW + "?list-type=2", "").status())
                    .isEqualTo(200);
        }
    }

    @Test
    void answersWhatTheSurveyCouldNotReadWithTheSameRefusal() throws Exception {
        String survey = "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\"}\n"
                + "{\"aspect\":\"bucket-list\",\"of\":\"210987654321\",\"found\":{\"Buckets\":[{\"Name\":\"quay\"}]}}\n"
                + "{\"aspect\":\"bucket-acl\",\"of\":\"arn:aws:s3:::quay\",\"unread\":{\"code\":\"AccessDenied\"}}\n"
                + "{\"aspect\":\"bucket-policy\",\"of\":\"arn:aws:s3:::quay\",\"absent\":\"NoSuchBucketPolicy\"}\n"
                + "{\"aspect\":\"bucket-cors\",\"of\":\"arn:aws:s3:::quay\",\"absent\":\"NoSuchCORSConfiguration\"}\n";
        try (StandIn standIn = Wire.start(survey, Faults.none())) {
            Wire wire = new Wire(standIn);
            assertThat(wire.storage(ROOT, "GET", "/quay?acl", "").body()).contains("AccessDenied");
            assertThat(wire.storage(ROOT, "GET", "/quay?cors", "").status()).isEqualTo(404);
            // Nobody asked for this, so it is not known to be absent.
            assertThat(wire.storage(ROOT, "GET", "/quay?lifecycle", "").status())
                    .isEqualTo(403);
        }
    }

    @Test
    void refusesWhatIsNoSurvey() {
        assertThatThrownBy(() -> Wire.start("a shopping list\n", Faults.none()))
                .isInstanceOf(SurveyException.class)
                .hasMessageContaining("test.ndjson:1");
    }
}
