package warden.core.document;

/** Makes text from outside fit to show: no control characters, no half characters, no marks that turn the writing. */
public final class Shown {
    private static final int LONGEST_NAME = 120;

    private Shown() {}

    /** Returns {@code text} with each character that could disturb a terminal or a file replaced by U+FFFD. */
    public static String clean(String text) {
        for (int i = 0; i < text.length(); i++) {
            if (disturbs(text, i)) {
                return replaced(text);
            }
        }
        return text;
    }

    /** Returns a name fit for a message: cleaned, and shortened with an ellipsis past 120 characters. */
    public static String name(String text) {
        String clean = clean(text);
        if (clean.codePointCount(0, clean.length()) <= LONGEST_NAME) {
            return clean;
        }
        return clean.substring(0, clean.offsetByCodePoints(0, LONGEST_NAME - 1)) + "…";
    }

    private static String replaced(String text) {
        StringBuilder out = new StringBuilder(text.length());
        for (int i = 0; i < text.length(); i++) {
            out.append(disturbs(text, i) ? '\uFFFD' : text.charAt(i));
        }
        return out.toString();
    }

    private static boolean disturbs(String text, int i) {
        char c = text.charAt(i);
        if (c < 0x20 || (c >= 0x7F && c < 0xA0)) {
            return true;
        }
        if (Character.isHighSurrogate(c)) {
            return i + 1 >= text.length() || !Character.isLowSurrogate(text.charAt(i + 1));
        }
        if (Character.isLowSurrogate(c)) {
            return i == 0 || !Character.isHighSurrogate(text.charAt(i - 1));
        }
        // Bidirectional controls, zero-width characters, line and paragraph separators.
        return (c >= 0x200B && c <= 0x200F)
                || (c >= 0x2028 && c <= 0x202E)
                || (c >= 0x2060 && c <= 0x206F)
                || c == 0xFEFF
                || c == 0x061C;
    }
}
