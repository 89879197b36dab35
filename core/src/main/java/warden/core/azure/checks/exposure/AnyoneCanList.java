package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.ContainerCheck;
import warden.core.azure.site.WebSite;
import warden.core.checks.ExposureCards;
import warden.core.site.SitePattern;

/** Finds containers that anyone can list. */
final class AnyoneCanList implements ContainerCheck {
    private static final CheckCard CARD = ExposureCards.ANYONE_CAN_LIST.told(
            "container, storage-account",
            "Whoever can list finds every file that no page links to: drafts, backups, old versions.",
            "Set the container's level of anonymous access to Blob or None.",
            "Storage documentation, \"Configure anonymous read access for containers and blobs\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(ContainerCheck.Of subject) {

        Extent extent = subject.anyone(Ability.LIST);
        if (extent.kind() == Extent.Kind.UNKNOWN) {
            return subject.open(extent.needsOr("container", subject.id()));
        }
        if (!extent.isSome()) {
            return subject.clean();
        }
        boolean isMeantHidden = subject.container().isWeb()
                && subject.context()
                        .cloud()
                        .siteOf(subject.container())
                        .flatMap(WebSite::meant)
                        .filter(SitePattern.WEB_CONTAINER_BEHIND_CDN::equals)
                        .isPresent();
        String says = "Anyone can list the names of all blobs in the container "
                + subject.container().name() + " of "
                + subject.container().account().name() + ".";
        return List.of(new Verdict.Flagged(subject.finding(CARD, says, extent.because())
                .as(isMeantHidden ? Severity.HIGH : Severity.MEDIUM)
                .with(extent.witness())));
    }
}
