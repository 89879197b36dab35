package warden.core.aws.cdn;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Optional;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.document.JsonReader;

/** Source: CloudFront Developer Guide, "Manage how long content stays in the cache", its table of the three times. */
class CacheTimesTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                // least | usual | most | Cache-Control | kept
                "0 | 86400 | 31536000 | | 86400",
                "0 | 86400 | 31536000 | max-age=60 | 60",
                "0 | 86400 | 31536000 | public, max-age=31536000, immutable | 31536000",
                "0 | 86400 | 31536000 | max-age=60, s-maxage=600 | 600",
                "0 | 86400 | 31536000 | s-maxage=600, max-age=60 | 600",
                "0 | 86400 | 3600 | max-age=86400 | 3600",
                "300 | 86400 | 31536000 | max-age=60 | 300",
                "300 | 86400 | 31536000 | no-cache | 300",
                "0 | 86400 | 31536000 | no-cache | 0",
                "0 | 86400 | 31536000 | no-store | 0",
                "0 | 86400 | 31536000 | private, max-age=600 | 0",
                "0 | 86400 | 31536000 | MAX-AGE = 60 | 60",
                "0 | 86400 | 31536000 | public | 86400",
                "0 | 86400 | 31536000 | must-revalidate | 86400",
                "0 | 86400 | 31536000 | max-age=soon | 86400",
                "0 | 86400 | 31536000 | x-max-age=5 | 86400",
                "0 | 0 | 0 | max-age=600 | 0"
            })
    void keepsObjectsAsTheHeaderAndTheThreeTimesSay(long least, long usual, long most, String header, long kept) {
        assertThat(new CacheTimes(least, usual, most).kept(Optional.ofNullable(header)))
                .isEqualTo(kept);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "max-age=60 | 60",
                "max-age=60, s-maxage=600 | 60",
                "no-cache | 0",
                "no-store, max-age=60 | 0",
                "s-maxage=600 | -1",
                "public | -1"
            })
    void tellsBrowsersApartFromTheEdge(String header, long age) {
        assertThat(CacheTimes.browserAge(header).orElse(-1)).isEqualTo(age);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{} | 0 | 86400 | 31536000",
                "{'MinTTL':1,'DefaultTTL':2,'MaxTTL':3} | 1 | 2 | 3",
                "{'MinTTL':1.0,'DefaultTTL':2,'MaxTTL':3} | 1 | 2 | 3",
                "{'MinTTL':600,'DefaultTTL':60,'MaxTTL':60} | 600 | 600 | 600"
            })
    void readsThemWithTheProvidersDefaults(String json, long least, long usual, long most) {
        assertThat(CacheTimes.parse(
                        JsonReader.read(json.replace('\'', '"')).root().orElseThrow()))
                .isEqualTo(new CacheTimes(least, usual, most));
    }
}
