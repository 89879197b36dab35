package warden.startup;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.function.IntBinaryOperator;
import java.util.function.IntFunction;
import java.util.function.LongSupplier;
import java.util.function.Supplier;
import java.util.function.ToDoubleFunction;
import java.util.function.ToIntFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/** Lambdas, references to methods and records of many kinds, and what comes of them as one text. */
final class Zoo implements Supplier<String> {
    private final String own = "own";

    /** A record with a component of each kind. */
    record All(
            boolean truth,
            char letter,
            byte tiny,
            short small,
            int number,
            long big,
            float part,
            double half,
            String text,
            List<String> texts,
            int[] array) {
        static All of(int number, double half, String text) {
            return new All(true, 'c', (byte) 1, (short) 2, number, 1L << 40, 0.5f, half, text, List.of(text), null);
        }
    }

    /** A record without components. */
    record None() {}

    /** Generic, and nested. */
    private record Pair<A, B>(A first, B second) {
        Pair<A, B> with(A other) {
            return new Pair<>(other, second);
        }
    }

    /** An interface with lambdas of its own. */
    interface Greets {
        String name();

        private String hidden(String greeting) {
            return greeting + name();
        }

        default Function<String, String> greeting() {
            return this::hidden;
        }

        default Supplier<String> twice() {
            return () -> hidden("a ") + hidden("b ");
        }
    }

    @Override
    public String get() {
        List<Object> all = new ArrayList<>();
        numbers(all);
        references(all);
        captured(all, 7, 1L << 33, 2.5, 'x', "text");
        records(all);
        all.add(new Inner().nested().get());
        return all.stream().map(String::valueOf).collect(Collectors.joining("\n"));
    }

    private static void numbers(List<Object> all) {
        ToIntFunction<String> length = String::length;
        Function<String, Integer> boxed = String::length;
        IntFunction<String> spelled = Integer::toString;
        Function<Integer, Long> widened = number -> (long) number;
        ToDoubleFunction<Integer> fromInt = Integer::intValue;
        IntBinaryOperator sum = Integer::sum;
        BiFunction<Integer, Integer, Integer> boxedSum = Integer::sum;
        LongSupplier supplied = "four"::length;
        all.addAll(List.of(length.applyAsInt("abc"), boxed.apply("abcd"), spelled.apply(5), widened.apply(6)));
        all.addAll(List.of(fromInt.applyAsDouble(7), sum.applyAsInt(3, 4), boxedSum.apply(4, 5), supplied.getAsLong()));
        all.add(IntStream.range(0, 5).mapToObj(i -> i * i).toList());
        all.add(Stream.of(3, 1, 2)
                .sorted(Integer::compare)
                .mapToLong(Integer::longValue)
                .sum());
    }

    private void references(List<Object> all) {
        Supplier<List<String>> created = ArrayList::new;
        Function<String, StringBuilder> built = StringBuilder::new;
        IntFunction<int[]> arrays = int[]::new;
        Supplier<String> bound = own::toUpperCase;
        Supplier<String> ofThis = this::secret;
        Supplier<String> ofSuper = super::toString;
        Function<Map<String, String>, Integer> ofInterface = Map::size;
        Greets greets = () -> "zoo";
        all.addAll(List.of(created.get(), built.apply("built").toString(), arrays.apply(3).length, bound.get()));
        all.addAll(List.of(ofThis.get(), ofSuper.get().contains("Zoo"), ofInterface.apply(new TreeMap<>())));
        all.addAll(List.of(greets.greeting().apply("hello "), greets.twice().get()));
        StringBuilder said = new StringBuilder();
        List.of("a", "b").forEach(said::append);
        all.add(said.toString());
    }

    private String secret() {
        return "private " + own;
    }

    private static void captured(List<Object> all, int number, long big, double half, char letter, String text) {
        Supplier<Supplier<String>> nested = () -> () -> number + " " + big + " " + half + " " + letter + " " + text;
        Runnable adds = () -> all.add(big + number);
        adds.run();
        all.add(nested.get().get());
        Supplier<Object> none = Object::new;
        all.add(none == same() ? "other" : "apart");
        all.add(same() == same());
    }

    private static Runnable same() {
        return () -> {};
    }

    private static void records(List<Object> all) {
        All one = All.of(1, 0.0, "t");
        all.addAll(List.of(one, one.hashCode(), one.equals(All.of(1, 0.0, "t")), one.equals(All.of(1, -0.0, "t"))));
        all.addAll(List.of(All.of(1, Double.NaN, "t").equals(All.of(1, Double.NaN, "t")), one.equals(null)));
        all.addAll(List.of(
                one.equals("t"),
                All.of(1, 0, "u").equals(one),
                All.of(2, 0, "t").equals(one)));
        all.addAll(List.of(new None(), new None().equals(new None()), new None().hashCode()));
        Pair<String, Integer> pair = new Pair<>(null, 3);
        all.addAll(List.of(
                pair,
                pair.hashCode(),
                pair.equals(pair.with("x")),
                pair.with("x").with(null).equals(pair)));
    }

    /** An inner class, whose nest is that of the outer. */
    private final class Inner {
        private final String mine = "inner";

        Supplier<String> nested() {
            return () -> mine + " " + own + " " + secret();
        }
    }
}
