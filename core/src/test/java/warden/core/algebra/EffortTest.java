package warden.core.algebra;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import warden.core.algebra.Effort.Remembered;

class EffortTest {
    private static Remembered<String> costly(long steps) {
        return Effort.remember(() -> {
            Effort.spend(steps);
            return "known";
        });
    }

    private static String spend(long steps) {
        Effort.spend(steps);
        return "done";
    }

    @Test
    void endsWorkThatTakesMoreThanItsBound() {
        assertThat(Effort.within(10, () -> spend(10))).isEqualTo("done");
        assertThatThrownBy(() -> Effort.within(10, () -> spend(11))).isInstanceOf(TooComplexException.class);
    }

    @Test
    void chargesAnInnerBoundToTheOuterOne() {
        assertThatThrownBy(() -> Effort.within(10, () -> {
                    Effort.within(8, () -> spend(8));
                    return spend(3);
                }))
                .isInstanceOf(TooComplexException.class);
    }

    @Test
    void isNotCountedOutsideOfAnyBound() {
        assertThat(spend(Long.MAX_VALUE)).isEqualTo("done");
    }

    @Test
    void chargesWhatWasRememberedToEachQuestionThatUsesItWhoeverCameFirst() {
        Remembered<String> known = Effort.within(10, () -> costly(8));
        assertThatThrownBy(() -> Effort.within(10, () -> known.use() + spend(3)))
                .isInstanceOf(TooComplexException.class);
        assertThat(Effort.within(10, () -> known.use() + spend(2))).isEqualTo("knowndone");
    }

    @Test
    void chargesWhatWasRememberedOnceAQuestion() {
        Remembered<String> known = costly(8);
        assertThat(Effort.within(10, () -> known.use() + known.use() + spend(2)))
                .isEqualTo("knownknowndone");
    }

    @Test
    void chargesWhatRestsOnSomethingRememberedTheWholeCost() {
        Remembered<String> below = costly(8);
        Remembered<String> above = Effort.remember(() -> below.use() + spend(1));
        assertThatThrownBy(() -> Effort.within(8, above::use)).isInstanceOf(TooComplexException.class);
        assertThat(Effort.within(9, above::use)).isEqualTo("knowndone");
    }
}
