package warden.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import warden.core.audit.Finding;
import warden.core.mend.Plan;
import warden.core.mend.Plans;

/** A plan for people, on a screen. */
public final class MendText {
    private static final int MOST = 6;
    private static final int FEW = 1;
    private static final int SEVERITY = 8;

    private final Style style;
    private final boolean hasPage;
    private final StringBuilder out = new StringBuilder();

    private MendText(Style style, boolean hasPage) {
        this.style = style;
        this.hasPage = hasPage;
    }

    /**
     * Returns the text.
     *
     * @param folder the folder that was written, whose page has the whole, and the commands to run next; absent where none was
     */
    public static String of(Plans plans, Optional<String> folder, Style style) {
        Plan plan = plans.plan();
        MendText text = new MendText(style, folder.isPresent());
        text.line(style.strong(MendWords.verdict(plan)));
        if (!plan.steps().isEmpty()) {
            MendWords.proven(plan).forEach(line -> text.wrapped(line, ""));
        }
        text.mended(plan);
        text.left(plan);
        text.steps(plan);
        text.patches(plan);
        text.choices(plans);
        text.next(plan, folder);
        return text.out.toString();
    }

    private void line(String text) {
        out.append(text.stripTrailing()).append('\n');
    }

    private void wrapped(String text, String indent) {
        line(indent + Lines.wrapped(Lines.brief(text), indent, style));
    }

    /** Tells items under a title: all, or the first few where the page has the rest. */
    private <T> void part(String title, List<T> items, int most, Consumer<T> told) {
        if (items.isEmpty()) {
            return;
        }
        line("");
        line(style.strong(title));
        boolean isCut = hasPage && items.size() > most + 1;
        items.stream().limit(isCut ? most : items.size()).forEach(told);
        if (isCut) {
            line("  and " + (items.size() - most) + " more, in README.md");
        }
    }

    private String severity(Finding finding) {
        return style.marked(
                finding.severity(), Lines.column(finding.severity().word().toUpperCase(Locale.ROOT), SEVERITY));
    }

    private void told(Plan plan, Finding finding, String rest) {
        Names names = new Names(plan.start().context().clouds());
        line("  " + severity(finding) + "  "
                + Lines.wrapped(
                        Lines.brief(names.brief(finding.subject()) + ": "
                                + finding.card().id() + rest),
                        "            ",
                        style));
    }

    private void mended(Plan plan) {
        part("Mended", plan.mended(), MOST, mended -> told(plan, mended.finding(), ", " + MendWords.by(mended)));
    }

    private void patches(Plan plan) {
        part(
                "Patches",
                plan.patches(),
                MOST,
                patch -> wrapped(
                        patch.path() + ": "
                                + patch.findings().stream()
                                        .map(finding -> finding.card().id())
                                        .collect(Collectors.joining(", ")),
                        "  "));
    }

    private void choices(Plans plans) {
        if (!plans.choices().isEmpty()) {
            line("");
            line(style.strong("To decide"));
            wrapped(MendWords.choice(plans), "  ");
            plans.choices()
                    .forEach(choice -> told(
                            plans.plan(),
                            choice.finding(),
                            ", site " + choice.site().name()));
        }
    }

    private void left(Plan plan) {
        part(
                "By hand",
                plan.left(),
                MOST,
                left -> told(plan, left.finding(), ": " + left.byHand().why() + "."));
    }

    private void steps(Plan plan) {
        part(
                "Steps",
                plan.steps(),
                MOST,
                step -> line(String.format(Locale.ROOT, "%4d  ", step.number())
                        + Lines.wrapped(Lines.brief(MendWords.step(step)), "      ", style)));
        List<String> notes = new ArrayList<>();
        plan.allowed().forEach(says -> notes.add("Meant: " + says + "."));
        plan.closed().forEach(url -> notes.add("Closed by design, since no site uses it: " + url));
        notes.addAll(MendWords.lasting(plan));
        part("To know", notes, FEW, says -> wrapped(says, "  "));
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
                    + plan.start().context().surveyFiles().get(0) + " " + dir
                    + (plan.after().size() == 1 ? "/after.ndjson" : "/after"));
        }
    }
}
