package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.pipeline.PipelineValue;
import warden.gather.pipeline.PowerShellReader.Word;

/**
 * What the words of one PowerShell script stand for, as far as the file tells. Source: PowerShell documentation, "about_Variables",
 * "about_Environment_Variables", "about_Parameters".
 */
public final class PowerShellWords {
    private static final Pattern VARIABLE = Pattern.compile("\\$\\{?(?:env:)?([A-Za-z_][A-Za-z0-9_]*)\\}?");
    /** The name of a container for websites, which reads like a variable and is none. */
    private static final String NO_VARIABLE = "$web";

    private final Scope scope;
    private final Map<String, String> texts = new HashMap<>();

    PowerShellWords(Scope scope) {
        this.scope = scope;
    }

    /** Notes what a variable, by its name in lower case, is set to. */
    void assign(String variable, Word word) {
        texts.put(variable, value(word).text());
    }

    /** Returns a command's parameters by name in lower case; a switch has an empty word. */
    public static Map<String, Word> parameters(List<Word> words) {
        Map<String, Word> all = new LinkedHashMap<>();
        for (int i = 1; i < words.size(); i++) {
            String text = words.get(i).text();
            if (!text.startsWith("-") || text.length() < 2) {
                continue;
            }
            int colon = text.indexOf(':');
            String name = (colon < 0 ? text.substring(1) : text.substring(1, colon)).toLowerCase(Locale.ROOT);
            boolean hasValue = colon < 0
                    && i + 1 < words.size()
                    && !words.get(i + 1).text().startsWith("-");
            all.put(name, colon >= 0 ? Word.of(text.substring(colon + 1)) : hasValue ? words.get(++i) : Word.of(""));
        }
        return all;
    }

    /** Returns the value of the first of these parameters, in lower case, that is given; absent when none is. */
    public Optional<PipelineValue> find(Map<String, Word> parameters, String... names) {
        for (String name : names) {
            if (parameters.containsKey(name)) {
                return Optional.of(value(parameters.get(name)));
            }
        }
        return Optional.empty();
    }

    /** Returns what a word stands for, as far as the file tells. */
    public PipelineValue value(Word word) {
        PipelineValue expanded = scope.expand(word.text().replace('\u0001', '$'));
        if (word.isLiteral()) {
            return expanded;
        }
        String put = PowerShellReader.put(word.text(), this::known);
        PipelineValue whole = scope.expand(put);
        List<String> open = new ArrayList<>(whole.open());
        Matcher variable =
                VARIABLE.matcher(whole.text().replace(NO_VARIABLE, "").replaceAll("\\$\\{\\{.*?}}", ""));
        while (variable.find()) {
            open.add(variable.group(1));
        }
        if (word.inside().isPresent() && open.isEmpty()) {
            open.add(word.text());
        }
        return new PipelineValue(whole.text(), open);
    }

    private Optional<String> known(String name) {
        if (name.startsWith("env:")) {
            return scope.variable(name.substring(4).toUpperCase(Locale.ROOT))
                    .filter(PipelineValue::isKnown)
                    .map(PipelineValue::text);
        }
        return Optional.ofNullable(texts.get(name)).filter(text -> text.indexOf('$') < 0 || text.equals(NO_VARIABLE));
    }
}
