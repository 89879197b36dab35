package warden.core.aws.identity;

import java.util.Set;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.Statement;
import warden.core.survey.Citation;

/**
 * A policy that somebody holds, and where it stands.
 *
 * @param name what a sentence calls it
 * @param isBuiltIn true for the program's own copy of a provider-managed policy, which stands in no survey
 * @param speaksFor the services (lower-case prefixes) for which the document is complete; empty when it is complete for all.
 *     A built-in copy of a very long provider-managed policy speaks for the services of this job only.
 */
public record HeldPolicy(String name, PolicyDocument document, Citation at, boolean isBuiltIn, Set<String> speaksFor) {
    public HeldPolicy {
        speaksFor = Set.copyOf(speaksFor);
    }

    public HeldPolicy(String name, PolicyDocument document, Citation at) {
        this(name, document, at, false, Set.of());
    }

    /** Returns the citation of one of its statements; of a built-in copy, of the place that attaches it. */
    public Citation cite(Statement statement) {
        return isBuiltIn ? at : at.at(statement.at().toString(), statement.text());
    }

    /** True when the document says all there is to say about the action, given in lower case. */
    public boolean speaksFor(String lowerCaseAction) {
        int colon = lowerCaseAction.indexOf(':');
        return speaksFor.isEmpty() || (colon > 0 && speaksFor.contains(lowerCaseAction.substring(0, colon)));
    }
}
