package warden.core.aws.identity;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.PolicyDocument;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;

/**
 * A user or a role as the account describes it.
 *
 * @param isRole true for a role, false for a user
 * @param uniqueId the id that stays when the name is used again; empty when the answer does not show it
 * @param tags the tags by key
 * @param trust a role's trust policy; absent for users
 * @param createdAt as the answer writes it; empty when it does not
 */
public record Principal(
        Arn arn,
        boolean isRole,
        String name,
        String uniqueId,
        Map<String, String> tags,
        Optional<PolicyDocument> trust,
        String createdAt,
        Holdings holdings,
        Citation at) {
    public Principal {
        tags = Map.copyOf(tags);
    }

    /** Returns the aspect of a survey under which it is read. */
    public String aspect() {
        return isRole ? "iam-role" : "iam-user";
    }

    static Map<String, String> tags(JsonPart answer) {
        Map<String, String> tags = new LinkedHashMap<>();
        for (JsonPart tag : answer.list("Tags")) {
            tag.text("Key").ifPresent(key -> tags.put(key, tag.text("Value").orElse("")));
        }
        return tags;
    }
}
