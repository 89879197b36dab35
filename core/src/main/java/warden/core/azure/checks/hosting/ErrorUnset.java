package warden.core.azure.checks.hosting;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.WebHosting;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;
import warden.core.site.SiteFile;

/** Finds websites without an error document. */
final class ErrorUnset implements WebCheck {
    private static final CheckCard CARD = HostingCards.ERROR_UNSET.told(
            "static-website",
            "Visitors of unknown addresses see the provider's own page.",
            "Set the path of an error document.",
            "Storage documentation, \"Static website hosting in Azure Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        if (subject.isOn() != Truth.TRUE) {
            return subject.isOn() == Truth.UNKNOWN ? subject.open(subject.hostingNeed()) : List.of();
        }
        if (subject.webSite().routing() == SiteFile.Routing.SINGLE_PAGE) {
            return List.of();
        }
        if (subject.hosting().found().flatMap(WebHosting::error).isPresent() || DeepLink.isRewritten(subject)) {
            return subject.clean();
        }
        return subject.flagged(
                CARD,
                "No error document is set, so that visitors of unknown addresses see the provider's own page.",
                subject.hosting().citation());
    }
}
