package warden.core.rehearse;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import warden.core.survey.Citation;

/**
 * One call that the simulated account answered.
 *
 * @param service as signatures name it, such as {@code s3}
 * @param operation as the provider's API Reference names it; empty where the call was refused before that was known
 * @param who the ARN of the caller, of a session its role's; what a decision calls others
 * @param needs each permission that it took; empty for calls that take none
 * @param answer the HTTP status
 * @param isSimulated false for a call that the account does not simulate
 * @param problem the provider's word for a refusal; empty for none
 */
public record RehearsedCall(
        Instant at,
        String service,
        String operation,
        String who,
        List<Need> needs,
        int answer,
        boolean isSimulated,
        String problem) {
    public RehearsedCall {
        needs = List.copyOf(needs);
    }

    /** True where a permission was refused, for the whole call or for a part of it; of a call that is not simulated it is not known. */
    public boolean isRefused() {
        return isSimulated && !isAllowed();
    }

    /** True where all that it needs is allowed for certain. */
    public boolean isAllowed() {
        return needs.stream().allMatch(Need::allowed);
    }

    /**
     * One permission.
     *
     * @param on the ARN of the resource
     * @param context the condition keys that the request told, beside those that follow from caller and resource
     * @param allowed false where it is refused, and where that is not known
     * @param says one sentence: what decided
     * @param because the statements that decided
     */
    public record Need(
            String action,
            String on,
            Map<String, List<String>> context,
            boolean allowed,
            String says,
            List<Citation> because) {
        public Need {
            context = Map.copyOf(context);
            because = List.copyOf(because);
        }
    }
}
