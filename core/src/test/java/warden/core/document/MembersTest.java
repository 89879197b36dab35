package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.NoSuchElementException;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.document.JsonPart.JsonNumber;

/** Members are held against the table of the standard library, in number and in order. */
class MembersTest {
    private static JsonPart part(int number) {
        return new JsonNumber(Pointer.ROOT, Integer.toString(number));
    }

    @ParameterizedTest
    @ValueSource(ints = {0, 1, 4, 5, 11, 12, 13, 14, 60})
    void areWhatATableHolds(int count) {
        Random chance = new Random(count);
        for (int attempt = 0; attempt < 50; attempt++) {
            Map<String, JsonPart> table = new LinkedHashMap<>();
            Members.Collector collector = new Members.Collector();
            for (int i = 0; i < count; i++) {
                // Some names stand twice: the last counts, in the place of the first.
                String name = "name" + chance.nextInt(count);
                assertThat(collector.add(name, part(i))).isEqualTo(table.put(name, part(i)) != null);
            }
            Map<String, JsonPart> members = collector.members();
            assertThat(members).isEqualTo(table).hasSameHashCodeAs(table).hasSize(table.size());
            assertThat(new ArrayList<>(members.keySet())).isEqualTo(new ArrayList<>(table.keySet()));
            List<String> told = new ArrayList<>();
            members.forEach((name, value) -> told.add(name + "=" + value));
            assertThat(told)
                    .isEqualTo(table.entrySet().stream().map(Object::toString).toList());
            for (int i = 0; i <= count; i++) {
                assertThat(members.get("name" + i)).isEqualTo(table.get("name" + i));
                assertThat(members.containsKey("name" + i)).isEqualTo(table.containsKey("name" + i));
            }
        }
    }

    @Test
    void cannotBeChangedNorReadPastTheirEnd() {
        Members.Collector collector = new Members.Collector();
        collector.add("only", part(1));
        Map<String, JsonPart> members = collector.members();
        assertThatThrownBy(() -> members.put("other", part(2))).isInstanceOf(UnsupportedOperationException.class);
        var entries = members.entrySet().iterator();
        entries.next();
        assertThatThrownBy(entries::next).isInstanceOf(NoSuchElementException.class);
    }
}
