package warden.core.aws.site;

import java.util.List;

/**
 * The credentials that publish the sites of the surveyed accounts, and those that may.
 *
 * @param known users first, in the order of the surveys
 * @param possible likewise
 */
public record Publishers(List<PublishingPrincipal> known, List<PossiblePublisher> possible) {
    public Publishers {
        known = List.copyOf(known);
        possible = List.copyOf(possible);
    }
}
