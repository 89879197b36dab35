package warden.standin.aws;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.PolicyDocument;

/**
 * Somebody who has assumed a role.
 *
 * @param who the role
 * @param name the session's name
 * @param token what its requests have to carry beside its key
 * @param until when its credentials expire
 * @param limits policies that were passed with the request: the session may do what the role may and all of these allow. Source: IAM User
 *     Guide, "Policies and permissions in AWS Identity and Access Management", section "Session policies"
 */
record Session(Actor who, String name, String token, Instant until, List<PolicyDocument> limits) {
    Session {
        limits = List.copyOf(limits);
    }

    /** Returns whether the session's own policies let this through; what they leave open they do not. */
    boolean lets(String action, String resource, Context context) {
        String name = action.toLowerCase(Locale.ROOT);
        return limits.stream()
                .allMatch(
                        limit -> Verdicts.surelyAllows(limit, statement -> statement.covers(name, resource, context)));
    }
}
