package warden.gather.aws;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.aws.survey.AwsAspects;
import warden.core.aws.survey.Permissions;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.gather.folder.AnswerForm;
import warden.gather.folder.Refusal;
import warden.gather.folder.SurveyScript;

/**
 * What the first provider's command line prints. Source: AWS CLI User Guide, "Setting the output format", "Command line return codes"; IAM API
 * Reference, "GetAccountAuthorizationDetails".
 */
public final class AwsAnswerForm implements AnswerForm {
    private static final Set<String> OF_ACCOUNT = Set.of("bucket-list", "account-public-access");
    private static final Pattern CODE = Pattern.compile("An error occurred \\(([A-Za-z0-9.]+)\\)");
    private static final List<String> MEMBERS =
            List.of("UserDetailList", "GroupDetailList", "RoleDetailList", "Policies");
    private static final List<String> BY_MEMBER = List.of("iam-user", "iam-group", "iam-role", "iam-policy");

    @Override
    public String provider() {
        return "aws";
    }

    /** Its subjects are named in many ways; what no other provider names so is one of them. */
    @Override
    public boolean isAbout(String subject) {
        return true;
    }

    @Override
    public Optional<String> account(String aspect, String subject) {
        return OF_ACCOUNT.contains(aspect) ? Optional.of(subject) : Optional.empty();
    }

    @Override
    public SurveyLine refusal(String aspect, String subject, String said) {
        Matcher found = CODE.matcher(said);
        String code = found.find() ? found.group(1) : "Failed";
        return Refusal.line(
                aspect,
                subject,
                AwsAspects.TABLE.permission(aspect),
                code,
                AwsAspects.TABLE.meansAbsent(aspect, code),
                said);
    }

    @Override
    public Optional<List<SurveyLine>> answer(String aspect, String subject, String text) {
        // The command line prints nothing for settings that were never made.
        Optional<JsonPart> root =
                JsonReader.read(text.isBlank() ? "{}" : text).root().filter(JsonPart.JsonObject.class::isInstance);
        return root.map(found ->
                aspect.equals("iam-details") ? identities(found) : List.of(line(aspect, subject, body(aspect, found))));
    }

    private static String body(String aspect, JsonPart found) {
        boolean noLocation = aspect.equals("bucket-location")
                && found.text("LocationConstraint").isEmpty();
        return Json.text(noLocation ? Json.object("LocationConstraint", null) : found);
    }

    /** The answer about all identities at once becomes a reading for each. */
    private static List<SurveyLine> identities(JsonPart details) {
        List<SurveyLine> lines = new ArrayList<>();
        for (int i = 0; i < MEMBERS.size(); i++) {
            String aspect = BY_MEMBER.get(i);
            details.list(MEMBERS.get(i)).forEach(element -> element.text("Arn")
                    .ifPresent(arn -> lines.add(line(aspect, arn, JsonSpelling.of(element)))));
        }
        return lines;
    }

    private static SurveyLine line(String aspect, String subject, String body) {
        return new SurveyLine("", 1, aspect, subject, Permissions.toRead(aspect), Outcome.FOUND, body);
    }

    @Override
    public SurveyScript script() {
        return SurveyScript.beside(AwsAnswerForm.class);
    }
}
