package warden.core.azure.checks.hosting;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;

/** Finds websites that are on, empty, and led to by nothing. */
final class HostingUnused implements WebCheck {
    private static final CheckCard CARD = HostingCards.HOSTING_UNUSED.told(
            "blob-service, container-blobs",
            "It is a door that nobody watches.",
            "Switch the static website off, or upload the site.",
            "Storage documentation, \"Static website hosting in Azure Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        if (subject.isOn() == Truth.UNKNOWN) {
            return subject.open(subject.hostingNeed());
        }
        if (subject.isOn() == Truth.FALSE || subject.isLedTo()) {
            return List.of();
        }
        return switch (subject.web().blobs().hasAny()) {
            case TRUE -> subject.clean();
            case UNKNOWN -> subject.open(subject.blobsNeed());
            case FALSE ->
                subject.flagged(
                        CARD,
                        "The static website of " + subject.account().name()
                                + " is on, holds nothing, and nothing leads to it.",
                        subject.hosting().citation());
        };
    }
}
