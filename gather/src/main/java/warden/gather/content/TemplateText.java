package warden.gather.content;

import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Finds text that was to be replaced before publishing. What templates of running scripts look like is left alone. */
final class TemplateText {
    private static final Set<String> LOOKED_AT = Set.of(
            "html",
            "htm",
            "js",
            "mjs",
            "cjs",
            "json",
            "xml",
            "css",
            "txt",
            "webmanifest",
            "yaml",
            "yml",
            "svg",
            "config");
    /** Words for what differs from one environment to the next. */
    private static final String SETTING =
            "(?:URL|URI|KEY|TOKEN|HOST|DOMAIN|BUCKET|ENDPOINT|REGION|SECRET|ORIGIN|PASSWORD|CLIENT_ID|USER_POOL|TENANT)";

    private static final Pattern TO_REPLACE = Pattern.compile(
            "(?<![A-Za-z0-9])(?:REPLACE|CHANGE|FILL)[-_ ]?(?:ME|THIS|WITH|BY|IN)(?![A-Za-z0-9])(?:[-_ ][A-Z0-9]++)*+"
                    + "|(?<![A-Za-z0-9])YOUR[-_](?:API|ACCESS|SECRET|CLIENT|BUCKET|DOMAIN|ACCOUNT|PROJECT|APP|SITE|KEY|TOKEN|NAME|REGION|HOST|URL)"
                    + "(?![A-Za-z0-9])(?:[-_][A-Z0-9]++)*+"
                    + "|<(?:YOUR|INSERT|REPLACE|your|insert|replace)[-_ ][A-Za-z_ -]{2,40}>"
                    + "|%%[A-Za-z][A-Za-z0-9_]{2,40}%%");
    private static final Pattern QUOTED_NAME =
            Pattern.compile("([\"'])(?:\\$\\{[A-Z][A-Z0-9_]{2,40}}|%[A-Z][A-Z0-9_]{3,40}%)\\1");
    /** A name with two words between single percent signs; with one word, it may be a character that a URL encodes. */
    private static final Pattern IN_PERCENT_SIGNS = Pattern.compile("%[A-Z][A-Z0-9]*_[A-Z0-9_]{1,40}%");

    private static final Pattern UNDERSCORED =
            Pattern.compile("(?<![A-Za-z0-9_.$])__[A-Z0-9_]*" + SETTING + "[A-Z0-9_]*__(?![A-Za-z0-9_])");
    /** Two words at least: a single one in braces is what translations and bound views are made of. */
    private static final Pattern BRACED = Pattern.compile(
            "\\{\\{\\s{0,3}(?=[A-Za-z0-9]+_)[A-Za-z0-9_]{0,40}?(?i:" + SETTING + ")[A-Za-z0-9_]{0,40}\\s{0,3}}}");

    private static final Pattern IN_TITLE =
            Pattern.compile("(?i)<title>[^<]{0,200}(\\{\\{[^}<]{1,80}}}|<%[^%]{1,80}%>|\\$\\{[^}<]{1,80}})");

    private TemplateText() {}

    static void collect(String text, String extension, Facts facts) {
        if (!LOOKED_AT.contains(extension)) {
            return;
        }
        TreeMap<Integer, String> found = new TreeMap<>();
        // The first characters of each form, looked for first since that is quick; a single one quicker still.
        boolean hasPercent = text.indexOf('%') >= 0;
        boolean hasBrace = text.indexOf('{') >= 0;
        if (text.contains("REPLACE")
                || text.contains("CHANGE")
                || text.contains("FILL")
                || text.contains("YOUR")
                || (hasPercent && text.contains("%%"))
                || text.contains("<your")
                || text.contains("<insert")
                || text.contains("<replace")
                || text.contains("<INSERT")) {
            find(TO_REPLACE, text, any -> true, found);
        }
        boolean hasQuotedPercent = hasPercent && (text.contains("%\"") || text.contains("%'"));
        if (hasQuotedPercent || (hasBrace && text.contains("${"))) {
            find(QUOTED_NAME, text, any -> true, found);
        }
        if (hasQuotedPercent || (hasPercent && (text.contains("%/") || text.contains("%<")))) {
            find(IN_PERCENT_SIGNS, text, any -> true, found);
        }
        if (text.contains("__")) {
            Map<String, Boolean> variables = new HashMap<>();
            find(
                    UNDERSCORED,
                    text,
                    match -> !isMember(text, match)
                            && !variables.computeIfAbsent(match.group(), name -> isAssigned(text, name)),
                    found);
        }
        boolean hasBraces = hasBrace && text.contains("{{");
        if (hasBraces) {
            find(BRACED, text, any -> true, found);
        }
        boolean mayBeInTitle = hasBraces || (hasPercent && text.contains("<%")) || (hasBrace && text.contains("${"));
        if (mayBeInTitle && extension.startsWith("htm")) {
            find(IN_TITLE, text, any -> true, found);
        }
        int line = 1;
        int counted = 0;
        for (var spot : found.entrySet()) {
            for (int i = counted; i < spot.getKey(); i++) {
                line += text.charAt(i) == '\n' ? 1 : 0;
            }
            counted = spot.getKey();
            facts.template(line, spot.getValue());
        }
    }

    /** A script may look whether there is a variable of such a name, or ask for a member that is called so. */
    private static boolean isMember(String text, MatchResult match) {
        String before = text.substring(Math.max(0, match.start() - 8), match.start());
        return before.endsWith("[\"") || before.endsWith("['") || before.endsWith("typeof ");
    }

    /** A script may have a variable of such a name. */
    private static boolean isAssigned(String text, String name) {
        return Pattern.compile("\\b" + name + "[\"']?\\s{0,3}[=:](?![=/])")
                .matcher(text)
                .find();
    }

    private static void find(
            Pattern pattern, String text, Predicate<MatchResult> counts, TreeMap<Integer, String> found) {
        Matcher matcher = pattern.matcher(text);
        while (matcher.find()) {
            Map.Entry<Integer, String> before = found.floorEntry(matcher.start());
            boolean within =
                    before != null && before.getKey() + before.getValue().length() > matcher.start();
            if (!within && counts.test(matcher)) {
                found.put(matcher.start(), matcher.group());
            }
        }
    }
}
