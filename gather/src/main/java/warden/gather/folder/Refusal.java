package warden.gather.folder;

import warden.core.document.DisplayText;
import warden.core.document.Json;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/** What a survey holds of a question that was refused. */
public final class Refusal {
    private static final int LONGEST = 300;

    private Refusal() {}

    /**
     * Returns its line.
     *
     * @param call what was asked
     * @param code the refusal's
     * @param isAbsent true where the code means that the thing is not there
     * @param said what was printed
     */
    public static SurveyLine line(
            String aspect, String subject, String call, String code, boolean isAbsent, String said) {
        if (isAbsent) {
            return new SurveyLine("", 1, aspect, subject, call, Outcome.ABSENT, code);
        }
        String plain = DisplayText.clean(said.strip());
        String shown = plain.length() > LONGEST ? plain.substring(0, LONGEST) + "…" : plain;
        return new SurveyLine(
                "", 1, aspect, subject, call, Outcome.UNREAD, Json.text(Json.object("code", code, "message", shown)));
    }
}
