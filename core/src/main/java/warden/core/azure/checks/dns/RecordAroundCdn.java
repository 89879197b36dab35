package warden.core.azure.checks.dns;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.HostCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.DnsCards;
import warden.core.names.Lead;

/** Finds hosts of an edge whose record leads around it. */
final class RecordAroundCdn implements HostCheck {
    private static final CheckCard CARD = DnsCards.RECORD_AROUND_CDN.told(
            "dns-records, cdn-endpoint, front-door-endpoint",
            "Visitors go around the edge, or fail in TLS.",
            "Lead the host to the edge.",
            "Azure DNS, \"Alias records overview\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(HostCheck.Of subject) {

        List<Edge> edges = subject.context().cloud().edgesOf(subject.host()).stream()
                .filter(edge -> edge.hosts().contains(subject.host()))
                .toList();
        if (edges.isEmpty()) {
            return List.of();
        }
        Optional<Lead> around = subject.leads().stream()
                .filter(lead -> subject.context().cloud().storage(lead.target()).isPresent())
                .findFirst();
        if (around.isEmpty()) {
            return subject.clean();
        }
        return subject.flagged(
                CARD,
                subject.host() + " is a custom domain of the edge "
                        + edges.get(0).host() + ", and its record leads straight to the storage.",
                List.of(around.get().record().at(), edges.get(0).at()));
    }
}
