package warden.core.azure.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.HostCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CdnCards;
import warden.core.names.Lead;
import warden.core.survey.Need;

/** Finds hosts that lead to an edge which does not know them. */
final class HostNotOnDistribution implements HostCheck {
    private static final CheckCard CARD = CdnCards.HOST_NOT_ON_DISTRIBUTION.told(
            "dns-records, front-door-route, cdn-endpoint",
            "Visitors of the host get an error of the edge.",
            "Make the host a custom domain of the edge and add it to a route, or lead it elsewhere.",
            "Azure Front Door, \"Configure a custom domain on Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(HostCheck.Of subject) {

        for (Lead lead : subject.leads()) {
            Optional<Edge> edge = subject.context().cloud().edgeNamed(lead.target());
            if (edge.isEmpty()) {
                continue;
            }
            boolean isKnown = edge.get().routes().stream()
                    .filter(route -> route.isOn() != Truth.FALSE)
                    .anyMatch(route -> route.hosts().contains(subject.host()));
            if (isKnown) {
                return subject.clean();
            }
            List<Need> open = new ArrayList<>(edge.get().unread());
            edge.get().routes().forEach(route -> open.addAll(route.unread()));
            if (!open.isEmpty()) {
                return subject.open(open);
            }
            return subject.flagged(
                    CARD,
                    subject.host() + " leads to the edge " + edge.get().host() + ", which does not answer for it.",
                    List.of(lead.record().at(), edge.get().at()));
        }
        return List.of();
    }
}
