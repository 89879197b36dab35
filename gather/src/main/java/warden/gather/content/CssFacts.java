package warden.gather.content;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Locale;
import java.util.Set;

/**
 * Finds what a style sheet refers to, by its tokens: nested rules, new at-rules and broken declarations hide nothing, which a reader of whole
 * rules would drop. Source: CSS Syntax Module Level 3, section 4 "Tokenization"; CSS Values and Units Module, "Resource Locators"; CSS Images
 * Module, "image-set()".
 */
final class CssFacts {
    private static final Set<String> ADDRESSES = Set.of("url", "src");
    private static final Set<String> SETS = Set.of("image-set", "-webkit-image-set");

    private final String text;
    private final Facts facts;
    private final String base;
    private int at;
    private int line;
    /** By open parenthesis: whether strings directly inside are addresses. */
    private final Deque<Boolean> open = new ArrayDeque<>();
    /** True from {@code @import} to its address, which may be a string. */
    private boolean imports;
    /** True from {@code @namespace} to its end: a name that only looks like an address. */
    private boolean names;

    private CssFacts(String text, Facts facts, int firstLine, String base) {
        this.text = text;
        this.facts = facts;
        this.base = base;
        this.line = firstLine;
    }

    /**
     * Collects references.
     *
     * @param firstLine the line of the file in which the text begins, counted from 1
     */
    static void collect(String text, Facts facts, int firstLine, String base) {
        new CssFacts(text, facts, firstLine, base).all();
    }

    private void all() {
        while (at < text.length()) {
            char c = text.charAt(at);
            if (c == '\n') {
                line++;
                at++;
            } else if (c == '/' && text.startsWith("/*", at)) {
                int close = text.indexOf("*/", at + 2);
                skipTo(close < 0 ? text.length() : close + 2);
            } else if (c == '"' || c == '\'') {
                string(c);
            } else if (c == '@') {
                at++;
                String name = identifier();
                imports = name.equals("import");
                names = name.equals("namespace");
            } else if (isOfName(c)) {
                named();
            } else {
                sign(c);
            }
        }
    }

    private void sign(char c) {
        if (c == '(') {
            open.push(false);
        } else if (c == ')') {
            open.poll();
        } else if (c == ';' || c == '{' || c == '}') {
            imports = false;
            names = false;
        }
        at++;
    }

    private void skipTo(int end) {
        for (; at < end; at++) {
            line += text.charAt(at) == '\n' ? 1 : 0;
        }
    }

    private static boolean isOfName(char c) {
        return c == '-' || c == '_' || c == '\\' || c >= 0x80 || Character.isLetterOrDigit(c);
    }

    /** Reads a name, in lower case. */
    private String identifier() {
        int from = at;
        while (at < text.length() && isOfName(text.charAt(at))) {
            at += text.charAt(at) == '\\' ? 2 : 1;
        }
        at = Math.min(at, text.length());
        return text.substring(from, at).toLowerCase(Locale.ROOT);
    }

    private void named() {
        String name = identifier();
        if (at >= text.length() || text.charAt(at) != '(') {
            return;
        }
        at++;
        if (!ADDRESSES.contains(name)) {
            open.push(SETS.contains(name));
            return;
        }
        int begin = line;
        blanks();
        if (at < text.length() && (text.charAt(at) == '"' || text.charAt(at) == '\'')) {
            // A string in it is the address, and its parenthesis closes like another.
            open.push(true);
            return;
        }
        address(plainAddress(), begin);
    }

    private void blanks() {
        while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
            line += text.charAt(at) == '\n' ? 1 : 0;
            at++;
        }
    }

    /** Reads an address without quotes, up to its parenthesis. */
    private String plainAddress() {
        StringBuilder address = new StringBuilder();
        while (at < text.length() && text.charAt(at) != ')') {
            char c = text.charAt(at);
            if (c == '\\') {
                at++;
                address.append(escaped());
            } else {
                line += c == '\n' ? 1 : 0;
                address.append(c);
                at++;
            }
        }
        at++;
        return address.toString();
    }

    private void string(char quote) {
        int begin = line;
        StringBuilder value = new StringBuilder();
        at++;
        while (at < text.length() && text.charAt(at) != quote && text.charAt(at) != '\n') {
            if (text.charAt(at) == '\\') {
                at++;
                value.append(escaped());
            } else {
                value.append(text.charAt(at++));
            }
        }
        // A string that its line does not close ends there.
        at += at < text.length() && text.charAt(at) == quote ? 1 : 0;
        if (imports || Boolean.TRUE.equals(open.peek())) {
            address(value.toString(), begin);
        }
    }

    /** Reads what follows a backslash: up to six hexadecimal digits and a blank, a line end that counts for nothing, or any character. */
    private String escaped() {
        int from = at;
        while (at < text.length() && at - from < 6 && Character.digit(text.charAt(at), 16) >= 0) {
            at++;
        }
        if (at > from) {
            int point = Integer.parseInt(text.substring(from, at), 16);
            at += at < text.length() && text.charAt(at) == ' ' ? 1 : 0;
            return Character.isValidCodePoint(point) ? Character.toString(point) : "\ufffd";
        }
        if (at < text.length() && text.charAt(at) == '\n') {
            line++;
            at++;
            return "";
        }
        return at < text.length() ? String.valueOf(text.charAt(at++)) : "";
    }

    private void address(String address, int begin) {
        imports = false;
        if (!names) {
            facts.reference(address, begin, true, base);
        }
    }
}
