package warden.report;

import java.util.List;
import java.util.Locale;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.survey.Citation;

/** One finding in full: what, why it matters, the value at its line, the remedy, and the command that shows it again. */
final class FindingText {
    private static final int NUMBER = 4;
    private static final int SEVERITY = 9;
    private static final String INDENT = " ".repeat(NUMBER + SEVERITY + 1);
    private static final String PART = INDENT + " ".repeat(9);
    private static final int MOST_CITED = 4;

    private final Names names;
    private final Replay replay;
    private final Style style;
    private final boolean oneSurvey;

    FindingText(Audit audit, Names names, Style style) {
        this.names = names;
        this.replay = new Replay(audit);
        this.style = style;
        this.oneSurvey = audit.context().accounts().size() == 1;
    }

    /**
     * Returns the finding's lines.
     *
     * @param number its place among the findings of this audit, counted from 1
     * @param note what is said of it beside its check, such as that it is new; empty for nothing
     */
    String of(Finding finding, int number, String note) {
        StringBuilder out = new StringBuilder();
        String place = Integer.toString(number);
        out.append(" ".repeat(Math.max(0, NUMBER - 1 - place.length())))
                .append(place)
                .append(' ')
                .append(style.marked(
                        finding.severity(),
                        Lines.column(finding.severity().word().toUpperCase(Locale.ROOT), SEVERITY)))
                .append(' ')
                .append(Lines.wrapped(
                        Lines.brief(names.said(finding)) + " [" + finding.card().id() + "]"
                                + (note.isEmpty() ? "" : " " + note),
                        INDENT,
                        style))
                .append('\n');
        part(out, "why", finding.card().why());
        List<Citation> because = finding.because();
        because.stream().limit(MOST_CITED).forEach(at -> part(out, "because", cited(at)));
        if (because.size() > MOST_CITED) {
            part(out, "because", "and " + (because.size() - MOST_CITED) + " readings more, which the JSON report has");
        }
        part(out, "remedy", Lines.brief(finding.remedy()));
        // A command is copied whole: it is never broken, nor shortened.
        out.append(INDENT)
                .append(style.faint("replay   "))
                .append(replay.of(finding))
                .append("\n\n");
        return out.toString();
    }

    private String cited(Citation at) {
        String place = oneSurvey ? Lines.citeInside(at) : Lines.cite(at);
        return at.quote().isEmpty() ? place : place + "  " + Lines.brief(at.quote());
    }

    private void part(StringBuilder out, String name, String text) {
        out.append(INDENT)
                .append(style.faint(Lines.column(name, 9)))
                .append(Lines.wrapped(text, PART, style))
                .append('\n');
    }
}
