package warden.core.azure.checks.hosting;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.WebCheck;
import warden.core.azure.edge.EdgeRule;
import warden.core.checks.HostingCards;
import warden.core.site.SiteFile;
import warden.core.survey.Need;

/** Finds sites of pages on which unknown addresses show the index with status 200. */
final class SinglePageMasksErrors implements WebCheck {
    private static final CheckCard CARD = HostingCards.SINGLE_PAGE_MASKS_ERRORS.told(
            "front-door-rule",
            "Search engines and monitors take wrong addresses for pages.",
            "Rewrite the paths of the application only.",
            "Azure Front Door, \"URL redirect and URL rewrite\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {
        if (subject.webSite().routing() == SiteFile.Routing.SINGLE_PAGE) {
            return List.of();
        }
        if (subject.isOn() != Truth.TRUE) {
            return subject.isOn() == Truth.UNKNOWN ? subject.open(subject.hostingNeed()) : List.of();
        }
        if (subject.webSite().edges().isEmpty()) {
            List<Need> edges = subject.context().cloud().unknownEdges(subject.webSite());
            return edges.isEmpty() ? subject.clean() : subject.open(edges);
        }
        DeepLink link = DeepLink.of(subject);
        return switch (link.isIndexWith200()) {
            case FALSE -> subject.clean();
            case UNKNOWN -> subject.open(link.needs());
            case TRUE ->
                subject.flagged(
                        CARD,
                        "Unknown addresses show the index document with status 200, by a rewrite of the edge.",
                        subject.webSite().edges().get(0).routes().stream()
                                .flatMap(route -> route.rules().stream())
                                .filter(rule -> !rule.actions("UrlRewrite").isEmpty())
                                .map(EdgeRule::at)
                                .findFirst()
                                .or(() -> subject.hosting().citation()));
        };
    }
}
