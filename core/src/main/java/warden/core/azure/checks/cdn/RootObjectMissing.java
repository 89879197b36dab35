package warden.core.azure.checks.cdn;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.checks.CdnCards;

/** Finds edges before a blob endpoint, which has no index document. */
final class RootObjectMissing implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.ROOT_OBJECT_MISSING.told(
            "cdn-endpoint, front-door-origin",
            "Visitors of the front page get an error.",
            "Make the web endpoint the origin, or rewrite the root to the index document.",
            "Storage documentation, \"Integrate a static website with Azure CDN\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        return IndexAtBlobs.examine(
                subject,
                CARD,
                "/",
                "The edge fetches from a blob endpoint, which shows no index document, and"
                        + " no rule rewrites the root.");
    }
}
