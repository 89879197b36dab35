package warden.gather.aws.template;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.document.Placeholders;

/**
 * Cuts texts in which placeholders may stand for names. What comes of it is told only where it is the same whatever the names are: they hold neither
 * colons nor slashes nor blanks.
 */
final class Cuts {
    private static final Pattern PLACEHOLDER = Pattern.compile("\\{[^{}\"\\s/*?]+}");
    private static final String NOT_IN_NAMES = ":/,;|* ";

    private Cuts() {}

    /** True for a text in which a placeholder stands. */
    static boolean isOpen(String text) {
        return PLACEHOLDER.matcher(text).find();
    }

    /** Returns what work gives, for a text that is all told. */
    static Object told(String text, Supplier<Object> work) {
        return isOpen(text) ? notTold() : work.get();
    }

    /** Returns the text in lower case, its placeholders as they are: what is spelled so in sources are buckets, whose names have no capitals. */
    static String lower(String text) {
        return isOpen(text) ? Placeholders.lower(text) : text.toLowerCase(Locale.ROOT);
    }

    private static Unknown notTold() {
        return Unknown.of("a part of a text that is not told");
    }

    private static boolean isInNoName(String sign) {
        return sign.chars().anyMatch(c -> NOT_IN_NAMES.indexOf(c) >= 0);
    }

    /** Returns the parts between the signs. */
    static Object split(String text, String sign) {
        if (!isOpen(text)) {
            return List.<Object>of((Object[]) text.split(Pattern.quote(sign), -1));
        }
        return sign.length() == 1 && isInNoName(sign)
                ? List.<Object>of((Object[]) Placeholders.split(text, sign.charAt(0), Integer.MAX_VALUE))
                : notTold();
    }

    static Object replaced(String text, String what, String by) {
        if (!isOpen(text)) {
            return text.replace(what, by);
        }
        if (!isInNoName(what)) {
            return notTold();
        }
        StringBuilder out = new StringBuilder();
        Matcher names = PLACEHOLDER.matcher(text);
        int from = 0;
        while (names.find()) {
            out.append(text.substring(from, names.start()).replace(what, by)).append(names.group());
            from = names.end();
        }
        return out.append(text.substring(from).replace(what, by)).toString();
    }

    /** Returns whether the text begins so; absent where that hangs on a name. */
    static Optional<Boolean> startsWith(String text, String prefix) {
        Matcher name = PLACEHOLDER.matcher(text);
        boolean mayGoOn =
                name.find() && name.start() < prefix.length() && prefix.startsWith(text.substring(0, name.start()));
        return mayGoOn && !text.startsWith(prefix) ? Optional.empty() : Optional.of(text.startsWith(prefix));
    }

    /** Returns whether the text ends so; absent where that hangs on a name. */
    static Optional<Boolean> endsWith(String text, String suffix) {
        Matcher name = PLACEHOLDER.matcher(text);
        int behind = -1;
        while (name.find()) {
            behind = name.end();
        }
        boolean mayGoOn =
                behind >= 0 && text.length() - behind < suffix.length() && suffix.endsWith(text.substring(behind));
        return mayGoOn && !text.endsWith(suffix) ? Optional.empty() : Optional.of(text.endsWith(suffix));
    }

    static Object withoutPrefix(String text, String prefix) {
        return startsWith(text, prefix)
                .map(begins -> (Object) (begins ? text.substring(prefix.length()) : text))
                .orElseGet(Cuts::notTold);
    }

    static Object withoutSuffix(String text, String suffix) {
        return endsWith(text, suffix)
                .map(ends -> (Object) (ends ? text.substring(0, text.length() - suffix.length()) : text))
                .orElseGet(Cuts::notTold);
    }
}
