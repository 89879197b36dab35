package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Reads a PowerShell script into its commands, in the order in which they stand. Both branches of a choice count, and the body of a loop counts
 * once. Source: PowerShell documentation, "about_Parsing", "about_Quoting_Rules", "about_Pipelines".
 */
public final class PowerShellReader {
    /**
     * One word of a command.
     *
     * @param text without its quotes
     * @param isLiteral true when nothing in it is put in by the running script
     * @param inside what stands in brackets, when the word is an expression in them; absent otherwise
     * @param after what follows the brackets: {@code .Context}
     */
    public record Word(String text, boolean isLiteral, Optional<String> inside, String after) {
        /** Returns a word that is as it is written. */
        public static Word of(String text) {
            return new Word(text, true, Optional.empty(), "");
        }
    }

    /**
     * One command.
     *
     * @param line where it begins, counted from 1
     * @param assigned the variable that takes what it gives, in lower case; empty for none
     * @param isPiped true when what the command before gives is handed to it
     */
    public record Statement(int line, String spelled, String assigned, boolean isPiped, List<Word> words) {
        public Statement {
            words = List.copyOf(words);
        }
    }

    private final String text;
    private final List<Statement> out = new ArrayList<>();
    private int at;
    private int line;

    private int begin = -1;
    private int beginLine;
    private boolean piped;
    private List<Word> words = new ArrayList<>();

    private PowerShellReader(String text, int firstLine) {
        this.text = text;
        this.line = firstLine;
    }

    /**
     * Returns the commands of a script.
     *
     * @param firstLine the line of the file in which the text begins, counted from 1
     */
    public static List<Statement> read(String text, int firstLine) {
        PowerShellReader reader = new PowerShellReader(text, firstLine);
        reader.all();
        return reader.out;
    }

    private void all() {
        while (at < text.length()) {
            char c = text.charAt(at);
            if (c == '\n') {
                boolean goesOn = text.substring(0, at).stripTrailing().endsWith("|");
                if (!goesOn) {
                    end(false);
                }
                at++;
                line++;
            } else if (c == '`'
                    && at + 1 < text.length()
                    && (text.charAt(at + 1) == '\n' || text.startsWith("`\r\n", at))) {
                at = text.indexOf('\n', at) + 1;
                line++;
            } else if (Character.isWhitespace(c)) {
                at++;
            } else if (text.startsWith("<#", at)) {
                skip("#>");
            } else if (c == '#') {
                int next = text.indexOf('\n', at);
                at = next < 0 ? text.length() : next;
            } else if (c == ';' || c == '{' || c == '}') {
                end(false);
                at++;
            } else if (c == '|' || c == '&') {
                end(c == '|' && !text.startsWith("||", at));
                at += text.startsWith("||", at) || text.startsWith("&&", at) ? 2 : 1;
            } else {
                word();
            }
        }
        end(false);
    }

    private void skip(String until) {
        int next = text.indexOf(until, at);
        int end = next < 0 ? text.length() : next + until.length();
        text.substring(at, end).chars().filter(c -> c == '\n').forEach(c -> line++);
        at = end;
    }

    private void end(boolean handsOn) {
        if (!words.isEmpty()) {
            String spelled = text.substring(begin, at)
                    .replaceAll("\\s*`?\\s*\\R\\s*", " ")
                    .strip();
            String assigned = "";
            if (words.size() > 1
                    && words.get(0).text().startsWith("$")
                    && words.get(1).text().equals("=")) {
                assigned = words.get(0).text().substring(1).toLowerCase(Locale.ROOT);
                words = words.subList(2, words.size());
            }
            out.add(new Statement(beginLine, spelled, assigned, piped, words));
        }
        piped = handsOn;
        words = new ArrayList<>();
        begin = -1;
    }

    private void word() {
        if (begin < 0) {
            begin = at;
            beginLine = line;
        }
        if (text.charAt(at) == '('
                || text.startsWith("@(", at)
                || text.startsWith("$(", at)
                || text.startsWith("@{", at)) {
            bracketed();
            return;
        }
        StringBuilder word = new StringBuilder();
        boolean literal = true;
        while (at < text.length()) {
            char c = text.charAt(at);
            if (Character.isWhitespace(c) || ";|{}()".indexOf(c) >= 0 && !isBraced(word)) {
                break;
            }
            if (c == '\'') {
                int close = closing('\'');
                word.append(text, at + 1, close);
                move(close + 1);
            } else if (c == '"') {
                int close = closing('"');
                String inside = text.substring(at + 1, close);
                String plain = inside.replace("`$", "\u0001");
                literal &= plain.indexOf('$') < 0;
                word.append(plain.replace('\u0001', literal ? '$' : '\u0001').replace("`\"", "\""));
                move(close + 1);
            } else if (c == '`' && at + 1 < text.length()) {
                word.append(text.charAt(at + 1));
                at += 2;
            } else {
                literal &= c != '$';
                word.append(c);
                at++;
            }
        }
        if (word.length() == 0 && at < text.length() && text.charAt(at) == ')') {
            at++;
            return;
        }
        words.add(new Word(word.toString(), literal, Optional.empty(), ""));
    }

    /** True within {@code ${NAME}}. */
    private static boolean isBraced(StringBuilder word) {
        int open = word.lastIndexOf("${");
        return (word.length() > 0 && word.charAt(word.length() - 1) == '$')
                || (open >= 0 && word.indexOf("}", open) < 0);
    }

    private int closing(char quote) {
        int close = at + 1;
        while (close < text.length() && text.charAt(close) != quote) {
            close += text.charAt(close) == '`' && quote == '"' ? 2 : 1;
        }
        return Math.min(close, text.length());
    }

    private void move(int to) {
        int end = Math.min(to, text.length());
        text.substring(at, end).chars().filter(c -> c == '\n').forEach(c -> line++);
        at = end;
    }

    private void bracketed() {
        int start = at;
        int depth = 0;
        int first = text.indexOf(text.startsWith("@{", at) ? '{' : '(', at);
        int end = first;
        while (end < text.length()) {
            char c = text.charAt(end);
            if (c == '\'' || c == '"') {
                int from = at;
                at = end;
                end = closing(c);
                at = from;
            } else if (c == '(' || c == '{') {
                depth++;
            } else if (c == ')' || c == '}') {
                depth--;
                if (depth == 0) {
                    break;
                }
            }
            end++;
        }
        String inside = text.substring(Math.min(first + 1, text.length()), Math.min(end, text.length()));
        move(end + 1);
        int tail = at;
        while (tail < text.length() && (Character.isLetterOrDigit(text.charAt(tail)) || text.charAt(tail) == '.')) {
            tail++;
        }
        String after = text.substring(at, tail);
        at = tail;
        words.add(new Word(text.substring(start, at), false, Optional.of(inside), after));
    }

    /** Puts into a text what variables stand for that {@code known} knows, by name in lower case; the others stay as they are. */
    static String put(String text, Function<String, Optional<String>> known) {
        StringBuilder out = new StringBuilder();
        int i = 0;
        while (i < text.length()) {
            char c = text.charAt(i);
            int end = i + 1;
            boolean braced = text.startsWith("${", i);
            int from = braced ? i + 2 : i + 1;
            if (c == '$') {
                end = from;
                while (end < text.length()
                        && (Character.isLetterOrDigit(text.charAt(end)) || "_:".indexOf(text.charAt(end)) >= 0)) {
                    end++;
                }
            }
            String name = c == '$' ? text.substring(from, end) : "";
            int next = braced && end < text.length() && text.charAt(end) == '}' ? end + 1 : end;
            Optional<String> value = name.isEmpty() ? Optional.empty() : known.apply(name.toLowerCase(Locale.ROOT));
            out.append(value.orElse(text.substring(i, next)));
            i = next;
        }
        return out.toString().replace('\u0001', '$');
    }

    /** Words that only steer what else is done. */
    static final Set<String> STEERING = Set.of(
            "if",
            "elseif",
            "else",
            "foreach",
            "for",
            "while",
            "do",
            "switch",
            "try",
            "catch",
            "finally",
            "param",
            "function",
            "return",
            "throw",
            "exit",
            "break",
            "continue");
}
