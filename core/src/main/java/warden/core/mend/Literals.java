package warden.core.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Changes a literal in the text of a description, whatever its language: a line that has a name, a sign and a value. Where there is any doubt
 * which one is meant, nothing is changed; whether it was the right one is told by reading the description again.
 */
final class Literals {
    private static final Pattern LINE =
            Pattern.compile("(?<before>\\s*(?:-\\s+)?[\"']?(?<name>[A-Za-z_][A-Za-z0-9_]*)[\"']?\\s*[:=]\\s*)"
                    + "(?<value>\"[^\"]*\"|'[^']*'|[^\\s\"',#]+)(?<after>\\s*,?\\s*(?:#.*)?)");
    /** Values that read the same whether quoted or not, in each of the languages. */
    private static final Pattern PLAIN = Pattern.compile("[A-Za-z0-9_][A-Za-z0-9_.:/*-]*");

    private Literals() {}

    /**
     * Changes the value of a name near a line: in what stands indented below it, or else in what stands around that.
     *
     * @param line counted from 1
     * @return absent where no value is there that is a literal, or there are several
     */
    static Optional<String> changed(String text, int line, Difference difference) {
        List<String> lines = new ArrayList<>(List.of(text.split("\n", -1)));
        if (line < 1
                || line > lines.size()
                || !PLAIN.matcher(difference.after()).matches()) {
            return Optional.empty();
        }
        int begin = line - 1;
        while (begin >= 0) {
            int end = endOf(lines, begin);
            List<Integer> places = places(lines, begin, end, difference);
            if (places.size() == 1) {
                int place = places.get(0);
                lines.set(place, with(lines.get(place), difference.after()));
                return Optional.of(String.join("\n", lines));
            }
            if (!places.isEmpty()) {
                return Optional.empty();
            }
            begin = around(lines, begin);
        }
        return Optional.empty();
    }

    private static int indent(String line) {
        int at = 0;
        while (at < line.length() && (line.charAt(at) == ' ' || line.charAt(at) == '\t')) {
            at++;
        }
        return at;
    }

    /** Returns the line behind what stands indented below a line. */
    private static int endOf(List<String> lines, int begin) {
        int own = indent(lines.get(begin));
        int end = begin + 1;
        while (end < lines.size() && (lines.get(end).isBlank() || indent(lines.get(end)) > own)) {
            end++;
        }
        return end;
    }

    /** Returns the line under which a line stands; less than none where that is the whole. */
    private static int around(List<String> lines, int line) {
        int own = indent(lines.get(line));
        int at = line - 1;
        // What a whole description has in common is not one resource's.
        while (at >= 0 && (lines.get(at).isBlank() || indent(lines.get(at)) >= own)) {
            at--;
        }
        return at >= 0 && indent(lines.get(at)) > 0 ? at : -1;
    }

    private static List<Integer> places(List<String> lines, int begin, int end, Difference difference) {
        List<Integer> places = new ArrayList<>();
        for (int i = begin; i < end; i++) {
            Matcher matcher = LINE.matcher(lines.get(i));
            if (matcher.matches()
                    && plain(matcher.group("name")).equals(plain(difference.member()))
                    && unquoted(matcher.group("value")).equals(difference.before())) {
                places.add(i);
            }
        }
        return places;
    }

    /** Names are spelled by each language in its own way. */
    private static String plain(String name) {
        return name.replace("_", "").toLowerCase(Locale.ROOT);
    }

    private static String unquoted(String value) {
        boolean isQuoted = value.length() > 1 && (value.startsWith("\"") || value.startsWith("'"));
        return isQuoted ? value.substring(1, value.length() - 1) : value;
    }

    private static String with(String line, String value) {
        Matcher matcher = LINE.matcher(line);
        if (!matcher.matches()) {
            throw new IllegalArgumentException("no literal in " + line);
        }
        String old = matcher.group("value");
        String quote = old.startsWith("\"") || old.startsWith("'") ? old.substring(0, 1) : "";
        return matcher.group("before") + quote + value + quote + matcher.group("after");
    }
}
