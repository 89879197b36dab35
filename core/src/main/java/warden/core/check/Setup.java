package warden.core.check;

import java.time.Instant;
import java.util.List;
import warden.core.site.Estate;
import warden.core.site.Publisher;

/**
 * What checks look at.
 *
 * @param at the instant as of which ages and expiries are judged
 * @param publishers the credentials that publish sites
 */
public record Setup(Estate estate, Instant at, List<Publisher> publishers) {
    public Setup {
        publishers = List.copyOf(publishers);
    }
}
