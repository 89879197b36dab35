package warden.core.aws.catalogue;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import warden.core.algebra.Glob;
import warden.core.aws.catalogue.ServiceAction.Level;

/**
 * All actions of the services for which the catalogue is complete: storage, CDN, IAM, STS, certificates, DNS, domains,
 * keys, functions, pipelines and managed hosting. Of other services it knows nothing, and says so.
 */
public final class ActionCatalogue {
    private static final List<String> FILES = List.of("s3.txt", "services.txt");
    private static final ActionCatalogue SHIPPED = load();

    private final TreeMap<String, ServiceAction> byName;
    private final List<ServiceAction> all;
    private final Map<String, List<ServiceAction>> byService = new LinkedHashMap<>();

    private ActionCatalogue(TreeMap<String, ServiceAction> byName) {
        this.byName = byName;
        this.all = List.copyOf(byName.values());
        byName.forEach((name, action) -> byService
                .computeIfAbsent(name.substring(0, name.indexOf(':')), service -> new ArrayList<>())
                .add(action));
    }

    /** Returns the catalogue that the program ships. */
    public static ActionCatalogue shipped() {
        return SHIPPED;
    }

    private static ActionCatalogue load() {
        Map<String, List<String>> carriedByOne = new HashMap<>();
        // A pattern spells its service out, and is tried with that service's actions only.
        Map<String, Map<Glob, List<String>>> carriedByMany = new HashMap<>();
        for (String[] words : table("conditions.txt")) {
            Glob pattern = Glob.parse(words[0].toLowerCase(Locale.ROOT));
            List<String> keys = List.of(words).subList(1, words.length);
            if (pattern.isLiteral()) {
                carriedByOne.put(pattern.toString(), keys);
            } else {
                String service = pattern.literalBefore(':').orElseThrow();
                carriedByMany
                        .computeIfAbsent(service, key -> new LinkedHashMap<>())
                        .put(pattern, keys);
            }
        }
        TreeMap<String, ServiceAction> byName = new TreeMap<>();
        for (String file : FILES) {
            for (String[] words : table(file)) {
                String lower = words[0].toLowerCase(Locale.ROOT);
                TreeSet<String> keys = new TreeSet<>(carriedByOne.getOrDefault(lower, List.of()));
                String service = lower.substring(0, lower.indexOf(':'));
                carriedByMany.getOrDefault(service, Map.of()).forEach((pattern, carried) -> {
                    if (pattern.matches(lower)) {
                        keys.addAll(carried);
                    }
                });
                Level level = Level.valueOf(words[1].toUpperCase(Locale.ROOT));
                byName.put(lower, new ServiceAction(words[0], lower, level, words[2], List.copyOf(keys)));
            }
        }
        return new ActionCatalogue(byName);
    }

    /** Returns the words of each line that is no remark. */
    private static List<String[]> table(String file) {
        try (InputStream in = ActionCatalogue.class.getResourceAsStream(file)) {
            if (in == null) {
                throw new IllegalStateException("the list " + file + " is not in the program");
            }
            BufferedReader lines = new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8));
            return lines.lines()
                    .filter(line -> !line.startsWith("#"))
                    .map(line -> line.split(" "))
                    .toList();
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    /** Returns all actions, in alphabetical order. */
    public List<ServiceAction> all() {
        return all;
    }

    /** Returns the prefixes of the services for which the catalogue is complete, in lower case. */
    public Set<String> services() {
        return Collections.unmodifiableSet(byService.keySet());
    }

    /** Finds an action by its name in any case. */
    public Optional<ServiceAction> named(String name) {
        return Optional.ofNullable(byName.get(name.toLowerCase(Locale.ROOT)));
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
                ? byName.containsKey(lowerCasePattern.toString())
                : within(lowerCasePattern).anyMatch(action -> lowerCasePattern.matches(action.lowerCaseName()));
    }

    /** A pattern that spells its service out can match that service's actions only. */
    private Stream<ServiceAction> within(Glob lowerCasePattern) {
        return lowerCasePattern.literalBefore(':').map(this::ofService).orElse(all).stream();
    }

    /** Returns all actions of one service, in alphabetical order. */
    public List<ServiceAction> ofService(String service) {
        return Collections.unmodifiableList(byService.getOrDefault(service, List.of()));
    }
}
