package warden.report;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import warden.core.audit.Severity;
import warden.core.document.DisplayText;
import warden.core.secret.SecretFinder;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.SurveyHeader;

/** Lays text out in lines. */
final class Lines {
    private static final int MOST_UNREAD = 5;

    private Lines() {}

    /**
     * Returns a sentence for people, secrets masked before it is shortened and before a format spells it in its own way: a piece of one, or one
     * between signs of escape, would not be known any more.
     */
    static String brief(String text) {
        return DisplayText.brief(SecretFinder.masked(text));
    }

    /**
     * Breaks {@code text} at spaces; a word that is longer than a line is broken where the line ends.
     *
     * @param indent put before each line but the first, which the caller has begun at that column
     * @param style says how wide a line may be
     */
    static String wrapped(String text, String indent, Style style) {
        int room = style.width() - indent.length();
        List<String> lines = new ArrayList<>();
        StringBuilder line = new StringBuilder();
        for (String word : text.split(" ")) {
            String rest = word;
            if (!line.isEmpty() && line.length() + 1 + columns(rest) > room) {
                lines.add(line.toString());
                line.setLength(0);
            }
            while (columns(rest) > room) {
                int cut = rest.offsetByCodePoints(0, room);
                lines.add(rest.substring(0, cut));
                rest = rest.substring(cut);
            }
            line.append(line.isEmpty() ? "" : " ").append(rest);
        }
        lines.add(line.toString());
        lines.replaceAll(Lines::uncommanding);
        return String.join("\n" + indent, lines);
    }

    /** Makes a line that begins like a command for a build server, which reads the log that the text ends in, one that does not. */
    private static String uncommanding(String line) {
        return line.startsWith("::") && line.indexOf("::", 2) > 0 ? "\uFFFD" + line.substring(1) : line;
    }

    /** Returns {@code text} with spaces behind it up to {@code width}; shortened in the middle when it is longer. */
    static String column(String text, int width) {
        int length = columns(text);
        if (length > width) {
            int keep = width - 1;
            int head = keep / 2;
            int tail = keep - head;
            return text.substring(0, text.offsetByCodePoints(0, head)) + "…"
                    + text.substring(text.offsetByCodePoints(text.length(), -tail));
        }
        return text + " ".repeat(width - length);
    }

    /** Spells where a fact stands: file, line, aspect and place. */
    static String cite(Citation citation) {
        return citation.from().isPresent()
                ? citeInside(citation)
                : DisplayText.name(citation.file()) + citeInside(citation);
    }

    /** Spells where a fact stands in the survey that was named already: line, aspect and place. */
    static String citeInside(Citation citation) {
        String path = citation.path().isEmpty() ? "" : " " + DisplayText.name(citation.path());
        // Of what a description says, a person wants to see the description.
        String at = citation.from()
                .map(from -> DisplayText.name(from.file()) + ":" + from.line()
                        + (from.address().isEmpty() ? "" : " " + DisplayText.name(from.address())))
                .orElse(":" + citation.line());
        return at + " " + citation.aspect() + path;
    }

    /** Names an account, and when and how long ago it was surveyed where the survey says so. */
    static String account(SurveyHeader header, Instant at) {
        String taken = header.takenAt().isEmpty() ? "" : ", surveyed " + DisplayText.name(header.takenAt());
        String age = Age.of(header, at).map(each -> ", " + each.spelled()).orElse("");
        return "account " + DisplayText.name(header.account()) + taken + age;
    }

    /** Spells a number of things: {@code 1 site}, {@code 2 sites}. */
    static String count(long number, String noun) {
        return number + " " + noun + (number == 1 ? "" : "s");
    }

    /** Spells how many there are of each severity, the worst first; empty where there are none. */
    static String counts(Map<Severity, Long> counts) {
        return counts.entrySet().stream()
                .filter(each -> each.getValue() > 0)
                .map(each -> each.getValue() + " " + each.getKey().word())
                .collect(Collectors.joining(", "));
    }

    /** Spells what is not known, and which permission would settle it. */
    static String need(Need need) {
        String permission = need.permission().isEmpty() ? "" : "; " + need.permission() + " would settle it";
        return need.aspect() + " of " + DisplayText.name(need.of()) + ": " + brief(need.why()) + permission;
    }

    /** Returns a line for each of the users and roles that were not read, of many the first; nothing where all were. */
    static String unreadPrincipals(List<Need> unread, Style style) {
        StringBuilder lines = new StringBuilder();
        unread.stream().limit(MOST_UNREAD).forEach(need -> lines.append("unknown   ")
                .append(wrapped(need(need), " ".repeat(10), style))
                .append('\n'));
        if (unread.size() > MOST_UNREAD) {
            lines.append("unknown   ").append(unread.size() - MOST_UNREAD).append(" more users and roles\n");
        }
        return lines.toString();
    }

    private static int columns(String text) {
        return text.codePointCount(0, text.length());
    }
}
