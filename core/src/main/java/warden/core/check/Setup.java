package warden.core.check;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.content.PublishedFolder;
import warden.core.pipeline.Deployments;
import warden.core.site.Estate;
import warden.core.site.Publisher;

/**
 * What checks look at.
 *
 * @param at the instant as of which ages and expiries are judged
 * @param publishers the credentials that publish sites
 * @param deployments the pipelines that are known, and what they publish
 * @param folder the folder that is about to be published; absent when none was given
 */
public record Setup(
        Estate estate,
        Instant at,
        List<Publisher> publishers,
        Deployments deployments,
        Optional<PublishedFolder> folder) {
    public Setup {
        publishers = List.copyOf(publishers);
    }
}
