package warden.report;

import java.util.List;
import warden.core.cloud.Cloud;
import warden.core.drift.Drift;
import warden.core.survey.SurveyHeader;

/** What changed, as a comment on a change. */
public final class DriftMarkdown {
    private static final int MOST_SHOWN = 15;
    private static final int MOST_BELOW = 3;

    private DriftMarkdown() {}

    /**
     * Returns the text, in the dialect that hosts of repositories render.
     *
     * @param worse whether something got worse, whatever is shown
     */
    public static String of(
            Drift drift, List<Cloud> clouds, List<SurveyHeader> old, List<SurveyHeader> now, boolean worse) {
        StringBuilder out = new StringBuilder("## Gentle Warden: " + DriftWords.verdict(drift, worse) + "\n\n");
        for (int i = 0; i < Math.max(old.size(), now.size()); i++) {
            out.append("From ")
                    .append(i < old.size() ? MarkdownReport.code(DriftText.sides(old.get(i))) : "nothing")
                    .append(" to ")
                    .append(i < now.size() ? MarkdownReport.code(DriftText.sides(now.get(i))) : "nothing")
                    .append(".\n");
        }
        for (DriftWords.Part part : new DriftWords(clouds).parts(drift)) {
            out.append("\n### ").append(part.title()).append("\n\n");
            for (DriftWords.Said said : part.said().stream().limit(MOST_SHOWN).toList()) {
                out.append("- ")
                        .append(said.isWorse() ? "**worse:** " : "")
                        .append(MarkdownReport.escaped(Lines.brief(said.sentence())))
                        .append('\n');
                said.below().stream().limit(MOST_BELOW).forEach(below -> out.append("  - ")
                        .append(MarkdownReport.code(Lines.brief(below)))
                        .append('\n'));
            }
            if (part.said().size() > MOST_SHOWN) {
                out.append("- and ").append(part.said().size() - MOST_SHOWN).append(" more\n");
            }
        }
        DriftWords.formOnly(drift)
                .ifPresent(line -> out.append('\n').append(line).append('\n'));
        if (!drift.incomparable().isEmpty()) {
            out.append("\n<details><summary>Cannot be compared: ")
                    .append(Lines.count(drift.incomparable().size(), "reading"))
                    .append(" that one side lacks</summary>\n\n");
            drift.incomparable().stream().limit(40).forEach(need -> out.append("- ")
                    .append(MarkdownReport.code(need.aspect() + " of " + need.of()))
                    .append(": ")
                    .append(MarkdownReport.escaped(Lines.brief(need.why())))
                    .append('\n'));
            out.append("\n</details>\n");
        }
        return out.toString();
    }
}
