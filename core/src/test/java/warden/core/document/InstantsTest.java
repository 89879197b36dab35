package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Reading and spelling are held against the standard library's. */
class InstantsTest {
    @Test
    void spellsAsTheStandardLibraryDoes() {
        Random chance = new Random(5);
        for (int i = 0; i < 20_000; i++) {
            long second = chance.nextLong(-70_000_000_000L, 260_000_000_000L);
            Instant whole = Instant.ofEpochSecond(i % 3 == 0 ? second - Math.floorMod(second, 60) : second);
            for (Instant each : new Instant[] {whole, whole.plusNanos(chance.nextInt(1_000_000_000))}) {
                assertThat(Instants.spelled(each)).isEqualTo(each.toString());
                assertThat(Instants.ofIso(each.toString())).isEqualTo(each);
            }
        }
        for (Instant far : new Instant[] {Instant.MIN, Instant.MAX, Instant.EPOCH}) {
            assertThat(Instants.spelled(far)).isEqualTo(far.toString());
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "2026-11-24T00:00:00Z",
                "2024-02-29T23:59:59Z",
                "2026-02-29T00:00:00Z",
                "2026-02-31T00:00:00Z",
                "2026-13-01T00:00:00Z",
                "2026-00-01T00:00:00Z",
                "2026-01-01T24:00:00Z",
                "2026-01-01T23:60:00Z",
                "2026-01-01T23:59:60Z",
                "0000-01-01T00:00:00Z",
                "2026-01-01T00:00:00z",
                "2026-01-01t00:00:00Z",
                "2026-01-01 00:00:00Z",
                "2026-01-01T00:00:00+02:00",
                "2026-01-01T00:00Z",
                "2026-01-01T00:00:00.5Z",
                "+026-01-01T00:00:00Z",
                "٢٠٢٦-01-01T00:00:00Z",
                "20260101T000000Z",
                "yesterday",
                ""
            })
    void readsWhatTheStandardLibraryReadsAndNothingElse(String text) {
        Throwable refused = catchThrowable(() -> OffsetDateTime.parse(text));
        if (refused == null) {
            assertThat(Instants.ofIso(text))
                    .isEqualTo(OffsetDateTime.parse(text).toInstant());
            assertThat(Instants.parse(text)).contains(OffsetDateTime.parse(text).toInstant());
        } else {
            assertThat(catchThrowable(() -> Instants.ofIso(text))).isInstanceOf(DateTimeException.class);
            assertThat(Instants.parse(text)).isEmpty();
        }
    }

    @Test
    void readsSecondsSince1970() {
        assertThat(Instants.parse("1764460800.25")).contains(Instant.ofEpochSecond(1_764_460_800));
        assertThat(Instants.parse("17644608000000")).isEmpty();
    }
}
