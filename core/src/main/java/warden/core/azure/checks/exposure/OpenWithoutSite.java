package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.ContainerCheck;
import warden.core.checks.ExposureCards;

/** Finds containers beside the website that anyone can read. */
final class OpenWithoutSite implements ContainerCheck {
    private static final CheckCard CARD = ExposureCards.OPEN_WITHOUT_SITE.told(
            "container, storage-account",
            "What lies in a container that no site uses was not meant for visitors.",
            "Set the container's level of anonymous access to None, and allowBlobPublicAccess of the account to false.",
            "Storage documentation, \"Remediate anonymous read access to blob data\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(ContainerCheck.Of subject) {

        if (subject.container().isWeb() || subject.isOrigin()) {
            return List.of();
        }
        Extent extent = subject.anyone(Ability.READ);
        if (extent.kind() == Extent.Kind.UNKNOWN) {
            return subject.open(extent.needsOr("container", subject.id()));
        }
        if (!extent.isSome()) {
            return subject.clean();
        }
        boolean holdsState = subject.container().blobs().names().stream()
                .anyMatch(name -> name.endsWith(".tfstate") || name.endsWith(".sql") || name.endsWith(".bak"));
        boolean isCalledSo = subject.container().name().matches("(?i).*(tfstate|state|backup|secret|private).*");
        String says = "Anyone can read the blobs of the container "
                + subject.container().name() + " of "
                + subject.container().account().name() + ", which no site needs.";
        return List.of(new Verdict.Flagged(subject.finding(CARD, says, extent.because())
                .as(holdsState || isCalledSo ? Severity.CRITICAL : Severity.HIGH)
                .with(extent.witness())));
    }
}
