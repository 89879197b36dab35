package warden.core;

import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.audit.Check;
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

    /** Finds a check by its id. */
    public static Optional<Check> named(String id) {
        return ALL.stream().filter(check -> check.card().id().equals(id)).findFirst();
    }
}
