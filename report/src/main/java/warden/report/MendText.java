package warden.report;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.audit.Finding;
import warden.core.mend.Plan;
import warden.core.mend.Step;

/** A plan for people, on a screen. */
public final class MendText {
    private static final int MOST_LEFT = 12;
    private static final int SEVERITY = 8;

    private final Style style;
    private final StringBuilder out = new StringBuilder();

    private MendText(Style style) {
        this.style = style;
    }

    /**
     * Returns the text.
     *
     * @param folder the folder that was written, for the commands to run next; absent where none was
     */
    public static String of(Plan plan, Optional<String> folder, Style style) {
        MendText text = new MendText(style);
        text.line(style.strong(MendWords.verdict(plan)));
        if (!plan.steps().isEmpty()) {
            MendWords.proven(plan).forEach(line -> text.wrapped(line, ""));
            text.steps(plan);
        }
        text.mended(plan);
        text.left(plan);
        text.next(plan, folder);
        return text.out.toString();
    }

    private void line(String text) {
        out.append(text.stripTrailing()).append('\n');
    }

    private void wrapped(String text, String indent) {
        line(indent + Lines.wrapped(Lines.brief(text), indent, style));
    }

    private String severity(Finding finding) {
        return style.marked(
                finding.severity(), Lines.column(finding.severity().word().toUpperCase(Locale.ROOT), SEVERITY));
    }

    private void steps(Plan plan) {
        line("");
        line(style.strong("Steps"));
        for (Step step : plan.steps()) {
            line(String.format(Locale.ROOT, "%4d  ", step.number())
                    + Lines.wrapped(Lines.brief(MendWords.step(step)), "      ", style));
        }
        MendWords.lasting(plan).forEach(says -> wrapped(says, "      "));
        for (String says : plan.allowed()) {
            wrapped("Meant: " + says + ".", "      ");
        }
        if (!plan.closed().isEmpty()) {
            line("");
            line("Closed by design, since no site uses it:");
            plan.closed().forEach(url -> line("      " + url));
        }
    }

    private void mended(Plan plan) {
        if (plan.mended().isEmpty()) {
            return;
        }
        Names names = new Names(plan.start().context().clouds());
        line("");
        line(style.strong("Mended"));
        for (Plan.Mended mended : plan.mended()) {
            line("  " + severity(mended.finding()) + "  "
                    + Lines.wrapped(
                            Lines.brief(names.brief(mended.finding().subject()) + ": "
                                    + mended.finding().card().id() + " (" + MendWords.by(mended) + ")"),
                            "            ",
                            style));
        }
    }

    private void left(Plan plan) {
        if (plan.left().isEmpty()) {
            return;
        }
        Names names = new Names(plan.start().context().clouds());
        line("");
        line(style.strong("By hand"));
        List<Plan.Left> shown = plan.left().stream().limit(MOST_LEFT).toList();
        for (Plan.Left left : shown) {
            line("  " + severity(left.finding()) + "  "
                    + Lines.wrapped(
                            Lines.brief(names.brief(left.finding().subject()) + ": "
                                    + left.finding().card().id() + ": "
                                    + left.byHand().why() + "."),
                            "            ",
                            style));
        }
        if (plan.left().size() > shown.size()) {
            line("  and " + (plan.left().size() - shown.size()) + " more; README.md tells what to do about each");
        }
    }

    private void next(Plan plan, Optional<String> folder) {
        line("");
        if (folder.isEmpty()) {
            line("Nothing was written: -o DIR writes the documents, the scripts and a page that explains them.");
            return;
        }
        String dir = folder.get();
        line("Wrote " + dir + ". Nothing was changed in any account.");
        if (!plan.steps().isEmpty()) {
            line("  read       " + dir + "/README.md");
            line("  try        " + dir + "/apply.sh --dry-run");
            line("  apply      " + dir + "/apply.sh");
            line("  take back  " + dir + "/undo.sh");
            line("  compare    gentle-warden drift "
                    + String.join(
                            " ",
                            plan.start().context().surveyFiles().stream()
                                    .limit(1)
                                    .toList()) + " " + dir
                    + (plan.after().size() == 1 ? "/after.ndjson" : "/after"));
        }
    }
}
