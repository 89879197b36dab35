package warden.report;

import java.util.List;
import java.util.Map;
import java.util.function.Function;
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

    /**
     * Returns one check in full.
     *
     * @param told its card as each provider tells it whose sites are asked, by the provider's name; at least one
     */
    public static String card(Map<String, CheckCard> told, Style style) {
        CheckCard card = told.values().iterator().next();
        String indent = " ".repeat(11);
        StringBuilder out = new StringBuilder(card.id() + "\n\n"
                + "when       " + Lines.wrapped(card.summary(), indent, style) + "\n"
                + "severity   " + card.severity().word() + "\n"
                + "area       " + card.area().word() + ": " + card.area().about() + "\n"
                + "sites on   " + String.join(", ", told.keySet()) + "\n");
        told.forEach((provider, each) -> {
            if (each == card) {
                out.append(text(each, indent, style));
            } else if (!tellsTheSame(each, card)) {
                out.append("\non ").append(provider).append("\n").append(text(each, indent, style));
            }
        });
        return out.toString();
    }

    private static String text(CheckCard card, String indent, Style style) {
        return "looks at   " + Lines.wrapped(card.looksAt(), indent, style) + "\n"
                + "why        " + Lines.wrapped(card.why(), indent, style) + "\n"
                + "remedy     " + Lines.wrapped(card.remedy(), indent, style) + "\n"
                + "follows    " + Lines.wrapped(card.source(), indent, style) + "\n";
    }

    private static boolean tellsTheSame(CheckCard one, CheckCard other) {
        return one.looksAt().equals(other.looksAt())
                && one.why().equals(other.why())
                && one.remedy().equals(other.remedy())
                && one.source().equals(other.source());
    }

    /**
     * Returns the catalogue as the page {@code docs/checks.md}.
     *
     * @param told tells by a check's id its card as each provider tells it, by the provider's name
     */
    public static String markdown(List<CheckCard> cards, Function<String, Map<String, CheckCard>> told) {
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
                        .append("Asked of sites on ")
                        .append(String.join(", ", told.apply(card.id()).keySet()))
                        .append(".\n\n")
                        .append(points(card));
                told.apply(card.id()).forEach((provider, other) -> {
                    if (!tellsTheSame(other, card)) {
                        out.append("\nOn ").append(provider).append(":\n\n").append(points(other));
                    }
                });
            }
        }
        return out.toString();
    }

    private static String points(CheckCard card) {
        return "- Looks at: " + card.looksAt() + ".\n"
                + "- Why it matters: " + card.why() + "\n"
                + "- Remedy: " + card.remedy() + "\n"
                + "- Follows: " + card.source() + ".\n";
    }
}
