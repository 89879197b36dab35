package warden.core.survey;

/**
 * The first line of a survey.
 *
 * @param file the survey's name as the user gave it
 * @param provider {@code aws} or {@code azure}
 * @param account the account number (or subscription id), empty when the header gives none
 * @param takenAt when it was taken, as written; empty when not said
 * @param takenBy who took it, as written; empty when not said
 */
public record SurveyHeader(String file, String provider, String account, String takenAt, String takenBy) {
    /** The version of the format that this program reads and writes. */
    public static final int VERSION = 1;
}
