package warden.core.survey;

/** Says that a survey file cannot be used: one sentence with file, line, what is wrong and what to do. */
public final class SurveyException extends Exception {
    private static final long serialVersionUID = 1L;

    public SurveyException(String file, int line, String says) {
        super(file + ":" + line + ": " + says);
    }

    public SurveyException(String file, String says) {
        super(file + ": " + says);
    }
}
