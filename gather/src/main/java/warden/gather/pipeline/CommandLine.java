package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.pipeline.PipelineValue;

/**
 * The arguments of a command, sorted into options and the rest.
 *
 * @param rest the arguments that are no options, in order
 * @param options by name with its dashes; each value of an option that repeats; no value for a flag
 * @param order the options in order, each with its value, for those whose order matters
 */
public record CommandLine(
        List<PipelineValue> rest,
        Map<String, List<PipelineValue>> options,
        List<Map.Entry<String, PipelineValue>> order) {
    /** Options of which any number of values may follow. */
    private static final Set<String> MANY_VALUES =
            Set.of("--grants", "--paths", "--items", "--metadata", "--backend-config");

    /**
     * Sorts arguments.
     *
     * @param flags the options that take no value
     */
    public static CommandLine of(List<PipelineValue> arguments, Set<String> flags) {
        List<PipelineValue> rest = new ArrayList<>();
        Map<String, List<PipelineValue>> options = new LinkedHashMap<>();
        List<Map.Entry<String, PipelineValue>> order = new ArrayList<>();
        for (int i = 0; i < arguments.size(); i++) {
            PipelineValue argument = arguments.get(i);
            String text = argument.text();
            if (!text.startsWith("-") || text.length() < 2) {
                rest.add(argument);
                continue;
            }
            int equals = text.indexOf('=');
            String name = equals < 0 ? text : text.substring(0, equals);
            List<PipelineValue> values = options.computeIfAbsent(name, key -> new ArrayList<>());
            if (equals >= 0) {
                values.add(new PipelineValue(text.substring(equals + 1), argument.open()));
            } else if (flags.contains(name)) {
                // Some flags may be followed by a word that says whether they hold.
                boolean isSaid =
                        i + 1 < arguments.size() && arguments.get(i + 1).text().matches("(?i)true|false");
                if (isSaid) {
                    values.add(arguments.get(++i));
                }
            } else {
                do {
                    if (i + 1 < arguments.size() && !arguments.get(i + 1).text().startsWith("--")) {
                        values.add(arguments.get(++i));
                    } else {
                        break;
                    }
                } while (MANY_VALUES.contains(name));
            }
            order.add(Map.entry(name, values.isEmpty() ? PipelineValue.of("") : values.get(values.size() - 1)));
        }
        return new CommandLine(rest, options, order);
    }

    /** True for an option that is given, with a value or without. */
    public boolean has(String option) {
        return options.containsKey(option);
    }

    /** Returns the last value of an option; absent when it is not given or has none. */
    public Optional<PipelineValue> value(String option) {
        List<PipelineValue> values = options.getOrDefault(option, List.of());
        return values.isEmpty() ? Optional.empty() : Optional.of(values.get(values.size() - 1));
    }

    /** Returns the value of the first of these options that has one: short and long forms of the same. */
    public Optional<PipelineValue> valueOf(String... names) {
        for (String name : names) {
            if (value(name).isPresent()) {
                return value(name);
            }
        }
        return Optional.empty();
    }

    /** Returns the text of the last value of an option; absent when it is not given or has none. */
    public Optional<String> text(String option) {
        return value(option).map(PipelineValue::text);
    }
}
