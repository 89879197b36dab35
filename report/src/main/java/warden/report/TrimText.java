package warden.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import warden.core.document.DisplayText;
import warden.core.pipeline.Needed;
import warden.core.site.Site;
import warden.core.survey.Need;
import warden.core.trim.Trimming;

/** What each credential is granted and what would do, side by side. */
public final class TrimText {
    private static final int COLUMN = 48;
    private static final int MOST_GRANTS = 12;

    private final Style style;
    private final StringBuilder out = new StringBuilder();

    private TrimText(Style style) {
        this.style = style;
    }

    /**
     * Returns the text.
     *
     * @param unread what keeps users and roles from being known
     */
    public static String of(List<? extends Trimming> credentials, List<Need> unread, Style style) {
        TrimText text = new TrimText(style);
        if (credentials.isEmpty() && !unread.isEmpty()) {
            text.line("Which credentials publish sites is not known:");
        } else if (credentials.isEmpty()) {
            text.line("The survey shows no credential that publishes a site; name one with --credential ARN.");
        }
        credentials.forEach(text::credential);
        text.out.append(Lines.unreadPrincipals(unread, style));
        return text.out.toString();
    }

    private void line(String text) {
        out.append(text.stripTrailing()).append('\n');
    }

    private void credential(Trimming trimmed) {
        String sites = trimmed.sites().stream().map(Site::name).collect(Collectors.joining(", "));
        line(style.strong(DisplayText.name(trimmed.name()))
                + (sites.isEmpty() ? "" : " publishes " + DisplayText.name(sites)));
        line(style.faint("  " + DisplayText.name(trimmed.called())));
        line("  " + numbers(trimmed));
        line("");
        if (trimmed.isUnsurveyed() && !trimmed.needed().isEmpty()) {
            // Nothing stands beside it, so it is shown as it is written.
            out.append(DisplayText.lines(trimmed.proposalSpelled(), false)
                    .stripTrailing()
                    .indent(2));
        } else {
            sideBySide(folded(headed("today", trimmed.today())), headed("proposed", trimmed.proposed()));
        }
        line("");
        needed(trimmed);
        trimmed.worst().stream()
                .limit(3)
                .forEach(worst ->
                        paragraph("  excess   ", worst.action() + " on " + worst.on() + ": " + worst.why() + "."));
        for (Needed missing : trimmed.missing()) {
            paragraph(
                    "  " + style.warning("missing") + "  ",
                    missing.action() + " on " + missing.on() + ": " + missing.why() + ".");
        }
        open(trimmed);
        proof(trimmed);
        line("");
    }

    /** Says how much there is and how much would do: "412 actions in 61 services → 5 actions in 2". */
    private static String numbers(Trimming trimmed) {
        if (trimmed.services().isEmpty() && !trimmed.unread().isEmpty()) {
            return "what it may do is not known → "
                    + Lines.count(trimmed.proposedActions(), "action") + " in "
                    + Lines.count(trimmed.proposedServices(), "service");
        }
        boolean every = trimmed.services().contains("*");
        String granted = every
                ? "every service, with " + trimmed.grantedActions() + " actions in the catalogued ones"
                : Lines.count(trimmed.grantedActions(), "action") + " in "
                        + Lines.count(trimmed.services().size(), "service");
        return granted + " → " + Lines.count(trimmed.proposedActions(), "action") + " in "
                + Lines.count(trimmed.proposedServices(), "service");
    }

    private static List<String> folded(List<String> lines) {
        if (lines.size() <= MOST_GRANTS) {
            return lines;
        }
        List<String> folded = new ArrayList<>(lines.subList(0, MOST_GRANTS));
        folded.add("… and " + (lines.size() - MOST_GRANTS) + " lines more");
        return folded;
    }

    private static List<String> headed(String head, List<String> lines) {
        List<String> all = new ArrayList<>(List.of(head));
        all.addAll(lines);
        return all;
    }

    private void sideBySide(List<String> left, List<String> right) {
        List<String> first = broken(left);
        List<String> second = broken(right);
        for (int i = 0; i < Math.max(first.size(), second.size()); i++) {
            String one = i < first.size() ? first.get(i) : "";
            String two = i < second.size() ? second.get(i) : "";
            String row = "  " + Lines.column(one, COLUMN) + " " + two;
            line(i == 0 ? style.strong(row) : row);
        }
    }

    /** Breaks what is wider than a column, after a comma, a colon or a slash where there is one. */
    private static List<String> broken(List<String> lines) {
        List<String> fitting = new ArrayList<>();
        for (String line : lines) {
            String rest = DisplayText.clean(line);
            String indent = "";
            while (rest.length() > COLUMN) {
                int cut = cut(rest);
                fitting.add(rest.substring(0, cut));
                indent = "    ";
                rest = indent + rest.substring(cut).stripLeading();
            }
            fitting.add(rest);
        }
        return fitting;
    }

    /** Returns where to break: after the last comma that fits, else after a colon or slash, else at the width. */
    private static int cut(String text) {
        String fits = text.substring(0, COLUMN);
        int comma = fits.lastIndexOf(", ");
        if (comma > COLUMN / 4) {
            return comma + 2;
        }
        int joint = Math.max(fits.lastIndexOf(':'), fits.lastIndexOf('/'));
        return joint > COLUMN / 2 ? joint + 1 : COLUMN;
    }

    private void needed(Trimming trimmed) {
        Map<String, List<Needed>> byWhy = trimmed.needed().stream()
                .collect(Collectors.groupingBy(Needed::why, java.util.LinkedHashMap::new, Collectors.toList()));
        byWhy.forEach((why, needs) -> paragraph(
                "  needed   ",
                needs.stream().map(Needed::action).distinct().collect(Collectors.joining(", ")) + ": " + why
                        + (needs.get(0).evidence() == Needed.Evidence.PATTERN
                                ? " (no pipeline was given that tells more)"
                                : "")
                        + "."));
    }

    private void open(Trimming trimmed) {
        trimmed.openSteps().stream()
                .limit(5)
                .forEach(open -> paragraph(
                        "  " + style.notice("open") + "     ",
                        open.place() + ", \"" + open.command() + "\": " + open.why()
                                + ". It may need more than what is proposed."));
        if (!trimmed.unread().isEmpty()) {
            paragraph(
                    "  " + style.notice("unknown") + "  ",
                    trimmed.unread().get(0).aspect() + " "
                            + trimmed.unread().get(0).of() + ": "
                            + trimmed.unread().get(0).why() + "; it may be granted more than is shown.");
        }
    }

    private void proof(Trimming trimmed) {
        if (trimmed.needed().isEmpty()) {
            paragraph("  proof    ", "there is nothing to prove: what it needs is not known.");
            return;
        }
        boolean both = trimmed.coversNeeded() && trimmed.withinNeeded();
        paragraph(
                "  proof    ",
                both
                        ? "the proposal allows every request that is needed, and no other."
                        : (trimmed.coversNeeded() ? "" : "the proposal does not cover what is needed. ")
                                + (trimmed.withinNeeded() ? "" : "The proposal allows more than is needed."));
        for (Needed refused : trimmed.stillRefused()) {
            paragraph(
                    "  " + style.warning("refused") + "  ",
                    refused.action() + " on " + refused.on()
                            + " stays refused with the proposal: something else denies it. Look at the bucket's policy, the boundary and"
                            + " the organization's policies.");
        }
        trimmed.proposedTrust()
                .filter(trust -> !trust.isComplete())
                .ifPresent(
                        trust -> paragraph(
                                "  trust    ",
                                "today's trust does not tell which repository publishes; the trust policy that --policy-out writes leaves it to fill in."));
    }

    private void paragraph(String label, String text) {
        line(label + Lines.wrapped(DisplayText.clean(text), "           ", style));
    }
}
