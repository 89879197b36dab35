package warden.core.algebra;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class RequestSetTest {
    private static final List<String> VALUES = List.of("a", "b", "ab", "ba");

    /** A request with a key and perhaps a referer; null stands for absence. */
    private record Point(String key, String referer) {}

    private static List<Point> points() {
        List<Point> points = new ArrayList<>();
        for (String key : VALUES) {
            points.add(new Point(key, null));
            VALUES.forEach(referer -> points.add(new Point(key, referer)));
        }
        return points;
    }

    private static boolean contains(RequestSet set, Point point) {
        return set.boxes().stream()
                .anyMatch(box -> box.sides().entrySet().stream().allMatch(side -> {
                    String value = side.getKey().equals("key") ? point.key() : point.referer();
                    TextSet texts = (TextSet) side.getValue();
                    return value == null ? texts.admitsAbsence() : texts.texts().contains(value);
                }));
    }

    @Provide
    Arbitrary<RequestSet> sets() {
        Arbitrary<String> patterns = Arbitraries.of("*", "a", "b", "a*", "*b", "?", "??");
        Arbitrary<RequestSet> boxes = Combinators.combine(patterns, patterns, Arbitraries.of(true, false))
                .as((key, referer, absence) -> RequestSet.where(
                                "key", TextSet.present(Language.matching(Glob.parse(key))))
                        .intersect(RequestSet.where(
                                "referer", new TextSet(Language.matching(Glob.parse(referer)), absence))));
        return boxes.list().ofMaxSize(3).map(list -> list.stream().reduce(RequestSet.none(), RequestSet::union));
    }

    @Property(tries = 200)
    void operationsAreThoseOfSets(@ForAll("sets") RequestSet a, @ForAll("sets") RequestSet b) {
        for (Point point : points()) {
            boolean inA = contains(a, point);
            boolean inB = contains(b, point);
            assertThat(contains(a.union(b), point)).isEqualTo(inA || inB);
            assertThat(contains(a.intersect(b), point)).isEqualTo(inA && inB);
            assertThat(contains(a.minus(b), point)).isEqualTo(inA && !inB);
        }
    }

    @Property(tries = 200)
    void containmentAgreesWithDifference(@ForAll("sets") RequestSet a, @ForAll("sets") RequestSet b) {
        assertThat(a.isSubsetOf(b)).isEqualTo(a.minus(b).isEmpty());
        assertThat(a.isSubsetOf(a.union(b))).isTrue();
        assertThat(a.intersect(b).isSubsetOf(a)).isTrue();
        assertThat(a.minus(b).intersect(b).isEmpty()).isTrue();
    }

    @Test
    void propositionsAreTrueOrFalse() {
        RequestSet holds = RequestSet.where("p", new Proposition(true, false));
        assertThat(RequestSet.all().minus(holds).boxes().get(0).sides())
                .isEqualTo(Map.of("p", new Proposition(false, true)));
        assertThat(holds.union(RequestSet.all().minus(holds)).isEverything()).isTrue();
    }

    @Test
    void refusesWhatSplitsTooFar() {
        RequestSet left = RequestSet.none();
        for (int i = 0; i < 40; i++) {
            left = left.union(RequestSet.where("p" + i, new Proposition(true, false))
                    .intersect(RequestSet.where("q" + i, new Proposition(true, false))));
        }
        RequestSet many = left;
        assertThatThrownBy(() -> RequestSet.all().minus(many)).isInstanceOf(TooComplexException.class);
    }
}
