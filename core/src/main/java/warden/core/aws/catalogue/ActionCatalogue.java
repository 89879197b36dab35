package warden.core.aws.catalogue;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.algebra.Glob;
import warden.core.aws.catalogue.ServiceAction.Level;

/**
 * All actions of the services for which the catalogue is complete: storage, CDN, IAM, STS, certificates, DNS, domains,
 * keys, functions, pipelines and managed hosting. Of other services it knows nothing, and says so.
 */
public final class ActionCatalogue {
    private static final List<String> FILES = List.of("s3.txt", "services.txt");
    private static final ActionCatalogue SHIPPED = load();

    /** The lines of each service's actions; a service is looked at when it is first asked for. */
    private final SortedMap<String, List<String>> lines;

    private final Carried carried;
    private final Map<String, Service> services = new ConcurrentHashMap<>();
    private volatile @Nullable List<ServiceAction> all;

    /** The actions of a service, by their names in lower case and in alphabetical order of these. */
    private record Service(Map<String, ServiceAction> byName, List<ServiceAction> inOrder) {
        static final Service UNKNOWN = new Service(Map.of(), List.of());
    }

    private ActionCatalogue(SortedMap<String, List<String>> lines, Carried carried) {
        this.lines = lines;
        this.carried = carried;
    }

    /** Returns the catalogue that the program ships. */
    public static ActionCatalogue shipped() {
        return SHIPPED;
    }

    private static ActionCatalogue load() {
        SortedMap<String, List<String>> lines = new TreeMap<>();
        for (String file : FILES) {
            for (String line : lines(file)) {
                lines.computeIfAbsent(
                                line.substring(0, line.indexOf(':')).toLowerCase(Locale.ROOT),
                                service -> new ArrayList<>())
                        .add(line);
            }
        }
        return new ActionCatalogue(lines, new Carried(lines("conditions.txt")));
    }

    /** Which condition keys the requests of an action carry beside the global ones. */
    private static final class Carried {
        private final Map<String, List<String>> byOne = new HashMap<>();
        /** A pattern spells its service out, and is tried with that service's actions only. */
        private final Map<String, Map<Glob, List<String>>> byMany = new HashMap<>();

        Carried(List<String> lines) {
            for (String line : lines) {
                String[] words = line.split(" ");
                Glob pattern = Glob.parse(words[0].toLowerCase(Locale.ROOT));
                List<String> keys = List.of(words).subList(1, words.length);
                if (pattern.isLiteral()) {
                    byOne.put(pattern.toString(), keys);
                } else {
                    String service = pattern.literalBefore(':').orElseThrow();
                    byMany.computeIfAbsent(service, key -> new LinkedHashMap<>())
                            .put(pattern, keys);
                }
            }
        }

        List<String> by(String service, String lowerCaseName) {
            Set<String> keys = new TreeSet<>(byOne.getOrDefault(lowerCaseName, List.of()));
            byMany.getOrDefault(service, Map.of()).forEach((pattern, carried) -> {
                if (pattern.matches(lowerCaseName)) {
                    keys.addAll(carried);
                }
            });
            return List.copyOf(keys);
        }
    }

    private Service service(String name) {
        List<String> listed = lines.get(name);
        return listed == null ? Service.UNKNOWN : services.computeIfAbsent(name, key -> read(name, listed));
    }

    private Service read(String service, List<String> listed) {
        Map<String, ServiceAction> actions = new TreeMap<>();
        for (String line : listed) {
            String[] words = line.split(" ");
            String lower = words[0].toLowerCase(Locale.ROOT);
            Level level = Level.valueOf(words[1].toUpperCase(Locale.ROOT));
            actions.put(lower, new ServiceAction(words[0], lower, level, words[2], carried.by(service, lower)));
        }
        return new Service(Map.copyOf(actions), List.copyOf(actions.values()));
    }

    /** Returns each line that is no remark. */
    private static List<String> lines(String file) {
        try (InputStream in = ActionCatalogue.class.getResourceAsStream(file)) {
            if (in == null) {
                throw new IllegalStateException("the list " + file + " is not in the program");
            }
            BufferedReader lines = new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8));
            return lines.lines().filter(line -> !line.startsWith("#")).toList();
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    /** Returns all actions, in alphabetical order. */
    public List<ServiceAction> all() {
        List<ServiceAction> known = all;
        if (known == null) {
            known = lines.keySet().stream()
                    .flatMap(service -> ofService(service).stream())
                    .sorted(Comparator.comparing(ServiceAction::lowerCaseName))
                    .toList();
            all = known;
        }
        return known;
    }

    /** Returns the prefixes of the services for which the catalogue is complete, in lower case. */
    public Set<String> services() {
        return Collections.unmodifiableSet(lines.keySet());
    }

    /** Finds an action by its name in any case. */
    public Optional<ServiceAction> named(String name) {
        String lower = name.toLowerCase(Locale.ROOT);
        int colon = lower.indexOf(':');
        return colon < 0
                ? Optional.empty()
                : Optional.ofNullable(
                        service(lower.substring(0, colon)).byName().get(lower));
    }

    /** Returns the actions that a pattern in lower case covers, in alphabetical order. */
    public List<ServiceAction> matching(Glob lowerCasePattern) {
        if (lowerCasePattern.isLiteral()) {
            return named(lowerCasePattern.toString()).map(List::of).orElse(List.of());
        }
        return within(lowerCasePattern)
                .filter(action -> lowerCasePattern.matches(action.lowerCaseName()))
                .toList();
    }

    /** True when a pattern in lower case covers an action. */
    public boolean knows(Glob lowerCasePattern) {
        return lowerCasePattern.isLiteral()
                ? named(lowerCasePattern.toString()).isPresent()
                : within(lowerCasePattern).anyMatch(action -> lowerCasePattern.matches(action.lowerCaseName()));
    }

    /** A pattern that spells its service out can match that service's actions only. */
    private Stream<ServiceAction> within(Glob lowerCasePattern) {
        return lowerCasePattern.literalBefore(':').map(this::ofService).orElseGet(this::all).stream();
    }

    /** Returns all actions of one service, in alphabetical order. */
    public List<ServiceAction> ofService(String service) {
        return service(service).inOrder();
    }
}
