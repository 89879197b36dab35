package warden.core.secret;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The gate through which whatever the program says goes out: what looks like a secret is masked, and so are values that are known to serve as
 * one, however the output's format spells them: escaped for JSON, XML or Markdown, as a part of an address, broken over lines, cut short.
 */
public final class OutputGate {
    private static final int SHORTEST = 4;
    /** A longer value is recognised by this many of its characters. Source: CloudFront quotas, a custom header's value. */
    private static final int LONGEST = 1_783;
    /** No text is cut off behind so many characters of a value. */
    private static final int LONGEST_CUT = 200;

    private final Map<String, List<Guarded>> byAnchor = new HashMap<>();
    /** Values of signs without two letters or digits on end: there is nothing in them to look for first. */
    private final List<Pattern> loose = new ArrayList<>();

    /**
     * A value that is not to be said.
     *
     * @param anchor letters and digits of it that every format spells alike
     * @param before how many characters stand before the anchor
     */
    private record Guarded(String anchor, int before, Pattern pattern) {}

    /** Makes a gate that also keeps back these values; those of fewer than four characters are no secrets. */
    public OutputGate(Collection<String> values) {
        for (String value : new TreeSet<>(values)) {
            String anchor = anchor(value);
            if (value.length() >= SHORTEST && anchor.length() < 2) {
                loose.add(pattern(value));
            } else if (value.length() >= SHORTEST) {
                Guarded guarded = new Guarded(anchor, value.indexOf(anchor), pattern(value));
                byAnchor.computeIfAbsent(key(anchor, 0), key -> new ArrayList<>())
                        .add(guarded);
            }
        }
        byAnchor.values()
                .forEach(list -> list.sort(Comparator.comparingInt(
                                (Guarded guarded) -> guarded.pattern().pattern().length())
                        .reversed()));
    }

    /** Returns a gate that knows secrets by their form only. */
    public static OutputGate byForm() {
        return new OutputGate(List.of());
    }

    /** Returns the longest run of letters and digits, the first of several. */
    private static String anchor(String value) {
        String best = "";
        Matcher runs = Pattern.compile("[A-Za-z0-9]+").matcher(value);
        while (runs.find()) {
            best = runs.group().length() > best.length() ? runs.group() : best;
        }
        return best.substring(0, Math.min(SHORTEST, best.length()));
    }

    private static String key(String text, int at) {
        return text.substring(at, at + 2);
    }

    /** Each character as formats spell it; the end may be cut off, with an ellipsis in its place. */
    private static Pattern pattern(String value) {
        int[] points = value.codePoints().limit(LONGEST).toArray();
        StringBuilder whole = new StringBuilder();
        StringBuilder cut = new StringBuilder();
        for (int i = 0; i < points.length; i++) {
            String spelled = spelled(points[i]);
            String next = i == 0 ? spelled : BREAK + spelled;
            whole.append(next);
            if (i < LONGEST_CUT) {
                cut.append(i < SHORTEST ? next : "(?:" + next);
            }
        }
        cut.append(")?".repeat(Math.max(0, Math.min(points.length, LONGEST_CUT) - SHORTEST)))
                .append("(?:\u2026(?:\\S|\\n[ \\t]{1,60}){0,90}" + end(value) + "|(?=\u2026|\\.\\.\\.))");
        String edgeBefore = Character.isLetterOrDigit(points[0]) ? "(?<![A-Za-z0-9])" : "";
        String edgeAfter = Character.isLetterOrDigit(points[points.length - 1]) && value.length() <= LONGEST
                ? "(?![A-Za-z0-9])"
                : "";
        return Pattern.compile(edgeBefore + "(?:" + whole + edgeAfter + "|" + cut + ")");
    }

    /** Of a long word that is shortened in its middle the end stands behind the ellipsis. */
    private static String end(String value) {
        int[] points = value.codePoints().toArray();
        StringBuilder end = new StringBuilder();
        for (int i = Math.max(0, points.length - SHORTEST); i < points.length; i++) {
            end.append(BREAK).append(spelled(points[i]));
        }
        return end.toString();
    }

    /** Text for people is broken where a line is full. */
    private static final String BREAK = "(?:\\n[ \\t]{0,60})?";

    private static String spelled(int point) {
        if (Character.isLetterOrDigit(point) && point < 128) {
            return Character.toString(point);
        }
        if (Character.isWhitespace(point)) {
            return "(?:\\s+|%20|\\+|\\\\[nrt])";
        }
        String entity =
                switch (point) {
                    case '"' -> "&quot;|&#34;|";
                    case '\'' -> "&#39;|&apos;|";
                    case '&' -> "&amp;|";
                    case '<' -> "&lt;|";
                    case '>' -> "&gt;|";
                    default -> "";
                };
        StringBuilder percent = new StringBuilder();
        for (byte each : Character.toString(point).getBytes(StandardCharsets.UTF_8)) {
            percent.append(String.format("%%%02X", each));
        }
        return "(?:" + entity + "(?i:" + percent + ")|\\\\{0,4}" + Pattern.quote(Character.toString(point)) + "|\\\\u"
                + String.format("(?i:%04x)", point & 0xFFFF) + ")";
    }

    /** Returns what may be said of a text. */
    public String masked(String text) {
        String masked = guarded(text);
        for (Pattern pattern : loose) {
            masked = pattern.matcher(masked).replaceAll(Matcher.quoteReplacement(SecretFinder.MASK));
        }
        return SecretFinder.masked(masked);
    }

    private String guarded(String text) {
        if (byAnchor.isEmpty()) {
            return text;
        }
        StringBuilder out = new StringBuilder(text.length());
        int copied = 0;
        for (int at = 0; at + 2 <= text.length(); at++) {
            List<Guarded> candidates = byAnchor.get(key(text, at));
            if (candidates == null) {
                continue;
            }
            int end = maskedTo(text, at, copied, candidates, out);
            if (end > copied) {
                copied = end;
                at = end - 1;
            }
        }
        return copied == 0 ? text : out.append(text, copied, text.length()).toString();
    }

    /** Masks a guarded value of which the anchor stands at a place; returns where it ends, or {@code copied} where there is none. */
    private static int maskedTo(String text, int at, int copied, List<Guarded> candidates, StringBuilder out) {
        for (Guarded guarded : candidates) {
            if (!text.startsWith(guarded.anchor(), at)) {
                continue;
            }
            Matcher matcher = guarded.pattern().matcher(text);
            // No format spells a character with more than a dozen.
            matcher.region(Math.max(copied, at - 12 * guarded.before() - 120), text.length());
            matcher.useTransparentBounds(true);
            while (matcher.find() && matcher.start() <= at) {
                if (matcher.end() > at) {
                    out.append(text, copied, matcher.start()).append(SecretFinder.MASK);
                    return matcher.end();
                }
            }
        }
        return copied;
    }
}
