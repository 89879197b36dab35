package warden.core.audit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class CheckCardTest {
    private static CheckCard card(String id, String why) {
        return new CheckCard(
                id, Area.DNS, Severity.LOW, "A record leads nowhere.", "zone-records", why, "Remove it.", "RFC 1034");
    }

    @ParameterizedTest
    @ValueSource(strings = {"open-around-cdn", "a-b", "key-old2", "s3-a9-b"})
    void takesWordsJoinedByHyphens(String id) {
        assertThat(card(id, "Visitors wait.").id()).isEqualTo(id);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {"", "open", "-", "a-", "-a", "a--b", "2a-b", "a-2b", "Open-cdn", "a_b-c", "a b-c", "à-b", "a-b\n"
            })
    void refusesOthers(String id) {
        assertThatThrownBy(() -> card(id, "Visitors wait.")).hasMessageContaining("joined by hyphens");
    }

    @ParameterizedTest
    @ValueSource(strings = {"", " "})
    void refusesAnEmptyPart(String why) {
        assertThatThrownBy(() -> card("a-b", why)).hasMessageContaining("empty part");
    }
}
