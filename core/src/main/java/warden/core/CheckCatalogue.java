package warden.core;

import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import warden.core.audit.Check;
import warden.core.audit.CheckCard;
import warden.core.provider.Provider;

/** All checks, of whichever provider's sites: each once, by area. */
public final class CheckCatalogue {
    private static final List<Check> ASKED = byArea(Providers.ALL.stream()
            .flatMap(provider -> provider.checks().stream())
            .distinct());

    private static final List<Check> ALL = of(Providers.ALL);

    private CheckCatalogue() {}

    static List<Check> of(List<Provider> providers) {
        Map<String, Check> byId = new LinkedHashMap<>();
        providers.forEach(provider ->
                provider.checks().forEach(check -> byId.putIfAbsent(check.card().id(), check)));
        return byArea(byId.values().stream());
    }

    private static List<Check> byArea(Stream<Check> checks) {
        return checks.sorted(Comparator.comparing(check -> check.card().area())).toList();
    }

    /** Returns every check, by area, in the order of the providers' lists. */
    public static List<Check> all() {
        return ALL;
    }

    /** Returns the checks as they are asked: where providers answer one of them each in their own way, once for each of these. */
    public static List<Check> asked() {
        return ASKED;
    }

    /** Returns the card of a check as each provider tells it whose sites are asked, by the provider's name. */
    public static Map<String, CheckCard> byProvider(String id) {
        Map<String, CheckCard> cards = new LinkedHashMap<>();
        Providers.ALL.forEach(provider -> provider.checks().stream()
                .map(Check::card)
                .filter(card -> card.id().equals(id))
                .findFirst()
                .ifPresent(card -> cards.put(provider.name(), card)));
        return cards;
    }

    /** Names under which one provider's users know a fact that is reported under another. They are understood, and never reported. */
    private static final Map<String, String> SECOND_NAMES = Map.ofEntries(
            Map.entry("web-hosting-off", "hosting-off"),
            Map.entry("web-index-missing", "index-missing"),
            Map.entry("web-error-missing", "error-missing"),
            Map.entry("web-soft-delete-off", "versioning-off"),
            Map.entry("container-open-listing", "anyone-can-list"),
            Map.entry("web-around-cdn", "open-endpoint-around-cdn"),
            Map.entry("cdn-http-allowed", "viewer-plain-http"),
            Map.entry("cdn-origin-gone", "origin-bucket-gone"),
            Map.entry("assignment-too-narrow", "publisher-cannot-publish"));

    /** Returns the id under which a check is reported; the word itself where it is no second name. */
    public static String idOf(String word) {
        return SECOND_NAMES.getOrDefault(word, word);
    }

    /** Returns every word that names a check: ids and second names. */
    public static Set<String> words() {
        Set<String> words = new TreeSet<>(SECOND_NAMES.keySet());
        ALL.forEach(check -> words.add(check.card().id()));
        return words;
    }

    /** Finds a check by its id, or by a second name. */
    public static Optional<Check> named(String word) {
        String id = idOf(word);
        return ALL.stream().filter(check -> check.card().id().equals(id)).findFirst();
    }
}
