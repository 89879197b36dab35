package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class PointerTest {
    @Test
    void escapesWhatSeparatesTokens() {
        assertThat(Pointer.ROOT.member("a/b").member("c~d").item(2)).hasToString("/a~1b/c~0d/2");
    }

    @Test
    void isEqualToAPointerOfTheSameTokens() {
        Pointer one = Pointer.ROOT.member("Statement").item(0);
        Pointer same = Pointer.ROOT.member("Statement").member("0");
        assertThat(one).isEqualTo(same).hasSameHashCodeAs(same);
    }

    @Test
    void tellsTokensApartThatOnlyLookAlike() {
        assertThat(Pointer.ROOT.member("a/b"))
                .isNotEqualTo(Pointer.ROOT.member("a").member("b"));
        assertThat(Pointer.ROOT.member("")).isNotEqualTo(Pointer.ROOT);
        assertThat(Pointer.ROOT.member("x").member("a"))
                .isNotEqualTo(Pointer.ROOT.member("y").member("a"));
    }
}
