package warden.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import warden.core.CheckCatalogue;
import warden.report.Consequence.Group;

class ConsequenceTest {
    @Test
    void isToldOfEveryCheck() {
        assertThat(Consequence.untold(CheckCatalogue.all().stream()
                        .map(check -> check.card().id())
                        .toList()))
                .isEmpty();
        assertThat(Consequence.of("record-dangling")).isEqualTo(new Consequence(Group.STRANGERS, "take over"));
        assertThatThrownBy(() -> Consequence.of("no-such-check")).hasMessageContaining("no-such-check");
    }
}
