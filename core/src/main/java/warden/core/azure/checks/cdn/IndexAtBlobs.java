package warden.core.azure.checks.cdn;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.azure.edge.EdgeRule;
import warden.core.survey.Need;

/** Whether an edge before a blob endpoint rewrites addresses that name a folder. */
final class IndexAtBlobs {
    private IndexAtBlobs() {}

    static List<Verdict> examine(EdgeCheck.Of subject, CheckCard card, String path, String says) {
        for (Edge.Route route : subject.edge().routes()) {
            boolean isBlobs = route.live().stream().anyMatch(origin -> subject.storage(origin)
                    .filter(storage -> !storage.isWeb())
                    .isPresent());
            if (!isBlobs || route.isOn() == Truth.FALSE) {
                continue;
            }
            Truth rewritten = Truth.FALSE;
            EdgeRule.Asked asked = new EdgeRule.Asked("https", subject.edge().host(), "GET", path, "");
            for (EdgeRule rule : route.rules()) {
                Truth holds = rule.holds(asked).and(rule.isModelled() ? Truth.TRUE : Truth.UNKNOWN);
                boolean changes = !rule.actions("UrlRewrite").isEmpty()
                        || !rule.actions("UrlRedirect").isEmpty();
                rewritten = rewritten.or(changes || !rule.isModelled() ? holds : Truth.FALSE);
            }
            if (rewritten == Truth.TRUE) {
                continue;
            }
            if (rewritten == Truth.UNKNOWN || !subject.needs().isEmpty()) {
                return subject.open(
                        subject.needs().isEmpty()
                                ? List.of(new Need("front-door-rule", route.id(), "a rule is not modelled", ""))
                                : subject.needs());
            }
            return subject.flagged(card, says, List.of(route.at()));
        }
        boolean any = subject.edge().liveOrigins().stream().anyMatch(origin -> subject.storage(origin)
                .filter(storage -> !storage.isWeb())
                .isPresent());
        return any ? subject.open(subject.needs()) : List.of();
    }
}
