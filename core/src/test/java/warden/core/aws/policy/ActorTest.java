package warden.core.aws.policy;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ActorTest {
    @ParameterizedTest
    @ValueSource(
            strings = {
                "anyone",
                "any-account",
                "arn:aws:iam::109876543210:root",
                "arn:aws:iam::109876543210:user/ferries/anna",
                "arn:aws:iam::109876543210:role/timetables-publisher",
                "service:cloudfront.amazonaws.com",
                "origin-identity:E1HERON"
            })
    void isSpelledAsItIsParsed(String who) {
        assertThat(Actor.parse(who).orElseThrow().spelled()).isEqualTo(who);
    }

    @Test
    void takesASessionForItsRole() {
        assertThat(Actor.parse("arn:aws:sts::109876543210:assumed-role/timetables-publisher/night")
                        .orElseThrow()
                        .spelled())
                .isEqualTo("arn:aws:iam::109876543210:role/timetables-publisher");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "service:",
                "origin-identity:",
                "everyone",
                "arn:aws:iam::1098765:root",
                "arn:aws:iam::109876543210:group/deck",
                "arn:aws:iam::109876543210:user/",
                "arn:aws:s3:::timetables.heronferry.example"
            })
    void knowsNobodyElse(String who) {
        assertThat(Actor.parse(who)).isEmpty();
    }
}
