package warden.core.aws.site;

import java.util.List;
import warden.core.survey.Need;

/**
 * A user or role of which it is not known whether it publishes sites.
 *
 * @param publisher as it would be if it does
 * @param needs what would settle it; never empty
 */
public record PossiblePublisher(PublishingPrincipal publisher, List<Need> needs) {
    public PossiblePublisher {
        needs = needs.stream().distinct().toList();
        if (needs.isEmpty()) {
            throw new IllegalArgumentException("what is not known says what would settle it");
        }
    }
}
