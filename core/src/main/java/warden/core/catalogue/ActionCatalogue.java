package warden.core.catalogue;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import warden.core.algebra.Glob;
import warden.core.catalogue.ServiceAction.Level;

/**
 * All actions of the services for which the catalogue is complete: storage, CDN, IAM, STS, certificates, DNS, domains and
 * keys. Of other services it knows nothing, and says so.
 */
public final class ActionCatalogue {
    private static final List<String> FILES = List.of("s3.txt", "services.txt");
    private static final ActionCatalogue SHIPPED = load();

    private final TreeMap<String, ServiceAction> byName;
    private final Set<String> services;

    private ActionCatalogue(TreeMap<String, ServiceAction> byName) {
        this.byName = byName;
        this.services = new LinkedHashSet<>();
        byName.keySet().forEach(name -> services.add(name.substring(0, name.indexOf(':'))));
    }

    /** Returns the catalogue that the program ships. */
    public static ActionCatalogue shipped() {
        return SHIPPED;
    }

    private static ActionCatalogue load() {
        TreeMap<String, ServiceAction> byName = new TreeMap<>();
        for (String file : FILES) {
            try (InputStream in = ActionCatalogue.class.getResourceAsStream(file)) {
                if (in == null) {
                    throw new IllegalStateException("the list " + file + " is not in the program");
                }
                BufferedReader lines = new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8));
                for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                    if (!line.startsWith("#")) {
                        String[] words = line.split(" ");
                        ServiceAction action =
                                new ServiceAction(words[0], Level.valueOf(words[1].toUpperCase(Locale.ROOT)), words[2]);
                        byName.put(action.lowerCaseName(), action);
                    }
                }
            } catch (IOException unreadable) {
                throw new UncheckedIOException(unreadable);
            }
        }
        return new ActionCatalogue(byName);
    }

    /** Returns the prefixes of the services for which the catalogue is complete, in lower case. */
    public Set<String> services() {
        return services;
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
        List<ServiceAction> matching = new ArrayList<>();
        byName.forEach((name, action) -> {
            if (lowerCasePattern.matches(name)) {
                matching.add(action);
            }
        });
        return matching;
    }

    /** Returns all actions of one service, in alphabetical order. */
    public List<ServiceAction> ofService(String service) {
        return List.copyOf(byName.subMap(service + ":", service + ";").values());
    }
}
