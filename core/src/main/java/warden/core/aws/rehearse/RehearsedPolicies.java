package warden.core.aws.rehearse;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.identity.Principal;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;

/**
 * Puts other policies in the place of those that a user or role holds of its own, attached or through groups. Its boundary, its trust and the
 * organization's policies stay.
 */
public final class RehearsedPolicies {
    private RehearsedPolicies() {}

    /**
     * Returns the survey with the principal's reading changed.
     *
     * @param policies documents in JSON, each an identity policy
     * @return absent where the survey does not describe the principal
     */
    public static Optional<Survey> replaced(Survey survey, Principal principal, List<String> policies) {
        return survey.lines().stream()
                .filter(line -> line.aspect().equals(principal.aspect())
                        && line.of().equals(principal.arn().toString())
                        && line.outcome() == SurveyLine.Outcome.FOUND)
                .findFirst()
                .map(line -> survey.with(new SurveyLine(
                        line.file(),
                        line.line(),
                        line.aspect(),
                        line.of(),
                        line.call(),
                        SurveyLine.Outcome.FOUND,
                        body(line.body(), principal, policies))));
    }

    private static String body(String today, Principal principal, List<String> policies) {
        List<Map<String, Object>> list = new ArrayList<>();
        for (int i = 0; i < policies.size(); i++) {
            Map<String, Object> policy = new LinkedHashMap<>();
            policy.put("PolicyName", "rehearsed-" + (i + 1));
            policy.put("PolicyDocument", new Json.Raw(policies.get(i)));
            list.add(policy);
        }
        String kind = principal.isRole() ? "Role" : "User";
        String body = JsonEdit.set(today, "/" + kind + "PolicyList", Json.text(list));
        body = JsonEdit.set(body, "/AttachedManagedPolicies", "[]");
        return principal.isRole() ? body : JsonEdit.set(body, "/GroupList", "[]");
    }
}
