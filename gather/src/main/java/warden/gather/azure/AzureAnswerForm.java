package warden.gather.azure;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.azure.survey.AzureAspects;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.gather.folder.AnswerForm;
import warden.gather.folder.Refusal;
import warden.gather.folder.SurveyScript;

/** What the second provider's command line prints. Source: Azure command-line reference, "az rest", "Output formats for Azure CLI commands". */
public final class AzureAnswerForm implements AnswerForm {
    private static final String CALL = "arm:GET";
    private static final String SUBSCRIPTIONS = "/subscriptions/";
    private static final Set<String> OF_ACCOUNT = Set.of("subscription", "storage-account-list");
    private static final List<String> NAMES =
            List.of(SUBSCRIPTIONS, "serviceprincipals/", "applications/", "users/", "groups/", "/providers/microsoft.");
    private static final Pattern ACCOUNT = Pattern.compile("(?i)" + SUBSCRIPTIONS + "([^/]+)");

    @Override
    public String provider() {
        return "azure";
    }

    @Override
    public boolean isAbout(String subject) {
        String lower = subject.toLowerCase(Locale.ROOT);
        return NAMES.stream().anyMatch(lower::startsWith);
    }

    @Override
    public Optional<String> account(String aspect, String subject) {
        Matcher account = ACCOUNT.matcher(subject);
        return OF_ACCOUNT.contains(aspect) && account.lookingAt() ? Optional.of(account.group(1)) : Optional.empty();
    }

    @Override
    public SurveyLine refusal(String aspect, String subject, String said) {
        String code = AzureAnswers.code(said).orElse("Failed");
        return Refusal.line(aspect, subject, CALL, code, AzureAspects.TABLE.meansAbsent(aspect, code), said);
    }

    @Override
    public Optional<List<SurveyLine>> answer(String aspect, String subject, String text) {
        return AzureAnswers.document(aspect, text)
                .map(document -> List.of(new SurveyLine("", 1, aspect, subject, CALL, Outcome.FOUND, document)));
    }

    @Override
    public boolean notesWhoAsks() {
        return true;
    }

    @Override
    public SurveyScript script() {
        return SurveyScript.beside(AzureAnswerForm.class);
    }
}
