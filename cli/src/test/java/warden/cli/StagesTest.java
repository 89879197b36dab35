package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class StagesTest {
    private final List<String> drawn = new ArrayList<>();
    private final Stages stages = new Stages(drawn::add, false);

    @Test
    void drawsTheStageItsStepsAndHowLongItHasTaken() {
        stages.at("checking", 112);
        stages.step();
        stages.step();
        assertThat(stages.show(3)).isTrue();
        assertThat(drawn).hasSize(1);
        assertThat(drawn.get(0)).startsWith("\rchecking, 2 of 112 (3 s) ");
    }

    @Test
    void drawsOverWhatWasThereBefore() {
        stages.at("writing a-long-name.html");
        stages.show(1);
        stages.at("done");
        stages.show(2);
        assertThat(drawn.get(1)).hasSameSizeAs(drawn.get(0));
    }

    @Test
    void leavesNothingBehind() {
        stages.at("reading the survey");
        stages.show(1);
        stages.close();
        assertThat(drawn.get(1)).isEqualTo("\r" + " ".repeat(79) + "\r");
        assertThat(stages.show(2)).isFalse();
        assertThat(drawn).hasSize(2);
    }

    @Test
    void drawsNothingForWhatIsOverSoon() {
        stages.at("reading the survey");
        stages.close();
        assertThat(drawn).isEmpty();
    }
}
