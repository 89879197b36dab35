package warden.report;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;

/** The catalogue of checks as text and as Markdown. */
public final class CatalogueText {
    private static final int SEVERITY = 9;

    private CatalogueText() {}

    /** Returns all checks, a line or two each, by area. */
    public static String list(List<CheckCard> cards, Style style) {
        StringBuilder out = new StringBuilder();
        // An identifier is copied into other commands, so the longest of them sets the width.
        int width = cards.stream().mapToInt(card -> card.id().length()).max().orElse(0) + 1;
        String indent = " ".repeat(2 + width + SEVERITY);
        for (Area area : Area.values()) {
            List<CheckCard> here =
                    cards.stream().filter(card -> card.area() == area).toList();
            if (!here.isEmpty()) {
                out.append(area.word()).append(": ").append(area.about()).append('\n');
                here.forEach(card -> out.append("  ")
                        .append(Lines.column(card.id(), width))
                        .append(Lines.column(card.severity().word(), SEVERITY))
                        .append(Lines.wrapped(card.summary(), indent, style))
                        .append('\n'));
                out.append('\n');
            }
        }
        return out.toString();
    }

    /** Returns one check in full. */
    public static String card(CheckCard card, Style style) {
        String indent = " ".repeat(11);
        return card.id() + "\n\n"
                + "when       " + Lines.wrapped(card.summary(), indent, style) + "\n"
                + "severity   " + card.severity().word() + "\n"
                + "area       " + card.area().word() + ": " + card.area().about() + "\n"
                + "looks at   " + Lines.wrapped(card.looksAt(), indent, style) + "\n"
                + "why        " + Lines.wrapped(card.why(), indent, style) + "\n"
                + "remedy     " + Lines.wrapped(card.remedy(), indent, style) + "\n"
                + "follows    " + Lines.wrapped(card.source(), indent, style) + "\n";
    }

    /** Returns the catalogue as the page {@code docs/checks.md}. */
    public static String markdown(List<CheckCard> cards) {
        StringBuilder out = new StringBuilder(
                "# The checks\n\nThis page is made from the checks' own cards; a test keeps it so.\n");
        for (Area area : Area.values()) {
            List<CheckCard> here =
                    cards.stream().filter(card -> card.area() == area).toList();
            if (here.isEmpty()) {
                continue;
            }
            out.append("\n## ")
                    .append(area.word())
                    .append(": ")
                    .append(area.about())
                    .append('\n');
            for (CheckCard card : here) {
                out.append("\n### `")
                        .append(card.id())
                        .append("`\n\n")
                        .append("Severity: **")
                        .append(card.severity().word())
                        .append("**. When: ")
                        .append(card.summary())
                        .append(".\n\n")
                        .append("- Looks at: ")
                        .append(card.looksAt())
                        .append(".\n")
                        .append("- Why it matters: ")
                        .append(card.why())
                        .append('\n')
                        .append("- Remedy: ")
                        .append(card.remedy())
                        .append('\n')
                        .append("- Follows: ")
                        .append(card.source())
                        .append(".\n");
            }
        }
        return out.toString();
    }
}
