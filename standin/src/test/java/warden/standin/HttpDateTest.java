package warden.standin;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import org.junit.jupiter.api.Test;

class HttpDateTest {
    @Test
    void givesEveryDayTwoDigits() {
        assertThat(HttpDate.spelled(Instant.parse("2026-12-01T00:24:30.9Z")))
                .isEqualTo("Tue, 01 Dec 2026 00:24:30 GMT");
        assertThat(HttpDate.spelled(Instant.parse("1994-11-06T08:49:37Z"))).isEqualTo("Sun, 06 Nov 1994 08:49:37 GMT");
    }

    @Test
    void isReadAsTheSameMoment() {
        Instant moment = Instant.parse("2026-01-01T00:00:00Z");
        for (int day = 0; day < 400; day++) {
            moment = moment.plusSeconds(86_400 + 3_661);
            String spelled = HttpDate.spelled(moment);
            assertThat(spelled).hasSize("Sun, 06 Nov 1994 08:49:37 GMT".length());
            assertThat(ZonedDateTime.parse(spelled, DateTimeFormatter.RFC_1123_DATE_TIME)
                            .toInstant())
                    .isEqualTo(moment);
        }
    }
}
