package warden.gather.aws.template;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import warden.gather.aws.template.Hcl.Attr;
import warden.gather.aws.template.Hcl.Attribute;
import warden.gather.aws.template.Hcl.Binary;
import warden.gather.aws.template.Hcl.Block;
import warden.gather.aws.template.Hcl.Body;
import warden.gather.aws.template.Hcl.Call;
import warden.gather.aws.template.Hcl.Choice;
import warden.gather.aws.template.Hcl.Expression;
import warden.gather.aws.template.Hcl.For;
import warden.gather.aws.template.Hcl.Index;
import warden.gather.aws.template.Hcl.Items;
import warden.gather.aws.template.Hcl.Literal;
import warden.gather.aws.template.Hcl.Member;
import warden.gather.aws.template.Hcl.Members;
import warden.gather.aws.template.Hcl.Name;
import warden.gather.aws.template.Hcl.Splat;
import warden.gather.aws.template.Hcl.Template;
import warden.gather.aws.template.Hcl.Unary;

/**
 * Reads a source in the tool's language. The parser library for it works expressions out while it reads them, and makes nothing of what it cannot
 * know; here what is not known has to be told apart. Source: the language's native syntax specification.
 */
final class HclReader {
    private static final int DEEPEST = 120;
    private static final int LONGEST_CHAIN = 500;
    private static final List<List<String>> OPERATORS = List.of(
            List.of("||"),
            List.of("&&"),
            List.of("==", "!="),
            List.of("<=", ">=", "<", ">"),
            List.of("+", "-"),
            List.of("*", "/", "%"));

    private final String file;
    private final String text;
    private int at;
    private int depth;
    private int counted;
    private int lines = 1;
    /** Within brackets a line's end ends nothing. */
    private int brackets;

    private HclReader(String file, String text) {
        this.file = file;
        this.text = text;
    }

    /**
     * Reads a file.
     *
     * @throws TemplateException with file, line and column where it breaks off
     */
    static Body read(String file, String text) throws TemplateException {
        HclReader reader = new HclReader(file, text.startsWith("\uFEFF") ? text.substring(1) : text);
        return reader.whole(() -> {
            Body body = reader.body(false);
            if (reader.at < reader.text.length()) {
                throw reader.wrong("a } stands here that closes nothing");
            }
            return body;
        });
    }

    private <T> T whole(Supplier<T> work) throws TemplateException {
        try {
            return work.get();
        } catch (Broken broken) {
            int line = 1;
            int column = 1;
            for (int i = 0; i < Math.min(broken.at, text.length()); i++) {
                boolean ends = text.charAt(i) == '\n';
                line += ends ? 1 : 0;
                column = ends ? 1 : column + 1;
            }
            throw new TemplateException(file, line, column, broken.getMessage() + "; mend the source");
        }
    }

    /** Where the text breaks off. */
    private static final class Broken extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final int at;

        Broken(int at, String says) {
            super(says, null, false, false);
            this.at = at;
        }
    }

    private Broken wrong(String says) {
        return new Broken(at, says);
    }

    /** Counts on from where it was asked last: a file is gone through once. */
    private int line() {
        if (counted > at) {
            counted = 0;
            lines = 1;
        }
        for (; counted < at && counted < text.length(); counted++) {
            lines += text.charAt(counted) == '\n' ? 1 : 0;
        }
        return lines;
    }

    // --- signs

    private boolean looksAt(String sign) {
        return text.startsWith(sign, at);
    }

    private char here() {
        return at < text.length() ? text.charAt(at) : '\0';
    }

    /** Passes over blanks and comments; line ends too where they end nothing. */
    private void space(boolean lines) {
        while (at < text.length()) {
            char c = here();
            if (c == ' ' || c == '\t' || c == '\r' || (c == '\n' && (lines || brackets > 0))) {
                at++;
            } else if (c == '#' || looksAt("//")) {
                while (at < text.length() && here() != '\n') {
                    at++;
                }
            } else if (looksAt("/*")) {
                int end = text.indexOf("*/", at + 2);
                if (end < 0) {
                    throw wrong("a comment is not closed");
                }
                at = end + 2;
            } else {
                return;
            }
        }
    }

    private boolean take(String sign) {
        space(false);
        if (looksAt(sign)) {
            at += sign.length();
            return true;
        }
        return false;
    }

    private void demand(String sign) {
        if (!take(sign)) {
            throw wrong("a " + sign + " is missing here");
        }
    }

    private static boolean begins(char c) {
        return Character.isLetter(c) || c == '_';
    }

    private String identifier() {
        space(false);
        int from = at;
        while (at < text.length() && (begins(here()) || Character.isDigit(here()) || (here() == '-' && at > from))) {
            at++;
        }
        if (at == from || !begins(text.charAt(from))) {
            throw wrong("a name is missing here");
        }
        return text.substring(from, at);
    }

    // --- structure

    private Body body(boolean closes) {
        Body body = new Body();
        while (true) {
            space(true);
            if (at >= text.length() || here() == '}') {
                if (closes && here() != '}') {
                    throw wrong("a } is missing at the end");
                }
                return body;
            }
            int line = line();
            String name = identifier();
            space(false);
            if (here() == '=' && !looksAt("==")) {
                at++;
                Attribute attribute = new Attribute(expression(), line);
                if (body.attributes().putIfAbsent(name, attribute) != null) {
                    throw wrong("the attribute " + name + " is set a second time");
                }
            } else {
                block(body, name, line);
            }
        }
    }

    private void block(Body body, String type, int line) {
        List<String> labels = new ArrayList<>();
        while (true) {
            space(false);
            if (here() == '"') {
                Expression label = quoted();
                labels.add(label instanceof Literal literal ? String.valueOf(literal.value()) : "");
            } else if (begins(here())) {
                labels.add(identifier());
            } else {
                break;
            }
        }
        demand("{");
        if (++depth > DEEPEST) {
            throw wrong("it is nested too deep");
        }
        int kept = brackets;
        brackets = 0;
        Body inside = body(true);
        brackets = kept;
        depth--;
        demand("}");
        body.blocks().add(new Block(type, labels, inside, file, line));
    }

    // --- expressions

    private Expression expression() {
        if (++depth > DEEPEST) {
            throw wrong("it is nested too deep");
        }
        Expression first = binary(0);
        if (take("?")) {
            Expression yes = expression();
            space(true);
            demand(":");
            first = new Choice(first, yes, expression());
        }
        depth--;
        return first;
    }

    private Expression binary(int level) {
        if (level == OPERATORS.size()) {
            return unary();
        }
        Expression left = binary(level + 1);
        for (int steps = 0; ; steps++) {
            demandShort(steps);
            space(false);
            String operator = null;
            for (String each : OPERATORS.get(level)) {
                if (looksAt(each)) {
                    operator = each;
                    break;
                }
            }
            if (operator == null) {
                return left;
            }
            at += operator.length();
            space(true);
            left = new Binary(operator, left, binary(level + 1));
        }
    }

    private Expression unary() {
        space(false);
        boolean isNot = here() == '!' && !looksAt("!=");
        if (!isNot && here() != '-') {
            return traversal(primary());
        }
        if (++depth > DEEPEST) {
            throw wrong("it is nested too deep");
        }
        at++;
        Expression whole = new Unary(isNot ? "!" : "-", unary());
        depth--;
        return whole;
    }

    /** What is worked out from left to right is nested as deep as it is long. */
    private void demandShort(int steps) {
        if (steps > LONGEST_CHAIN) {
            throw wrong("it has more than " + LONGEST_CHAIN + " steps");
        }
    }

    private Expression traversal(Expression start) {
        Expression of = start;
        for (int steps = 0; ; steps++) {
            demandShort(steps);
            if (here() == '.' && at + 1 < text.length()) {
                char next = text.charAt(at + 1);
                if (next == '*') {
                    at += 2;
                    return new Splat(of, steps());
                }
                if (Character.isDigit(next)) {
                    at++;
                    int from = at;
                    while (Character.isDigit(here())) {
                        at++;
                    }
                    of = new Index(of, new Literal(number(text.substring(from, at))));
                    continue;
                }
                at++;
                of = new Attr(of, identifier());
            } else if (here() == '[') {
                at++;
                brackets++;
                space(true);
                if (here() == '*') {
                    at++;
                    demand("]");
                    brackets--;
                    return new Splat(of, steps());
                }
                Expression index = expression();
                demand("]");
                brackets--;
                of = new Index(of, index);
            } else {
                return of;
            }
        }
    }

    private List<Object> steps() {
        List<Object> steps = new ArrayList<>();
        while (true) {
            if (here() == '.' && at + 1 < text.length() && begins(text.charAt(at + 1))) {
                at++;
                steps.add(identifier());
            } else if (here() == '[') {
                at++;
                brackets++;
                steps.add(expression());
                demand("]");
                brackets--;
            } else {
                return steps;
            }
        }
    }

    private Expression primary() {
        space(false);
        char c = here();
        if (c == '"') {
            return quoted();
        }
        if (looksAt("<<")) {
            return heredoc();
        }
        if (Character.isDigit(c)) {
            return number();
        }
        if (c == '(') {
            at++;
            brackets++;
            Expression inside = expression();
            demand(")");
            brackets--;
            return inside;
        }
        if (c == '[') {
            return items();
        }
        if (c == '{') {
            return members();
        }
        if (!begins(c)) {
            throw wrong("an expression is missing here");
        }
        String name = identifier();
        // A provider's own function: provider::aws::arn_parse(…).
        while (looksAt("::")) {
            at += 2;
            name = name + "::" + identifier();
        }
        if (here() == '(') {
            return call(name);
        }
        return switch (name) {
            case "true" -> new Literal(true);
            case "false" -> new Literal(false);
            case "null" -> new Literal(null);
            default -> new Name(name);
        };
    }

    private Expression number() {
        int from = at;
        while (Character.isDigit(here())
                || (here() == '.' && at + 1 < text.length() && Character.isDigit(text.charAt(at + 1)))) {
            at++;
        }
        if (here() == 'e' || here() == 'E') {
            int power = at + 1 + (looksAt("e-") || looksAt("E-") || looksAt("e+") || looksAt("E+") ? 1 : 0);
            if (power < text.length() && Character.isDigit(text.charAt(power))) {
                at = power;
                while (Character.isDigit(here())) {
                    at++;
                }
            }
        }
        return new Literal(number(text.substring(from, at)));
    }

    private Object number(String digits) {
        try {
            return HclNumbers.normal(new BigDecimal(digits));
        } catch (NumberFormatException unfit) {
            throw wrong("this is no number");
        }
    }

    private Expression call(String name) {
        at++;
        brackets++;
        List<Expression> arguments = new ArrayList<>();
        boolean spreads = false;
        space(true);
        while (here() != ')') {
            arguments.add(expression());
            spreads = take("...");
            if (!take(",")) {
                space(true);
                break;
            }
            space(true);
        }
        demand(")");
        brackets--;
        return new Call(name, arguments, spreads);
    }

    private Expression items() {
        at++;
        brackets++;
        space(true);
        if (isFor()) {
            Expression made = made("]", false);
            brackets--;
            return made;
        }
        List<Expression> items = new ArrayList<>();
        while (here() != ']') {
            items.add(expression());
            if (!take(",")) {
                break;
            }
            space(true);
        }
        demand("]");
        brackets--;
        return new Items(items);
    }

    private boolean isFor() {
        return looksAt("for") && at + 3 < text.length() && Character.isWhitespace(text.charAt(at + 3));
    }

    private Expression made(String close, boolean isObject) {
        at += 3;
        String first = identifier();
        String second = take(",") ? identifier() : null;
        space(true);
        if (!identifier().equals("in")) {
            throw wrong("the word in is missing here");
        }
        Expression of = expression();
        demand(":");
        space(true);
        Expression result = expression();
        @Nullable Expression name = null;
        if (isObject) {
            demand("=>");
            name = result;
            result = expression();
        }
        boolean groups = take("...");
        space(true);
        @Nullable Expression only = null;
        if (looksAt("if") && !Character.isLetterOrDigit(at + 2 < text.length() ? text.charAt(at + 2) : ' ')) {
            at += 2;
            only = expression();
        }
        space(true);
        demand(close);
        return new For(second == null ? null : first, second == null ? first : second, of, name, result, only, groups);
    }

    private Expression members() {
        at++;
        int kept = brackets;
        brackets++;
        space(true);
        if (isFor()) {
            Expression made = made("}", true);
            brackets = kept;
            return made;
        }
        List<Member> members = new ArrayList<>();
        while (true) {
            space(true);
            if (here() == '}') {
                break;
            }
            Expression name;
            if (begins(here())) {
                int from = at;
                String word = identifier();
                space(false);
                boolean isPlain = here() == '=' && !looksAt("==") || here() == ':';
                if (isPlain) {
                    name = new Literal(word);
                } else {
                    at = from;
                    name = expression();
                }
            } else {
                name = expression();
            }
            if (!take("=")) {
                demand(":");
            }
            // A member ends with its line, unless a bracket is open in it.
            brackets = 0;
            space(true);
            Expression value = expression();
            brackets = kept + 1;
            members.add(new Member(name, value));
            take(",");
        }
        demand("}");
        brackets = kept;
        return new Members(members);
    }

    // --- texts

    private Expression quoted() {
        at++;
        List<Object> parts = new ArrayList<>();
        StringBuilder plain = new StringBuilder();
        while (true) {
            if (at >= text.length() || here() == '\n') {
                throw wrong("a text is not closed");
            }
            char c = here();
            if (c == '"') {
                at++;
                return template(parts, plain);
            }
            if (c == '\\') {
                escape(plain);
            } else if (!interpolated(parts, plain)) {
                plain.append(c);
                at++;
            }
        }
    }

    private void escape(StringBuilder plain) {
        char next = at + 1 < text.length() ? text.charAt(at + 1) : ' ';
        at += 2;
        switch (next) {
            case 'n' -> plain.append('\n');
            case 'r' -> plain.append('\r');
            case 't' -> plain.append('\t');
            case 'u', 'U' -> {
                int length = next == 'u' ? 4 : 8;
                String digits = text.substring(at, Math.min(text.length(), at + length));
                if (!digits.matches("[0-9A-Fa-f]{" + length + "}")) {
                    throw wrong("an escaped character has no number");
                }
                long character = Long.parseLong(digits, 16);
                if (character > Character.MAX_CODE_POINT) {
                    throw wrong("there is no character of this number");
                }
                plain.appendCodePoint((int) character);
                at += length;
            }
            default -> plain.append(next);
        }
    }

    /** Reads an expression within a text; false where none stands here. */
    private boolean interpolated(List<Object> parts, StringBuilder plain) {
        if (looksAt("$${") || looksAt("%%{")) {
            plain.append(text, at + 1, at + 3);
            at += 3;
            return true;
        }
        if (looksAt("%{")) {
            int end = text.indexOf('}', at);
            at = end < 0 ? text.length() : end + 1;
            parts.add(plain.toString());
            plain.setLength(0);
            parts.add(new Call("directive", List.of(), false));
            return true;
        }
        if (!looksAt("${")) {
            return false;
        }
        at += 2;
        if (here() == '~') {
            at++;
        }
        brackets++;
        parts.add(plain.toString());
        plain.setLength(0);
        parts.add(expression());
        space(true);
        if (here() == '~') {
            at++;
        }
        demand("}");
        brackets--;
        return true;
    }

    private static Expression template(List<Object> parts, StringBuilder plain) {
        if (parts.isEmpty()) {
            return new Literal(plain.toString());
        }
        parts.add(plain.toString());
        return new Template(parts);
    }

    private Expression heredoc() {
        at += 2;
        boolean strips = here() == '-';
        if (strips) {
            at++;
        }
        int end = text.indexOf('\n', at);
        if (end < 0) {
            throw wrong("a text is not closed");
        }
        String mark = text.substring(at, end).strip();
        at = end + 1;
        int from = at;
        int stop = -1;
        while (at < text.length()) {
            int next = text.indexOf('\n', at);
            int lineEnd = next < 0 ? text.length() : next;
            if (text.substring(at, lineEnd).strip().equals(mark)) {
                stop = at;
                at = lineEnd;
                break;
            }
            at = lineEnd + 1;
        }
        if (stop < 0) {
            at = from;
            throw wrong("the text up to " + mark + " is not closed");
        }
        String whole = text.substring(from, stop);
        String plain = strips ? stripped(whole) : whole;
        return within(file, plain);
    }

    private static String stripped(String whole) {
        int least = whole.lines()
                .filter(each -> !each.isBlank())
                .mapToInt(each -> each.length() - each.stripLeading().length())
                .min()
                .orElse(0);
        StringBuilder out = new StringBuilder();
        whole.lines().forEach(each -> out.append(each.length() >= least ? each.substring(least) : "")
                .append('\n'));
        return out.toString();
    }

    /**
     * Reads a text in which expressions stand between {@code ${} and a brace.
     *
     * @throws TemplateException with file, line and column where it breaks off
     */
    static Expression template(String file, String whole) throws TemplateException {
        HclReader reader = new HclReader(file, whole);
        return reader.whole(reader::template);
    }

    private static Expression within(String file, String whole) {
        return new HclReader(file, whole).template();
    }

    private Expression template() {
        List<Object> parts = new ArrayList<>();
        StringBuilder plain = new StringBuilder();
        while (at < text.length()) {
            if (!interpolated(parts, plain)) {
                plain.append(here());
                at++;
            }
        }
        return template(parts, plain);
    }

    /** Returns the attributes of a file of values. */
    static Map<String, Attribute> values(String file, String text) throws TemplateException {
        return read(file, text).attributes();
    }
}
