package warden.gather.aws;

import java.util.function.Supplier;
import software.amazon.awssdk.awscore.exception.AwsErrorDetails;
import software.amazon.awssdk.awscore.exception.AwsServiceException;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.core.exception.SdkException;
import warden.core.aws.survey.AbsenceCodes;
import warden.core.survey.SurveyLine;
import warden.gather.live.ReadingLog;

/** Makes a line of a survey of what a call answered: what was found, that there is none, or why it is not known. */
final class Answers {
    private Answers() {}

    static SurveyLine to(String aspect, String of, String call, Supplier<? extends SdkPojo> question) {
        try {
            return new SurveyLine(
                    "", 1, aspect, of, call, SurveyLine.Outcome.FOUND, AnswerSpelling.spell(question.get()));
        } catch (SdkException failed) {
            return failed(aspect, of, call, failed);
        }
    }

    /** Returns the line that says why something is not known; or, of what the code says that there is none of, that there is none. */
    static SurveyLine failed(String aspect, String of, String call, SdkException failed) {
        if (!(failed instanceof AwsServiceException error)) {
            return ReadingLog.unread(aspect, of, call, "Unreachable", String.valueOf(failed.getMessage()));
        }
        AwsErrorDetails details = error.awsErrorDetails();
        String code = details == null ? "" : String.valueOf(details.errorCode());
        if (code.isEmpty() || code.equals("null")) {
            code = error.statusCode() == 403 ? "AccessDenied" : error.statusCode() == 404 ? "NotFound" : "Error";
        }
        if (AbsenceCodes.means(aspect, code)) {
            return new SurveyLine("", 1, aspect, of, call, SurveyLine.Outcome.ABSENT, code);
        }
        return ReadingLog.unread(
                aspect,
                of,
                call,
                code.equals("AccessDeniedException") ? "AccessDenied" : code,
                details == null ? "" : String.valueOf(details.errorMessage()));
    }
}
