package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.ContainerCheck;
import warden.core.checks.ExposureCards;

/** Finds containers behind an edge by the blob endpoint that anyone can read around it. */
final class OpenAroundCdn implements ContainerCheck {
    private static final CheckCard CARD = ExposureCards.OPEN_AROUND_CDN.told(
            "container, storage-account, cdn-endpoint",
            "What the edge adds or forbids does not hold at the blob endpoint.",
            "Make the web endpoint the origin and set the container's level to None.",
            "Storage documentation, \"Configure anonymous read access for containers and blobs\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(ContainerCheck.Of subject) {

        if (!subject.isOrigin()) {
            return List.of();
        }
        Extent extent = subject.anyone(Ability.READ);
        if (extent.kind() == Extent.Kind.UNKNOWN) {
            return subject.open(extent.needsOr("container", subject.id()));
        }
        boolean byBlobs =
                subject.container().isOpen().and(subject.container().account().allowsAnonymous()) == Truth.TRUE;
        if (extent.kind() != Extent.Kind.ALL || !byBlobs) {
            return subject.clean();
        }
        String says = "Anyone can read the container " + subject.container().name()
                + " at the blob endpoint, around the edge in front of it.";
        return List.of(new Verdict.Flagged(
                subject.finding(CARD, says, extent.because()).with(extent.witness())));
    }
}
