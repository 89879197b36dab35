package warden.core.aws.certificate;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.fixture.SurveyBuilder;

class CertificateTest {
    private static final String ARN = "arn:aws:acm:us-east-1:210987654321:certificate/c1";

    private static Certificate with(String members) {
        return SurveyBuilder.aSurvey()
                .found("certificate", ARN, "{'Certificate':{'CertificateArn':'" + ARN + "'," + members + "}}")
                .account()
                .names()
                .certificate(ARN)
                .found()
                .orElseThrow();
    }

    /** Source: RFC 6125, section 6.4.3: a wildcard stands for one label. */
    @ParameterizedTest
    @CsvSource({
        "heronferry.example, true",
        "www.heronferry.example, true",
        "a.tides.heronferry.example, true",
        "tides.heronferry.example, true",
        "b.www.heronferry.example, false",
        "heronferry.example.evil.example, false",
        "xheronferry.example, false",
        "example, false"
    })
    void coversItsNamesAndOneLabelOfItsWildcards(String host, boolean covers) {
        Certificate certificate =
                with("'DomainName':'HeronFerry.example','SubjectAlternativeNames':['*.heronferry.example',"
                        + "'*.tides.heronferry.example']");
        assertThat(certificate.covers(host)).isEqualTo(covers);
    }

    @ParameterizedTest
    @CsvSource({
        "'\"2026-12-01T00:00:00+00:00\"', 2026-12-01T00:00:00Z",
        "'\"2026-12-01T01:00:00+01:00\"', 2026-12-01T00:00:00Z",
        "1796083200, 2026-12-01T00:00:00Z",
        "1796083200.5, 2026-12-01T00:00:00Z",
        "'\"next winter\"', ",
        "'\"\"', "
    })
    void readsItsEndInTheFormsThatTheProviderPrints(String written, String expected) {
        assertThat(with("'DomainName':'a.example','NotAfter':" + written.replace('"', '\''))
                        .expires())
                .isEqualTo(java.util.Optional.ofNullable(expected).map(Instant::parse));
    }

    @Test
    void isExpiredFromTheInstantOfItsEnd() {
        Certificate certificate = with("'Status':'ISSUED','NotAfter':'2026-12-01T00:00:00+00:00'");
        assertThat(certificate.isExpired(Instant.parse("2026-11-30T23:59:59Z"))).isFalse();
        assertThat(certificate.isExpired(Instant.parse("2026-12-01T00:00:00Z"))).isTrue();
        assertThat(with("'Status':'EXPIRED'").isExpired(Instant.EPOCH)).isTrue();
        assertThat(with("'Status':'ISSUED'").isExpired(Instant.parse("2099-01-01T00:00:00Z")))
                .isFalse();
    }

    @Test
    void knowsWhereItLiesAndHowItCame() {
        assertThat(with("'Type':'IMPORTED'").isImported()).isTrue();
        assertThat(with("'Type':'AMAZON_ISSUED'").isImported()).isFalse();
        assertThat(with("'Status':'ISSUED'").region()).isEqualTo("us-east-1");
        assertThat(with("'Status':'PENDING_VALIDATION'").isIssued()).isFalse();
    }
}
