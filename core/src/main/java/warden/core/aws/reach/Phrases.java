package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.Proposition;
import warden.core.algebra.RangeSet;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.algebra.ValueSet;

/** Says in words which requests a set holds: which objects, and under which conditions. */
final class Phrases {
    private static final int MOST_PHRASES = 12;

    private Phrases() {}

    /** Returns one phrase for each group of objects under the same conditions. */
    static List<String> describe(RequestSet set, List<StatementSets> sources, boolean onObjects) {
        Map<Map<String, ValueSet>, Language> keysByCondition = new LinkedHashMap<>();
        for (RequestSet.Box box : set.boxes()) {
            Map<String, ValueSet> conditions = new TreeMap<>(box.sides());
            ValueSet keys = conditions.remove(StatementSets.KEY);
            Language language = keys instanceof TextSet texts ? texts.texts() : KeyPatterns.KEYS;
            keysByCondition.merge(conditions, language, Language::union);
        }
        Set<Glob> namedKeys = new LinkedHashSet<>();
        sources.forEach(source -> namedKeys.addAll(source.namedKeys()));
        Set<String> phrases = new LinkedHashSet<>();
        keysByCondition.forEach((conditions, keys) -> {
            if (phrases.size() > MOST_PHRASES) {
                // What is not shown need not be put into words.
                return;
            }
            String when = conditions(conditions, sources);
            if (!onObjects) {
                phrases.add(when.isEmpty() ? "*" : when);
            } else {
                for (String pattern :
                        KeyPatterns.describe(keys, namedKeys, sources.get(0).memory())) {
                    phrases.add(when.isEmpty() ? pattern : pattern + " " + when);
                }
            }
        });
        List<String> shown = new ArrayList<>(phrases);
        if (shown.size() > MOST_PHRASES) {
            shown = new ArrayList<>(shown.subList(0, MOST_PHRASES));
            shown.add("and more");
        }
        return shown;
    }

    private static String conditions(Map<String, ValueSet> conditions, List<StatementSets> sources) {
        List<String> phrases = new ArrayList<>();
        conditions.forEach((dimension, values) -> {
            // What no document speaks of, and a request need not carry, only tells strangers from those who come from a
            // known place.
            boolean isUnspoken = values.admitsAbsence()
                    && !(values instanceof Proposition)
                    && sources.stream().noneMatch(source -> source.spellings()
                            .containsKey(dimension.substring(0, dimension.lastIndexOf('|'))));
            if (!isUnspoken) {
                phrases.add(condition(dimension, values, sources));
            }
        });
        return phrases.isEmpty() ? "" : "when " + String.join(" and ", phrases);
    }

    private static String condition(String dimension, ValueSet values, List<StatementSets> sources) {
        if (values instanceof Proposition proposition) {
            return (proposition.mayHold() ? "" : "not ") + "(" + dimension + ")";
        }
        String lower = dimension.substring(0, dimension.lastIndexOf('|'));
        String key = lower;
        List<Glob> named = new ArrayList<>();
        for (StatementSets source : sources) {
            key = source.spellings().getOrDefault(lower, key);
            source.namedValues(dimension).stream()
                    .filter(glob -> !named.contains(glob))
                    .forEach(named::add);
        }
        if (values instanceof RangeSet range) {
            List<String> spelled = range.spelled();
            return key + " is " + (spelled.isEmpty() ? "not sent" : "in " + String.join(" or ", spelled));
        }
        String spelled = key;
        TextSet texts = (TextSet) values;
        ResourceWork memory = sources.get(0).memory();
        return memory.words(key, texts, named, () -> text(spelled, texts, named, memory));
    }

    private static String text(String key, TextSet values, List<Glob> named, ResourceWork memory) {
        if (values.texts().isEmpty()) {
            return key + " is not sent";
        }
        if (values.texts().isEverything()) {
            return key + " is sent";
        }
        List<String> inside = new ArrayList<>();
        List<String> outside = new ArrayList<>();
        Language insideAll = Language.none();
        Language outsideAll = Language.none();
        for (Glob glob : named) {
            Language pattern = memory.matchingIgnoringCase(glob);
            if (pattern.isSubsetOf(values.texts())) {
                inside.add(glob.toString());
                insideAll = insideAll.union(pattern);
            } else if (memory.matching(glob).isSubsetOf(values.texts())) {
                inside.add(glob.toString());
                insideAll = insideAll.union(memory.matching(glob));
            } else if (pattern.isDisjointFrom(values.texts())) {
                outside.add(glob.toString());
                outsideAll = outsideAll.union(pattern);
            } else if (memory.matching(glob).isDisjointFrom(values.texts())) {
                outside.add(glob.toString());
                outsideAll = outsideAll.union(memory.matching(glob));
            }
        }
        if (!inside.isEmpty() && values.texts().isSubsetOf(insideAll)) {
            return key + " is " + String.join(" or ", inside) + (values.admitsAbsence() ? ", or not sent" : "");
        }
        if (!outside.isEmpty()
                && inside.isEmpty()
                && values.texts().union(outsideAll).isEverything()) {
            return key + " is not " + String.join(" or ", outside) + (values.admitsAbsence() ? "" : ", but sent");
        }
        String example = values.witness().orElse("");
        return key + " is such as " + (example.isEmpty() ? "\"\"" : example);
    }
}
