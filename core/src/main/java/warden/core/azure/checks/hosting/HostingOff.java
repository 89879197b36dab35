package warden.core.azure.checks.hosting;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;

/** Finds websites that are switched off though something leads to them. */
final class HostingOff implements WebCheck {
    private static final CheckCard CARD = HostingCards.HOSTING_OFF.told(
            "blob-service, static-website",
            "The web endpoint serves nothing at all.",
            "Switch the static website on.",
            "Storage documentation, \"Static website hosting in Azure Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        boolean isMeant = subject.web().blobs().hasAny() == Truth.TRUE || subject.isLedTo();
        if (subject.account().servesWebsites() == Truth.FALSE) {
            return List.of();
        }
        return switch (subject.isOn()) {
            case TRUE -> subject.clean();
            case UNKNOWN -> subject.open(subject.hostingNeed());
            case FALSE ->
                isMeant
                        ? subject.flagged(
                                CARD,
                                "The static website of " + subject.account().name()
                                        + " is off, so that its web endpoint serves nothing.",
                                subject.hosting().citation())
                        : List.of();
        };
    }
}
