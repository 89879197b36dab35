package warden.core.azure.checks.cdn;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CdnCards;

/** Finds edges that send texts uncompressed. */
final class CompressionOff implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.COMPRESSION_OFF.told(
            "cdn-endpoint, front-door-route",
            "Pages load slower and cost more traffic than they need.",
            "Switch compression on for texts.",
            "Azure Front Door, \"Improve performance by compressing files\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        if (subject.edge().serves() == Truth.FALSE) {
            return List.of();
        }
        if (subject.site().isEmpty()) {
            return subject.mayServeSite().isEmpty() ? List.of() : subject.open(subject.mayServeSite());
        }
        for (Edge.Route route : subject.edge().routes()) {
            // What is not cached is not compressed, and that may be meant.
            if (route.isOn() != Truth.FALSE && route.caches() && !route.compresses()) {
                return subject.flagged(
                        CARD, "The edge " + subject.edge().host() + " compresses nothing.", List.of(route.at()));
            }
        }
        return subject.open(subject.needs());
    }
}
