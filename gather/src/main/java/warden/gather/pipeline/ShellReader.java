package warden.gather.pipeline;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.pipeline.PipelineValue;

/**
 * Reads a shell script into its simple commands, in the order in which they stand. Both branches of a choice count, and the body of a loop
 * counts once. Source: POSIX.1-2017, Shell Command Language.
 */
final class ShellReader {
    private static final Pattern ASSIGNMENT = Pattern.compile("([A-Za-z_][A-Za-z0-9_]*)\\+?=(.*)", Pattern.DOTALL);
    private static final Pattern PARAMETER =
            Pattern.compile("([A-Za-z_][A-Za-z0-9_]*)(?:(:?[-=])(.*))?", Pattern.DOTALL);
    private static final Set<String> OPENING = Set.of("if", "while", "until");
    private static final Set<String> PASSED_OVER = Set.of("then", "else", "elif", "do", "!", "time", "{");
    private static final Set<String> CLOSING = Set.of("fi", "done", "esac", "}");
    private static final int DEEPEST = 20;

    private final String text;
    private final int firstLine;
    private final Scope scope;
    private final Consumer<ShellCommand> out;
    private final int depth;

    private int at;
    private int line;
    private int nesting;
    private boolean inCase;
    private boolean patternNext;
    private final Deque<String> hereDocuments = new ArrayDeque<>();

    private int commandAt = -1;
    private int commandLine;
    private Map<String, PipelineValue> assignments = new LinkedHashMap<>();
    private List<PipelineValue> words = new ArrayList<>();

    private ShellReader(String text, int firstLine, Scope scope, Consumer<ShellCommand> out, int depth) {
        this.text = text;
        this.firstLine = firstLine;
        this.scope = scope;
        this.out = out;
        this.depth = depth;
    }

    /**
     * Hands each command to {@code out} as soon as it is read, so that what it sets holds for the next.
     *
     * @param firstLine the line of the file in which the text begins, counted from 1
     */
    static void read(String text, int firstLine, Scope scope, Consumer<ShellCommand> out) {
        new ShellReader(text, firstLine, scope, out, 0).all();
    }

    private void all() {
        line = firstLine;
        while (at < text.length()) {
            char c = text.charAt(at);
            if (c == '\n') {
                end();
                at++;
                line++;
                skipHereDocuments();
            } else if (c == '\\' && at + 1 < text.length() && text.charAt(at + 1) == '\n') {
                at += 2;
                line++;
            } else if (c == ' ' || c == '\t' || c == '\r') {
                at++;
            } else if (c == '#') {
                skipToLineEnd();
            } else if (c == ';' || c == '&' || c == '|') {
                separator(c);
            } else if (c == '(' || c == ')') {
                parenthesis(c);
            } else if (isRedirection()) {
                redirection();
            } else {
                word();
            }
        }
        end();
    }

    private void skipToLineEnd() {
        while (at < text.length() && text.charAt(at) != '\n') {
            at++;
        }
    }

    private void separator(char c) {
        if (c == '&' && at + 1 < text.length() && text.charAt(at + 1) == '>') {
            redirection();
            return;
        }
        if (patternNext && c == '|') {
            at++;
            return;
        }
        end();
        boolean twice = c == ';' && text.startsWith(";;", at);
        if (twice && inCase) {
            patternNext = true;
        }
        while (at < text.length() && text.charAt(at) == c) {
            at++;
        }
    }

    private void parenthesis(char c) {
        boolean defines = c == '(' && words.size() == 1 && text.startsWith("()", at);
        if (defines) {
            scope.define(words.get(0).text());
            words.clear();
            assignments.clear();
            at += 2;
            commandAt = -1;
            return;
        }
        boolean oneLineCase = !words.isEmpty() && words.get(0).text().equals("case");
        if (patternNext || oneLineCase) {
            if (c == ')') {
                nesting += oneLineCase ? 1 : 0;
                inCase = true;
                patternNext = false;
                words.clear();
                commandAt = -1;
            }
        } else {
            end();
        }
        at++;
    }

    private boolean isRedirection() {
        int i = at;
        while (i < text.length() && Character.isDigit(text.charAt(i))) {
            i++;
        }
        return i < text.length() && (text.charAt(i) == '<' || text.charAt(i) == '>') && !text.startsWith("<(", i);
    }

    /** Passes over a redirection and what it leads to. */
    private void redirection() {
        while (at < text.length() && (Character.isDigit(text.charAt(at)) || text.charAt(at) == '&')) {
            at++;
        }
        boolean here = text.startsWith("<<", at) && !text.startsWith("<<<", at);
        while (at < text.length() && "<>&|-".indexOf(text.charAt(at)) >= 0) {
            at++;
        }
        while (at < text.length() && (text.charAt(at) == ' ' || text.charAt(at) == '\t')) {
            at++;
        }
        int from = at;
        PipelineValue target = term();
        if (at == from && at < text.length() && ";&|()\n".indexOf(text.charAt(at)) < 0) {
            at++;
        }
        if (here) {
            hereDocuments.add(target.text());
        }
    }

    private void skipHereDocuments() {
        while (!hereDocuments.isEmpty()) {
            String delimiter = hereDocuments.remove();
            while (at < text.length()) {
                int end = text.indexOf('\n', at);
                String whole = text.substring(at, end < 0 ? text.length() : end);
                at = end < 0 ? text.length() : end + 1;
                line++;
                if (whole.strip().equals(delimiter)) {
                    break;
                }
            }
        }
    }

    private void word() {
        if (words.isEmpty() && assignments.isEmpty()) {
            commandAt = at;
            commandLine = line;
        }
        int from = at;
        PipelineValue term = term();
        if (at == from) {
            // A character that begins no word; passing it keeps the reader going.
            at++;
            return;
        }
        if (words.isEmpty()) {
            if (keyword(term)) {
                commandAt = -1;
                return;
            }
            Matcher assignment = ASSIGNMENT.matcher(term.text());
            if (assignment.matches()
                    && ASSIGNMENT.matcher(text.substring(from, at)).matches()) {
                String value = assignment.group(2);
                assignments.put(
                        assignment.group(1),
                        term.isKnown() ? PipelineValue.of(value) : new PipelineValue(value, term.open()));
                return;
            }
        }
        words.add(term);
    }

    private boolean keyword(PipelineValue term) {
        if (!term.isKnown()) {
            return false;
        }
        String name = term.text();
        if (OPENING.contains(name)) {
            nesting++;
            return true;
        }
        if (CLOSING.contains(name)) {
            nesting = Math.max(0, nesting - 1);
            inCase &= !name.equals("esac");
            patternNext &= inCase;
            return true;
        }
        if (name.equals("{")) {
            nesting++;
        }
        return PASSED_OVER.contains(name);
    }

    /** Ends the command that was being read. */
    private void end() {
        if (patternNext) {
            words.clear();
        }
        if (!words.isEmpty()) {
            String first = words.get(0).text();
            if (first.equals("for") || first.equals("select")) {
                nesting++;
                if (words.size() > 1) {
                    scope.set(words.get(1).text(), variable(words.get(1).text()));
                }
            } else if (first.equals("case")) {
                nesting++;
                inCase = true;
                patternNext = true;
            } else if (first.equals("function") && words.size() > 1) {
                scope.define(words.get(1).text());
            } else {
                emit();
            }
        } else if (!assignments.isEmpty()) {
            emit();
        }
        words = new ArrayList<>();
        assignments = new LinkedHashMap<>();
        commandAt = -1;
    }

    private void emit() {
        String spelled = commandAt < 0
                ? ""
                : text.substring(commandAt, Math.min(at, text.length()))
                        .replaceAll("\\\\?\\s*\\n\\s*", " ")
                        .strip();
        if (words.isEmpty()) {
            // What a branch or loop sets is not sure to be set.
            assignments.forEach((name, value) -> scope.set(name, nesting > 0 ? variable(name) : value));
        }
        out.accept(new ShellCommand(commandLine, spelled, assignments, words));
    }

    private PipelineValue variable(String name) {
        return scope.unset("$" + name, name);
    }

    /** Reads one word, its quotes taken off and its variables put in. */
    private PipelineValue term() {
        PipelineValueBuilder whole = new PipelineValueBuilder();
        while (at < text.length()) {
            char c = text.charAt(at);
            if (" \t\r\n;&|()<>".indexOf(c) >= 0) {
                break;
            }
            if (c == '\\') {
                if (at + 1 < text.length() && text.charAt(at + 1) == '\n') {
                    at += 2;
                    line++;
                    continue;
                }
                whole.add(at + 1 < text.length() ? text.substring(at + 1, at + 2) : "");
                at = Math.min(text.length(), at + 2);
            } else if (c == '\'') {
                int close = text.indexOf('\'', at + 1);
                int end = close < 0 ? text.length() : close;
                String inside = text.substring(at + 1, end);
                countLines(inside);
                whole.add(scope.expand(inside));
                at = Math.min(text.length(), end + 1);
            } else if (c == '"') {
                at++;
                quoted(whole);
            } else if (c == '$' || c == '`') {
                whole.add(expansion());
            } else {
                int end = text.offsetByCodePoints(at, 1);
                whole.add(text.substring(at, end));
                at = end;
            }
        }
        return whole.term();
    }

    private void quoted(PipelineValueBuilder whole) {
        while (at < text.length() && text.charAt(at) != '"') {
            char c = text.charAt(at);
            if (c == '\\' && at + 1 < text.length()) {
                char next = text.charAt(at + 1);
                if (next != '\n') {
                    whole.add("\"\\$`".indexOf(next) >= 0 ? "" + next : "\\" + next);
                } else {
                    line++;
                }
                at += 2;
            } else if (c == '$' || c == '`') {
                whole.add(expansion());
            } else {
                line += c == '\n' ? 1 : 0;
                whole.add(String.valueOf(c));
                at++;
            }
        }
        at = Math.min(text.length(), at + 1);
    }

    /** Reads what begins with a dollar sign or a backquote. */
    private PipelineValue expansion() {
        if (text.startsWith("${{", at)) {
            int close = text.indexOf("}}", at);
            int end = close < 0 ? text.length() : close;
            String inside = text.substring(Math.min(at + 3, end), end);
            at = Math.min(text.length(), end + 2);
            return scope.expression(inside);
        }
        if (text.startsWith("$((", at)) {
            String inside = balanced(at + 1);
            return PipelineValue.open("$(" + inside + ")", "$(" + inside + ")");
        }
        if (text.startsWith("$(", at)) {
            return substituted(balanced(at + 1));
        }
        if (text.charAt(at) == '`') {
            int close = text.indexOf('`', at + 1);
            int end = close < 0 ? text.length() : close;
            String inside = text.substring(at + 1, end);
            at = Math.min(text.length(), end + 1);
            return substituted(inside);
        }
        if (text.startsWith("${", at)) {
            int close = text.indexOf('}', at);
            int end = close < 0 ? text.length() : close;
            String inside = text.substring(at + 2, end);
            at = Math.min(text.length(), end + 1);
            return parameter(inside);
        }
        int end = at + 1;
        while (end < text.length() && (Character.isLetterOrDigit(text.charAt(end)) || text.charAt(end) == '_')) {
            end++;
        }
        String name = text.substring(at + 1, end);
        at = Math.max(end, at + 1);
        if (name.isEmpty()) {
            boolean special = at < text.length() && "?#@*!$-".indexOf(text.charAt(at)) >= 0;
            String spelled = "$" + (special ? text.substring(at, ++at) : "");
            return special ? PipelineValue.open(spelled, spelled) : PipelineValue.of(spelled);
        }
        return scope.variable(name).orElseGet(() -> variable(name));
    }

    private PipelineValue parameter(String inside) {
        Matcher matcher = PARAMETER.matcher(inside);
        if (!matcher.matches()) {
            return PipelineValue.open("${" + inside + "}", inside);
        }
        String fallback = matcher.group(3);
        return scope.variable(matcher.group(1))
                .orElseGet(() -> fallback == null || fallback.indexOf('$') >= 0
                        ? variable(matcher.group(1))
                        : PipelineValue.of(fallback.replaceAll("^([\"'])(.*)\\1$", "$2")));
    }

    /** The commands inside are commands of the script too; what they print is not known. */
    private PipelineValue substituted(String inside) {
        if (depth < DEEPEST) {
            int before = (int) inside.chars().filter(c -> c == '\n').count();
            new ShellReader(inside, Math.max(1, line - before), scope.inner(), out, depth + 1).all();
        }
        String spelled = "$(" + inside.replaceAll("\\s+", " ").strip() + ")";
        return PipelineValue.open(spelled, spelled);
    }

    /** Returns what stands between the parenthesis at {@code open} and its partner, and goes on behind that. */
    private String balanced(int open) {
        int level = 0;
        char quote = 0;
        int i = open;
        for (; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quote != 0) {
                i += c == '\\' && quote == '"' ? 1 : 0;
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else if (c == '(') {
                level++;
            } else if (c == ')' && --level == 0) {
                break;
            }
        }
        int end = Math.min(i, text.length());
        String inside = text.substring(Math.min(open + 1, end), end);
        countLines(inside);
        at = Math.min(text.length(), end + 1);
        return inside;
    }

    private void countLines(String passed) {
        line += (int) passed.chars().filter(c -> c == '\n').count();
    }
}
