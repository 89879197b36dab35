package warden.gather.aws.template;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.document.JsonReader;

/** The functions of the tool's language that sources of sites use; what others give is not told. Source: the language's documentation, "Built-in functions". */
final class HclFunctions {
    private static final Pattern VERB = Pattern.compile("%(%|[^%A-Za-z]*[A-Za-z]?)");

    private static final int MOST_IN_RANGE = 10_000;

    private HclFunctions() {}

    /** A document that is spelled as JSON once it is told whole. */
    record Encoded(@Nullable Object value) {}

    /** What these give hangs on every part of their values. */
    private static final Set<String> OF_WHOLE =
            Set.of("sort", "contains", "index", "compact", "distinct", "max", "min", "sum");

    /** Calls a function with values that are all told at their top. */
    static @Nullable Object call(String name, List<Object> given) {
        if (OF_WHOLE.contains(name) && given.stream().anyMatch(HclNumbers::holdsOpen)) {
            return Unknown.of("what " + name + " gives for values that are not told");
        }
        try {
            return called(name, given);
        } catch (IndexOutOfBoundsException
                | ClassCastException
                | ArithmeticException
                | IllegalArgumentException unfit) {
            return Unknown.of("what " + name + " gives for these values");
        }
    }

    private static @Nullable Object called(String name, List<Object> of) {
        return switch (name) {
            case "jsonencode" -> new Encoded(of.get(0));
            case "jsondecode" ->
                JsonReader.read(text(of, 0)).root().map(TfPlan::plain).orElse(Unknown.of("a text that is no JSON"));
            case "format" -> format(of);
            case "join" -> joined(text(of, 0), list(of.get(1)));
            case "split" -> text(of, 0).isEmpty() ? letters(text(of, 1)) : Cuts.split(text(of, 1), text(of, 0));
            case "lower" -> Cuts.lower(text(of, 0));
            case "upper" -> Cuts.told(text(of, 0), () -> text(of, 0).toUpperCase(Locale.ROOT));
            case "trimspace" -> text(of, 0).strip();
            case "trimsuffix" -> Cuts.withoutSuffix(text(of, 0), text(of, 1));
            case "trimprefix" -> Cuts.withoutPrefix(text(of, 0), text(of, 1));
            case "replace" -> replaced(text(of, 0), text(of, 1), text(of, 2));
            case "substr" ->
                Cuts.told(text(of, 0), () -> substring(text(of, 0), (int) number(of, 1), (int) number(of, 2)));
            case "startswith" -> HclNumbers.truth(Cuts.startsWith(text(of, 0), text(of, 1)));
            case "endswith" -> HclNumbers.truth(Cuts.endsWith(text(of, 0), text(of, 1)));
            case "base64encode" ->
                Cuts.told(text(of, 0), () -> Base64.getEncoder()
                        .encodeToString(text(of, 0).getBytes(StandardCharsets.UTF_8)));
            case "tostring" -> of.get(0) == null ? null : text(of, 0);
            case "tonumber" ->
                HclNumbers.number(of.get(0))
                        .map(HclNumbers::normal)
                        .orElseGet(() -> Unknown.error("a number in a text that is none"));
            case "tobool" ->
                switch (text(of, 0)) {
                    case "true" -> true;
                    case "false" -> false;
                    default -> Unknown.error("a flag in a text that is none");
                };
            case "tolist", "nonsensitive", "sensitive", "tomap" -> of.get(0);
            case "toset" -> set(list(of.get(0)));
            case "distinct" -> new ArrayList<>(new LinkedHashSet<>(list(of.get(0))));
            case "sort" ->
                list(of.get(0)).stream()
                        .map(String::valueOf)
                        .sorted()
                        .map(Object.class::cast)
                        .toList();
            case "reverse" -> {
                List<Object> all = new ArrayList<>(list(of.get(0)));
                java.util.Collections.reverse(all);
                yield all;
            }
            case "compact" ->
                list(of.get(0)).stream()
                        .filter(each -> each != null && !"".equals(each))
                        .toList();
            case "concat" -> of.stream().flatMap(each -> list(each).stream()).toList();
            case "flatten" -> flat(list(of.get(0)));
            case "length" ->
                of.get(0) instanceof String word
                        ? Cuts.told(word, () -> (long) word.codePointCount(0, word.length()))
                        : (Object) (long)
                                (of.get(0) instanceof Map<?, ?> map
                                        ? map.size()
                                        : list(of.get(0)).size());
            case "element" ->
                list(of.get(0)).get((int)
                        Math.floorMod(number(of, 1), (long) list(of.get(0)).size()));
            case "one" ->
                switch (list(of.get(0)).size()) {
                    case 0 -> null;
                    case 1 -> list(of.get(0)).get(0);
                    default -> Unknown.error("the only one of several");
                };
            case "contains" ->
                list(of.get(0)).stream()
                        .anyMatch(each -> HclNumbers.areEqual(each, of.get(1)).orElse(Boolean.FALSE));
            case "index" ->
                list(of.get(0)).contains(of.get(1))
                        ? (Object) (long) list(of.get(0)).indexOf(of.get(1))
                        : Unknown.error("the place of what is not in the list");
            case "keys" ->
                map(of.get(0)).keySet().stream()
                        .sorted()
                        .map(Object.class::cast)
                        .toList();
            case "values" -> new ArrayList<>(new TreeMap<>(map(of.get(0))).values());
            case "merge" -> {
                Map<String, Object> all = new LinkedHashMap<>();
                of.stream().filter(each -> each != null).forEach(each -> all.putAll(map(each)));
                yield all;
            }
            case "lookup" ->
                map(of.get(0)).containsKey(text(of, 1))
                        ? map(of.get(0)).get(text(of, 1))
                        : Cuts.isOpen(text(of, 1))
                                ? Unknown.of("a value whose key is not told")
                                : of.size() > 2 ? of.get(2) : Unknown.error("a key that is not there");
            case "zipmap" -> {
                Map<String, Object> all = new LinkedHashMap<>();
                for (int i = 0; i < list(of.get(0)).size(); i++) {
                    all.put(
                            String.valueOf(list(of.get(0)).get(i)),
                            list(of.get(1)).get(i));
                }
                yield all;
            }
            case "range" -> {
                long from = of.size() > 1 ? number(of, 0) : 0;
                long to = of.size() > 1 ? number(of, 1) : number(of, 0);
                if (of.size() > 2 || to - from > MOST_IN_RANGE) {
                    yield Unknown.of("a range of many steps");
                }
                List<Object> all = new ArrayList<>();
                for (long i = from; i < to; i++) {
                    all.add(i);
                }
                yield all;
            }
            case "coalesce" ->
                of.stream()
                        .filter(each -> each != null && !"".equals(each))
                        .findFirst()
                        .orElse(null);
            case "coalescelist" ->
                of.stream().filter(each -> !list(each).isEmpty()).findFirst().orElse(List.of());
            case "max" ->
                HclNumbers.normal(numbers(of).max(Comparator.naturalOrder()).orElseThrow(ClassCastException::new));
            case "min" ->
                HclNumbers.normal(numbers(of).min(Comparator.naturalOrder()).orElseThrow(ClassCastException::new));
            case "basename" -> text(of, 0).substring(text(of, 0).lastIndexOf('/') + 1);
            case "dirname" ->
                text(of, 0).contains("/") ? text(of, 0).substring(0, text(of, 0).lastIndexOf('/')) : ".";
            default -> Unknown.of("what " + name + " gives");
        };
    }

    private static String text(List<Object> of, int at) {
        Object value = of.get(at);
        if (value instanceof List<?> || value instanceof Map<?, ?> || value == null) {
            throw new ClassCastException();
        }
        return value.toString();
    }

    private static long number(List<Object> of, int at) {
        return HclNumbers.number(of.get(at))
                .filter(number -> number.precision() - number.scale() < 19
                        && number.stripTrailingZeros().scale() <= 0)
                .orElseThrow(ClassCastException::new)
                .longValueExact();
    }

    private static Stream<BigDecimal> numbers(List<Object> of) {
        return of.stream().map(each -> HclNumbers.number(each).orElseThrow(ClassCastException::new));
    }

    private static List<Object> list(@Nullable Object value) {
        return value == null ? new ArrayList<>() : new ArrayList<>((Collection<?>) value);
    }

    private static Map<String, Object> map(@Nullable Object value) {
        Map<String, Object> out = new LinkedHashMap<>();
        ((Map<?, ?>) Optional.ofNullable(value).orElseThrow(ClassCastException::new))
                .forEach((name, member) -> out.put(String.valueOf(name), member));
        return out;
    }

    private static List<Object> flat(List<Object> items) {
        List<Object> out = new ArrayList<>();
        for (Object item : items) {
            if (item instanceof List<?> list) {
                out.addAll(flat(new ArrayList<>(list)));
            } else {
                out.add(item);
            }
        }
        return out;
    }

    private static Object substring(String text, int from, int length) {
        int begin = from < 0 ? Math.max(0, text.length() + from) : Math.min(from, text.length());
        return text.substring(begin, length < 0 ? text.length() : Math.min(text.length(), begin + length));
    }

    private static Object replaced(String text, String what, String by) {
        boolean isPattern = what.length() > 1 && what.startsWith("/") && what.endsWith("/");
        return isPattern ? Unknown.of("what a pattern replaces") : Cuts.replaced(text, what, by);
    }

    private static Object format(List<Object> of) {
        Matcher verbs = VERB.matcher(text(of, 0));
        StringBuilder out = new StringBuilder();
        int next = 1;
        while (verbs.find()) {
            String verb = verbs.group(1);
            String plain;
            if (verb.equals("%")) {
                plain = "%";
            } else if (verb.equals("s") || verb.equals("v") || verb.equals("d") || verb.equals("t")) {
                plain = text(of, next++);
            } else if (verb.equals("q")) {
                plain = "\"" + text(of, next++) + "\"";
            } else {
                return Unknown.of("a format with %" + verb);
            }
            verbs.appendReplacement(out, Matcher.quoteReplacement(plain));
        }
        return verbs.appendTail(out).toString();
    }

    /** Sets of texts are gone through in the order of their letters. Source: the language's documentation, "toset", "tolist". */
    private static Object set(List<Object> items) {
        boolean areTexts = items.stream().allMatch(String.class::isInstance);
        return new ArrayList<>(areTexts ? new TreeSet<>(items) : new LinkedHashSet<>(items));
    }

    private static Object letters(String text) {
        return Cuts.told(text, () -> text.codePoints()
                .mapToObj(Character::toString)
                .map(Object.class::cast)
                .toList());
    }

    /** Puts texts together; what is not told of one is not told of the whole. */
    static Object joined(String delimiter, List<?> parts) {
        StringBuilder out = new StringBuilder();
        String why = "";
        for (int i = 0; i < parts.size(); i++) {
            Object part = parts.get(i);
            out.append(i == 0 ? "" : delimiter);
            if (part instanceof Unknown open) {
                out.append(open.placeholder());
                why = open.why();
            } else if (part instanceof Partly open) {
                out.append(open.text());
                why = open.why();
            } else if (part instanceof List<?> || part instanceof Map<?, ?> || part instanceof Encoded) {
                return Unknown.of("a list stands in the place of a text");
            } else {
                out.append(part == null ? "" : part);
            }
        }
        return why.isEmpty() ? out.toString() : new Partly(out.toString(), why);
    }
}
