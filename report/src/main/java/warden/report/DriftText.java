package warden.report;

import java.util.List;
import warden.core.cloud.Cloud;
import warden.core.drift.Drift;
import warden.core.survey.Need;
import warden.core.survey.SurveyHeader;

/** What changed, for people. */
public final class DriftText {
    private static final int MOST_BELOW = 4;

    private final Style style;
    private final StringBuilder out = new StringBuilder();

    private DriftText(Style style) {
        this.style = style;
    }

    /**
     * Returns the text.
     *
     * @param clouds of the new side
     * @param worse whether something got worse, whatever is shown
     */
    public static String of(
            Drift drift,
            List<Cloud> clouds,
            List<SurveyHeader> old,
            List<SurveyHeader> now,
            boolean worse,
            Style style) {
        DriftText text = new DriftText(style);
        for (int i = 0; i < Math.max(old.size(), now.size()); i++) {
            text.line("From " + (i < old.size() ? sides(old.get(i)) : "nothing") + " to "
                    + (i < now.size() ? sides(now.get(i)) : "nothing"));
        }
        String verdict = DriftWords.verdict(drift, worse);
        text.line(worse ? style.alarm(verdict) : style.strong(verdict));
        DriftWords words = new DriftWords(clouds);
        words.parts(drift).forEach(text::part);
        DriftWords.formOnly(drift).ifPresent(line -> {
            text.line("");
            text.line(line);
        });
        text.incomparable(drift.incomparable());
        return text.out.toString();
    }

    static String sides(SurveyHeader header) {
        return header.file()
                + (header.isOfTemplate()
                        ? " (a description)"
                        : header.takenAt().isEmpty() ? "" : " (" + header.takenAt() + ")");
    }

    private void line(String text) {
        out.append(text.stripTrailing()).append('\n');
    }

    private void part(DriftWords.Part part) {
        line("");
        line(style.strong(part.title()));
        for (DriftWords.Said said : part.said()) {
            String mark = said.isWorse() ? style.alarm("!") : " ";
            line(mark + " " + Lines.wrapped(Lines.brief(said.sentence()), "  ", style));
            said.below().stream()
                    .limit(MOST_BELOW)
                    .forEach(below -> line("    " + style.faint(Lines.wrapped(Lines.brief(below), "    ", style))));
            if (said.below().size() > MOST_BELOW) {
                line("    " + style.faint("and " + (said.below().size() - MOST_BELOW) + " more"));
            }
        }
    }

    private void incomparable(List<Need> needs) {
        if (needs.isEmpty()) {
            return;
        }
        line("");
        line(style.strong("Cannot be compared") + ": " + Lines.count(needs.size(), "reading") + " that one side lacks");
        for (Need need : needs.stream().limit(12).toList()) {
            line("  "
                    + Lines.wrapped(Lines.brief(need.aspect() + " of " + need.of() + ": " + need.why()), "  ", style));
        }
        if (needs.size() > 12) {
            line("  and " + (needs.size() - 12) + " more; --format json lists them all");
        }
    }
}
