package warden.core.document;

import java.util.function.IntPredicate;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Makes text from outside fit to show: no control characters, no half characters, no marks that turn the writing, nothing that a build
 * server takes out of its log for a command.
 */
public final class DisplayText {
    private static final int LONGEST_NAME = 120;
    private static final int LONGEST_WORD = 200;
    private static final int LONGEST_TEXT = 4_000;
    private static final int TAIL = 60;
    /** How a command begins for build servers, wherever in a line: {@code ##[…]}, {@code ##vso[…]}. */
    private static final Pattern COMMAND = Pattern.compile("##(?=[a-zA-Z]*\\[)");

    private DisplayText() {}

    /** Returns {@code text} with each character that could disturb a terminal or a file replaced by U+FFFD. */
    public static String clean(String text) {
        return replaced(text, c -> false);
    }

    /**
     * Returns lines fit to show: what disturbs is replaced by U+FFFD, but for the ends of lines and tabs.
     *
     * @param coloured whether the text holds colours, and so begins of escape sequences, on purpose
     */
    public static String lines(String text, boolean coloured) {
        return replaced(text, c -> c == '\n' || c == '\t' || (coloured && c == '\u001b'));
    }

    private static String replaced(String text, IntPredicate meant) {
        String plain = withoutCommands(text, "#\uFFFD");
        // An array is looked through several times as fast as a text.
        char[] letters = plain.toCharArray();
        StringBuilder out = null;
        for (int i = 0; i < letters.length; i++) {
            if (!isPrintable(letters[i]) && disturbs(letters, i) && !meant.test(letters[i])) {
                out = out == null ? new StringBuilder(plain) : out;
                out.setCharAt(i, '\uFFFD');
            }
        }
        return out == null ? plain : out.toString();
    }

    private static String withoutCommands(String text, String instead) {
        return text.contains("##") ? COMMAND.matcher(text).replaceAll(instead) : text;
    }

    /** Returns a JSON document in which what disturbs is spelled by escape sequences, so that it says the same. Source: RFC 8259, section 7. */
    public static String json(String document) {
        String plain = withoutCommands(document, "\\\\u0023#");
        char[] letters = plain.toCharArray();
        StringBuilder out = null;
        int copied = 0;
        for (int i = 0; i < letters.length; i++) {
            char c = letters[i];
            if (!isPrintable(c) && c != '\n' && c != '\t' && c != '\r' && disturbs(letters, i)) {
                out = out == null ? new StringBuilder() : out;
                out.append(plain, copied, i).append(String.format("\\u%04x", (int) c));
                copied = i + 1;
            }
        }
        return out == null ? plain : out.append(plain.substring(copied)).toString();
    }

    /** Returns a name fit for a message: cleaned, and shortened with an ellipsis past 120 characters. */
    public static String name(String text) {
        String clean = clean(text);
        if (clean.codePointCount(0, clean.length()) <= LONGEST_NAME) {
            return clean;
        }
        return clean.substring(0, clean.offsetByCodePoints(0, LONGEST_NAME - 1)) + "…";
    }

    /**
     * Returns a sentence for people: cleaned, each word past 200 characters shortened in the middle, and the whole past 4,000 at its
     * end, with an ellipsis.
     */
    public static String brief(String text) {
        String clean = clean(text);
        if (clean.length() <= LONGEST_WORD) {
            return clean;
        }
        String words =
                Stream.of(clean.split(" ", -1)).map(DisplayText::shortWord).collect(Collectors.joining(" "));
        return words.codePointCount(0, words.length()) <= LONGEST_TEXT
                ? words
                : words.substring(0, words.offsetByCodePoints(0, LONGEST_TEXT - 1)) + "…";
    }

    private static String shortWord(String word) {
        if (word.codePointCount(0, word.length()) <= LONGEST_WORD) {
            return word;
        }
        return word.substring(0, word.offsetByCodePoints(0, LONGEST_WORD - TAIL - 1)) + "…"
                + word.substring(word.offsetByCodePoints(word.length(), -TAIL));
    }

    /** True for the printable characters of ASCII, which nearly all are. */
    private static boolean isPrintable(char c) {
        return c >= 0x20 && c < 0x7F;
    }

    private static boolean disturbs(char[] text, int i) {
        char c = text[i];
        if (c < 0x20 || (c >= 0x7F && c < 0xA0)) {
            return true;
        }
        if (Character.isHighSurrogate(c)) {
            return i + 1 >= text.length || !Character.isLowSurrogate(text[i + 1]);
        }
        if (Character.isLowSurrogate(c)) {
            return i == 0 || !Character.isHighSurrogate(text[i - 1]);
        }
        // Bidirectional controls, zero-width characters, line and paragraph separators.
        return (c >= 0x200B && c <= 0x200F)
                || (c >= 0x2028 && c <= 0x202E)
                || (c >= 0x2060 && c <= 0x206F)
                || c == 0xFEFF
                // What XML has no place for, and what stands beside it: marks of annotations, and no characters at all.
                || (c >= 0xFFF9 && c <= 0xFFFB)
                || c >= 0xFFFE
                || c == 0x061C;
    }
}
