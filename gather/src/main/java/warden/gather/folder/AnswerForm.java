package warden.gather.folder;

import java.util.List;
import java.util.Optional;
import warden.core.survey.SurveyLine;

/** How one provider's official command line prints what it was asked, and what a survey makes of it. */
public interface AnswerForm {
    /** Returns the word by which surveys name the provider. */
    String provider();

    /** True for a subject that is named as the provider names its own. */
    boolean isAbout(String subject);

    /** Returns the account whose answers these are, where an answer's name tells it; absent for other answers. */
    Optional<String> account(String aspect, String subject);

    /** Returns what a survey holds of a refusal: that the thing is not there, or that it was not read. */
    SurveyLine refusal(String aspect, String subject, String said);

    /** Returns what a survey holds of an answer; absent when the text is not what the command line prints. */
    Optional<List<SurveyLine>> answer(String aspect, String subject, String text);

    /** True where the script notes who asks, so that it can be told whether its lists are whole. */
    default boolean notesWhoAsks() {
        return false;
    }

    /** Returns the shell script that gathers a folder of such answers. */
    SurveyScript script();
}
