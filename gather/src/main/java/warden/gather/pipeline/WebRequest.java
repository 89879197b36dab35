package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.gather.pipeline.PowerShellReader.Word;

/**
 * A request that a script sends by itself. What it may change in a store is not read, and never taken for harmless. Source: curl manual,
 * "--request", "--upload-file", "--data", "--form"; GNU Wget manual, "HTTP Options"; PowerShell documentation, "Invoke-WebRequest".
 *
 * @param method absent where the program chooses it
 * @param hasFile whether it sends a file as the thing itself
 * @param hasBody whether it sends anything else
 * @param places where it may go
 */
record WebRequest(Optional<PipelineValue> method, boolean hasFile, boolean hasBody, List<PipelineValue> places) {
    static final Set<String> PROGRAMS = Set.of("curl", "wget");
    static final Set<String> CMDLETS = Set.of("invoke-webrequest", "invoke-restmethod");

    private static final Set<String> READING = Set.of("GET", "HEAD", "OPTIONS", "DEFAULT");
    private static final Pattern OPEN_HOST = Pattern.compile("(?i)(https?://)?[^/?#]*\\$.*", Pattern.DOTALL);

    /** The letters of curl's options that take a value: it follows at once, or is the next word. */
    private static final String WITH_VALUE = "AbcCdDeEFHhKmoPQrtTuUwxXyYz";

    private static final Pattern BODIES =
            Pattern.compile("--(data(-.*)?|json|form(-.*)?|post-data|post-file|body-data)");
    private static final Pattern FILES = Pattern.compile("--(upload-file|body-file)");
    private static final Pattern METHODS = Pattern.compile("--(request|method)");
    private static final Set<String> FLAGS = Set.of(
            "--fail",
            "--fail-with-body",
            "--silent",
            "--show-error",
            "--location",
            "--insecure",
            "--compressed",
            "--verbose",
            "--head",
            "--get",
            "--globoff",
            "--include",
            "--remote-name",
            "--progress-bar",
            "--no-progress-meter",
            "--create-dirs",
            "--quiet",
            "--no-verbose",
            "--no-check-certificate",
            "--content-on-error",
            "--spider",
            "--http1.1",
            "--http2",
            "--ipv4",
            "--ipv6");

    /** Returns the request of a call of one of the programs; its arguments are those after the program's name. */
    static WebRequest of(List<PipelineValue> arguments) {
        Optional<PipelineValue> method = Optional.empty();
        boolean hasFile = false;
        boolean hasBody = false;
        List<PipelineValue> places = new ArrayList<>();
        List<PipelineValue> words = spread(arguments);
        for (int i = 0; i < words.size(); i++) {
            PipelineValue word = words.get(i);
            String text = word.text();
            int equals = text.startsWith("--") ? text.indexOf('=') : -1;
            String option = equals < 0 ? text : text.substring(0, equals);
            PipelineValue value = equals >= 0
                    ? new PipelineValue(text.substring(equals + 1), word.open())
                    : i + 1 < words.size() ? words.get(i + 1) : PipelineValue.of("");
            boolean takesNext = equals < 0 && isWithValue(text);
            if (option.equals("-X") || METHODS.matcher(option).matches()) {
                method = Optional.of(value);
            } else if (option.equals("-T") || FILES.matcher(option).matches()) {
                hasFile = true;
            } else if (Set.of("-d", "-F").contains(option)
                    || BODIES.matcher(option).matches()) {
                hasBody = true;
            } else if (option.equals("--url")) {
                places.add(value);
            } else if (!text.startsWith("-")) {
                places.add(word);
            }
            i += takesNext ? 1 : 0;
        }
        return new WebRequest(method, hasFile, hasBody, places);
    }

    /** Returns the request of a call of one of the cmdlets. */
    static WebRequest of(List<Word> words, PowerShellWords values) {
        Map<String, Word> parameters = PowerShellWords.parameters(words);
        List<PipelineValue> places = new ArrayList<>();
        values.find(parameters, "uri").ifPresent(places::add);
        words.stream()
                .skip(1)
                .filter(word -> !word.text().startsWith("-"))
                .map(values::value)
                .forEach(places::add);
        return new WebRequest(
                values.find(parameters, "method", "custommethod"),
                parameters.containsKey("infile"),
                parameters.containsKey("body") || parameters.containsKey("form"),
                places);
    }

    /**
     * Returns what it does, as far as stores are concerned.
     *
     * @param isProviders true for an address of one of the providers
     */
    Operation operation(Predicate<PipelineValue> isProviders) {
        boolean changes = hasFile
                || method.filter(each -> !each.isKnown()
                                || !READING.contains(each.text().toUpperCase(Locale.ROOT))
                                        && !each.text().equalsIgnoreCase("POST"))
                        .isPresent();
        boolean sends = changes
                || hasBody
                || method.filter(each -> each.text().equalsIgnoreCase("POST")).isPresent();
        boolean mayReachStore = sends && places.stream().anyMatch(isProviders)
                || changes
                        && places.stream()
                                .anyMatch(
                                        place -> OPEN_HOST.matcher(place.text()).matches());
        return mayReachStore
                ? new Operation.NotUnderstood("what this request changes at the address is not read")
                : new Operation.Nothing();
    }

    private static boolean isWithValue(String text) {
        return text.startsWith("--")
                ? !FLAGS.contains(text) && !text.startsWith("--no-")
                : text.length() == 2 && text.charAt(0) == '-' && WITH_VALUE.indexOf(text.charAt(1)) >= 0;
    }

    /** Takes letters apart that stand together behind one dash: {@code -fsSXPUT} is {@code -f -s -S -X PUT}. */
    private static List<PipelineValue> spread(List<PipelineValue> arguments) {
        List<PipelineValue> spread = new ArrayList<>();
        for (PipelineValue argument : arguments) {
            String text = argument.text();
            if (text.startsWith("--") || !text.startsWith("-")) {
                spread.add(argument);
                continue;
            }
            for (int i = 1; i < text.length(); i++) {
                spread.add(PipelineValue.of("-" + text.charAt(i)));
                if (WITH_VALUE.indexOf(text.charAt(i)) >= 0) {
                    if (i + 1 < text.length()) {
                        spread.add(new PipelineValue(text.substring(i + 1), argument.open()));
                    }
                    break;
                }
            }
        }
        return spread;
    }
}
