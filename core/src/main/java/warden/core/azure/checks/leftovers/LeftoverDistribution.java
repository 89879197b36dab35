package warden.core.azure.checks.leftovers;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.LeftoversCards;
import warden.core.survey.Need;

/** Finds edges that nothing leads to. */
final class LeftoverDistribution implements EdgeCheck {
    private static final CheckCard CARD = LeftoversCards.LEFTOVER_DISTRIBUTION.told(
            "cdn-endpoint, front-door-endpoint, dns-records",
            "It costs, and nobody watches it.",
            "Remove the edge.",
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
        if (isUsed) {
            return subject.clean();
        }
        List<Need> open = new ArrayList<>(subject.needs());
        subject.context().cloud().unreadZones().forEach(open::add);
        if (!open.isEmpty()) {
            return subject.open(open);
        }
        return subject.flagged(
                CARD,
                "No host leads to the edge " + edge.host() + (edge.serves() == Truth.FALSE ? ", and it is off." : "."),
                List.of(edge.at()));
    }
}
