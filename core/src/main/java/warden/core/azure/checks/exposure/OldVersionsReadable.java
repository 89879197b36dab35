package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.ContainerCheck;
import warden.core.checks.ExposureCards;
import warden.core.survey.Need;

/** Leaves open whether old versions can be read where versions are kept and a container is open. */
final class OldVersionsReadable implements ContainerCheck {
    private static final CheckCard CARD = ExposureCards.OLD_VERSIONS_READABLE.told(
            "container, blob-service",
            "What was taken back may still be read.",
            "Set the container's level of anonymous access to None.",
            "Storage documentation, \"Blob versioning\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(ContainerCheck.Of subject) {

        Truth keeps = subject.container()
                .account()
                .blobService()
                .found()
                .map(item -> Truth.of(item.flag("isVersioningEnabled").orElse(false)))
                .orElse(Truth.UNKNOWN);
        boolean isOpen =
                subject.container().isOpen().and(subject.container().account().allowsAnonymous()) == Truth.TRUE;
        if (keeps != Truth.TRUE || !isOpen) {
            return List.of();
        }
        return subject.open(
                new Need("container", subject.id(), "whether old versions are served to anyone is not documented", ""));
    }
}
