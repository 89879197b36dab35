package warden.core.algebra;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.function.BiConsumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.fixture.Seeded;

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

    /** A box of requests, as two patterns and whether the referer may be missing. */
    private record Box(String key, String referer, boolean absence) {
        static Box of(Random random) {
            return new Box(pattern(random), pattern(random), random.nextBoolean());
        }

        private static String pattern(Random random) {
            return Seeded.of(random, "*", "a", "b", "a*", "*b", "?", "??");
        }

        RequestSet set() {
            return RequestSet.where("key", TextSet.present(Language.matching(Glob.parse(key))))
                    .intersect(
                            RequestSet.where("referer", new TextSet(Language.matching(Glob.parse(referer)), absence)));
        }
    }

    /** Tries a law on two sets of up to three boxes each. */
    private static void holds(long seed, BiConsumer<RequestSet, RequestSet> law) {
        Seeded.holds(
                seed,
                100,
                random -> Seeded.list(random, 2, 2, () -> Seeded.list(random, 0, 3, () -> Box.of(random))),
                made -> Seeded.smallerItems(made, boxes -> Seeded.shorter(boxes, 0)),
                made -> law.accept(union(made.get(0)), union(made.get(1))));
    }

    private static RequestSet union(List<Box> boxes) {
        return boxes.stream().map(Box::set).reduce(RequestSet.none(), RequestSet::union);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2})
    void operationsAreThoseOfSets(long seed) {
        holds(seed, RequestSetTest::operations);
    }

    private static void operations(RequestSet a, RequestSet b) {
        for (Point point : points()) {
            boolean inA = contains(a, point);
            boolean inB = contains(b, point);
            assertThat(contains(a.union(b), point)).isEqualTo(inA || inB);
            assertThat(contains(a.intersect(b), point)).isEqualTo(inA && inB);
            assertThat(contains(a.minus(b), point)).isEqualTo(inA && !inB);
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2})
    void containmentAgreesWithDifference(long seed) {
        holds(seed, RequestSetTest::containment);
    }

    private static void containment(RequestSet a, RequestSet b) {
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
