package warden.core.aws.decision;

import java.util.Locale;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;

/**
 * One request.
 *
 * @param action in any case, such as {@code s3:GetObject}
 * @param resource the ARN of what it is for
 * @param context the condition keys beside those that follow from {@code who} and {@code resource}
 */
public record Request(Actor who, String action, String resource, Context context) {
    /** Returns the action in lower case, in which actions are compared. */
    public String lowerCaseAction() {
        return action.toLowerCase(Locale.ROOT);
    }
}
