package warden.core.aws.identity;

import java.util.List;
import java.util.Optional;
import warden.core.survey.Need;

/**
 * What limits and empowers one user or role.
 *
 * @param policies identity-based policies, its groups' included
 * @param missing what could not be read of them
 * @param boundary the permissions boundary; absent when there is none
 * @param boundaryMissing what is missing of the boundary, when it is set and could not be read
 */
public record Holdings(
        List<HeldPolicy> policies, List<Need> missing, Optional<HeldPolicy> boundary, Optional<Need> boundaryMissing) {
    public Holdings {
        policies = List.copyOf(policies);
        missing = List.copyOf(missing);
    }
}
