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

    /** The letters of options that take a value, by program: it follows at once, or is the next word. */
    private static final Map<String, String> WITH_VALUE =
            Map.of("curl", "AbcCdDeEFHKmoPQrtTuUwxXyYz", "wget", "aABDeiIloOPQRtTUwX");

    private static final Pattern BODIES =
            Pattern.compile("--(data(-.*)?|json|form(-.*)?|post-data|post-file|body-data)");
    private static final Pattern FILES = Pattern.compile("--(upload-file|body-file)");
    private static final Pattern METHODS = Pattern.compile("--(request|method)");
    /** Options whose value is no place. What follows others may be one. */
    private static final Pattern VALUED =
            Pattern.compile(BODIES.pattern() + "|" + FILES.pattern() + "|" + METHODS.pattern()
                    + "|--(header|user|password|output|output-document|directory-prefix|retry|retry-delay|retry-max-time|tries|timeout|max-time|connect-timeout"
                    + "|write-out|cacert|capath|cert|cert-type|key|cookie|cookie-jar|user-agent|referer|range|proxy|resolve|connect-to"
                    + "|aws-sigv4|oauth2-bearer|limit-rate|interface|config|url)");

    /** Returns the request of a call of one of the programs; its arguments are those after the program's name. */
    static WebRequest of(String program, List<PipelineValue> arguments) {
        Optional<PipelineValue> method = Optional.empty();
        boolean hasFile = false;
        boolean hasBody = false;
        List<PipelineValue> places = new ArrayList<>();
        boolean isCurl = program.equals("curl");
        String valued = WITH_VALUE.getOrDefault(program, "");
        List<PipelineValue> words = spread(arguments, valued);
        for (int i = 0; i < words.size(); i++) {
            PipelineValue word = words.get(i);
            String text = word.text();
            int equals = text.startsWith("--") ? text.indexOf('=') : -1;
            String option = equals < 0 ? text : text.substring(0, equals);
            PipelineValue value = equals >= 0
                    ? new PipelineValue(text.substring(equals + 1), word.open())
                    : i + 1 < words.size() ? words.get(i + 1) : PipelineValue.of("");
            boolean takesNext = equals < 0 && isWithValue(text, valued);
            if (isCurl && option.equals("-X") || METHODS.matcher(option).matches()) {
                method = Optional.of(value);
            } else if (isCurl && option.equals("-T") || FILES.matcher(option).matches()) {
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

    private static boolean isWithValue(String text, String valued) {
        return text.startsWith("--")
                ? VALUED.matcher(text).matches()
                : text.length() == 2 && text.charAt(0) == '-' && valued.indexOf(text.charAt(1)) >= 0;
    }

    /** Takes letters apart that stand together behind one dash: {@code -fsSXPUT} is {@code -f -s -S -X PUT}. */
    private static List<PipelineValue> spread(List<PipelineValue> arguments, String valued) {
        List<PipelineValue> spread = new ArrayList<>();
        for (PipelineValue argument : arguments) {
            String text = argument.text();
            if (text.startsWith("--") || !text.startsWith("-")) {
                spread.add(argument);
                continue;
            }
            for (int i = 1; i < text.length(); i++) {
                spread.add(PipelineValue.of("-" + text.charAt(i)));
                if (valued.indexOf(text.charAt(i)) >= 0) {
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
