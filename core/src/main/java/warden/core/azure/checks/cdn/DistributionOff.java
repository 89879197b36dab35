package warden.core.azure.checks.cdn;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CdnCards;
import warden.core.survey.Need;

/** Finds edges that are off though a host leads to them. */
final class DistributionOff implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.DISTRIBUTION_OFF.told(
            "cdn-endpoint, front-door-endpoint",
            "Visitors of its hosts get an error.",
            "Start the edge, or lead its hosts elsewhere.",
            "Azure Front Door, \"Endpoints in Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        Edge edge = subject.edge();
        boolean isUsed = !edge.hosts().isEmpty()
                || !subject.context()
                        .cloud()
                        .hosts()
                        .hostsLeadingTo(edge.host())
                        .isEmpty();
        if (!isUsed) {
            return List.of();
        }
        boolean noRoute =
                !edge.routes().isEmpty() && edge.routes().stream().allMatch(route -> route.isOn() == Truth.FALSE);
        boolean noOrigin = edge.routes().stream()
                .filter(route -> route.isOn() != Truth.FALSE)
                .anyMatch(route -> !route.origins().isEmpty() && route.live().isEmpty());
        if (edge.serves() == Truth.FALSE || noRoute || noOrigin) {
            return subject.flagged(
                    CARD,
                    "The edge " + edge.host()
                            + (edge.serves() == Truth.FALSE
                                    ? " is off"
                                    : noRoute ? " has no route that is on" : " has no origin that is on")
                            + ", and hosts lead to it.",
                    List.of(edge.at()));
        }
        if (edge.serves() == Truth.UNKNOWN) {
            return subject.open(new Need("cdn-endpoint", edge.id(), "whether it is on is not known", ""));
        }
        return subject.open(subject.needs());
    }
}
