package warden.core.document;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * Names of what a description does not tell yet: {@code {SiteBucket}} in the place of one part of a name. Braces cannot occur in real names, so
 * that none of them ever meets one.
 */
public final class Placeholders {
    private static final char OPEN = '{';
    private static final char CLOSE = '}';

    private Placeholders() {}

    /** Returns the placeholder for something, as one part of a name or a path. */
    public static String of(String what) {
        return OPEN + (what.isEmpty() ? "unnamed" : what.replaceAll("[/*?{}\\s]", "-")) + CLOSE;
    }

    /** True for a text that is one placeholder, and nothing else. */
    public static boolean isOne(String text) {
        return text.length() > 2 && text.charAt(0) == OPEN && text.indexOf(CLOSE) == text.length() - 1;
    }

    /** True for a text that holds one. */
    public static boolean isIn(String text) {
        return text.indexOf(OPEN) >= 0;
    }

    /** Returns the text in lower case, its placeholders as they are. */
    public static String lower(String text) {
        if (!isIn(text)) {
            return text.toLowerCase(Locale.ROOT);
        }
        StringBuilder out = new StringBuilder();
        int at = 0;
        while (at < text.length()) {
            int open = text.indexOf(OPEN, at);
            int close = open < 0 ? -1 : text.indexOf(CLOSE, open);
            if (close < 0) {
                return out.append(text.substring(at).toLowerCase(Locale.ROOT)).toString();
            }
            out.append(text.substring(at, open).toLowerCase(Locale.ROOT)).append(text, open, close + 1);
            at = close + 1;
        }
        return out.toString();
    }

    /** Splits a text at a sign, outside of placeholders. */
    public static String[] split(String text, char sign, int most) {
        if (!isIn(text)) {
            return text.split(String.valueOf(sign), most);
        }
        List<String> parts = new ArrayList<>();
        int depth = 0;
        int from = 0;
        for (int i = 0; i < text.length() && parts.size() < most - 1; i++) {
            char c = text.charAt(i);
            depth += c == OPEN ? 1 : c == CLOSE ? -1 : 0;
            if (c == sign && depth <= 0) {
                parts.add(text.substring(from, i));
                from = i + 1;
            }
        }
        parts.add(text.substring(from));
        return parts.toArray(String[]::new);
    }
}
