package warden.gather.content;

import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Finds text that was to be replaced before publishing. What templates of running scripts look like is left alone. */
final class TemplateText {
    private static final Set<String> LOOKED_AT = Set.of(
            "html", "htm", "js", "mjs", "json", "xml", "css", "txt", "webmanifest", "yaml", "yml", "svg", "config");
    private static final Pattern TO_REPLACE =
            Pattern.compile("\\b(?:REPLACE|CHANGE|FILL)[-_ ]?(?:ME|THIS|WITH|BY|IN)\\b(?:[-_ ][A-Z]+)*"
                    + "|\\bYOUR[-_](?:API|ACCESS|SECRET|CLIENT|BUCKET|DOMAIN|ACCOUNT|PROJECT|APP|SITE|KEY|TOKEN|NAME|REGION|HOST|URL)"
                    + "(?:[-_][A-Z]+)*\\b"
                    + "|<(?:YOUR|INSERT|REPLACE|your|insert|replace)[-_ ][A-Za-z_ -]{2,40}>"
                    + "|%%[A-Z][A-Z0-9_]{2,40}%%");
    private static final Pattern QUOTED_NAME = Pattern.compile("([\"'])(?:\\$\\{[A-Z][A-Z0-9_]{2,40}}"
            + "|__[A-Z0-9_]*(?:URL|KEY|TOKEN|HOST|DOMAIN|BUCKET|ENDPOINT|REGION|SECRET)[A-Z0-9_]*__"
            + "|%[A-Z][A-Z0-9_]{3,40}%)\\1");
    private static final Pattern IN_TITLE =
            Pattern.compile("(?i)<title>[^<]{0,200}(\\{\\{[^}<]{1,80}}}|<%[^%]{1,80}%>|\\$\\{[^}<]{1,80}})");

    private TemplateText() {}

    static void collect(String text, String extension, Facts facts) {
        if (!LOOKED_AT.contains(extension)) {
            return;
        }
        // The first characters of each form, looked for first since that is quick.
        if (text.contains("REPLACE")
                || text.contains("CHANGE")
                || text.contains("FILL")
                || text.contains("YOUR")
                || text.contains("%%")
                || text.contains("<your")
                || text.contains("<insert")
                || text.contains("<replace")
                || text.contains("<INSERT")) {
            find(TO_REPLACE, text, facts);
        }
        if (text.contains("${") || text.contains("__") || text.contains("%\"") || text.contains("%'")) {
            find(QUOTED_NAME, text, facts);
        }
        if (extension.startsWith("htm") && (text.contains("{{") || text.contains("<%") || text.contains("${"))) {
            find(IN_TITLE, text, facts);
        }
    }

    private static void find(Pattern pattern, String text, Facts facts) {
        Matcher matcher = pattern.matcher(text);
        int line = 1;
        int counted = 0;
        while (matcher.find()) {
            for (int i = counted; i < matcher.start(); i++) {
                line += text.charAt(i) == '\n' ? 1 : 0;
            }
            counted = matcher.start();
            facts.template(line, matcher.group());
        }
    }
}
