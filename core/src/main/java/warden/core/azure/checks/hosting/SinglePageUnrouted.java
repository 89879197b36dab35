package warden.core.azure.checks.hosting;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;
import warden.core.site.SiteFile;

/** Finds single-page applications whose deep links do not show the index. */
final class SinglePageUnrouted implements WebCheck {
    private static final CheckCard CARD = HostingCards.SINGLE_PAGE_UNROUTED.told(
            "static-website, front-door-rule",
            "Links into the application end in an error.",
            "Make the index document the error document too, or rewrite unknown paths to it at the edge.",
            "Azure Front Door, \"URL redirect and URL rewrite\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        if (subject.webSite().routing() != SiteFile.Routing.SINGLE_PAGE) {
            return List.of();
        }
        if (subject.isOn() != Truth.TRUE) {
            return subject.isOn() == Truth.UNKNOWN ? subject.open(subject.hostingNeed()) : List.of();
        }
        DeepLink link = DeepLink.of(subject);
        return switch (link.showsIndex()) {
            case TRUE -> subject.clean();
            case UNKNOWN -> subject.open(link.needs());
            case FALSE ->
                subject.flagged(
                        CARD,
                        "Links into the application show neither the index document by the error document nor by a rewrite.",
                        subject.hosting().citation());
        };
    }
}
