package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.regex.PatternSyntaxException;
import org.junit.jupiter.api.Test;

class LatePatternTest {
    @Test
    void matchesAsTheExpressionDoes() {
        LatePattern ferry = LatePattern.of("(?i)ferry-([0-9]+)");
        for (int i = 0; i < 2; i++) {
            assertThat(ferry.matcher("Ferry-" + i).matches()).isTrue();
            assertThat(ferry.matcher("ferry").matches()).isFalse();
        }
    }

    @Test
    void saysWhatIsWrongWithItsSyntaxWhenItIsAskedFirst() {
        LatePattern broken = LatePattern.of("(");
        assertThatThrownBy(() -> broken.matcher("")).isInstanceOf(PatternSyntaxException.class);
    }
}
