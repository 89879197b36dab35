package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class WordsTest {
    private static final List<String> KNOWN = List.of("critical", "high", "low", "medium", "never");

    @ParameterizedTest
    @CsvSource({
        "hihg, high",
        "HIGH, high",
        "hgih, high",
        "lwo, low",
        "mediun, medium",
        "criticall, critical",
        "nver, never"
    })
    void findsTheWordThatWasMeant(String word, String meant) {
        assertThat(Words.nearest(word, KNOWN)).contains(meant);
    }

    @ParameterizedTest
    @CsvSource({"sometimes", "ghih", "''", "x"})
    void guessesNothingFarAway(String word) {
        assertThat(Words.nearest(word, KNOWN)).isEqualTo(Optional.empty());
    }
}
