package warden.core.azure.checks.cdn;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.azure.edge.EdgeRule;
import warden.core.checks.CdnCards;
import warden.core.survey.Need;

/** Finds edges that serve plain HTTP without sending visitors to HTTPS. */
final class ViewerPlainHttp implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.VIEWER_PLAIN_HTTP.told(
            "cdn-endpoint, front-door-route",
            "Everybody on the way can read and change what visitors get.",
            "Redirect plain HTTP to HTTPS: by the route's own switch, or by a rule over RequestScheme.",
            "Azure Front Door, \"URL redirect and URL rewrite\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        Edge edge = subject.edge();
        if (edge.serves() == Truth.FALSE) {
            return List.of();
        }
        for (Edge.Route route : edge.routes()) {
            boolean serves = route.isOn() != Truth.FALSE
                    && route.takesHttp().isPossible()
                    && route.redirectsToHttps() == Truth.FALSE;
            if (!serves) {
                continue;
            }
            Truth redirects = redirects(route);
            if (redirects == Truth.TRUE) {
                continue;
            }
            if (redirects == Truth.UNKNOWN || !subject.needs().isEmpty()) {
                return subject.open(
                        subject.needs().isEmpty()
                                ? List.of(new Need("front-door-rule", route.id(), "a rule is not modelled", ""))
                                : subject.needs());
            }
            if (route.takesHttp() == Truth.UNKNOWN) {
                return subject.open(
                        new Need("cdn-endpoint", edge.id(), "whether it takes plain HTTP is not known", ""));
            }
            return subject.flagged(
                    CARD,
                    "The edge " + edge.host() + " serves plain HTTP and sends nobody to HTTPS.",
                    List.of(route.at()));
        }
        return subject.open(subject.needs());
    }

    /** Returns whether a rule sends all plain requests to HTTPS. */
    private static Truth redirects(Edge.Route route) {
        Truth any = Truth.FALSE;
        for (EdgeRule rule : route.rules()) {
            boolean redirects = rule.actions("UrlRedirect").stream()
                    .anyMatch(action -> action.text("destinationProtocol")
                            .filter("Https"::equalsIgnoreCase)
                            .isPresent());
            if (redirects
                    && rule.isModelled()
                    && rule.conditions().stream().allMatch(ViewerPlainHttp::holdsForAllPlain)) {
                return any == Truth.UNKNOWN ? any : Truth.TRUE;
            }
            // A rule that stops may keep some requests from the one that redirects.
            if (!rule.isModelled() || rule.stops()) {
                any = Truth.UNKNOWN;
            }
        }
        return any;
    }

    private static boolean holdsForAllPlain(EdgeRule.Condition condition) {
        boolean namesPlain = condition.values().stream().anyMatch("HTTP"::equalsIgnoreCase);
        return condition.name().equals("RequestScheme")
                && condition.operator().equals("Equal")
                && (condition.negated() ? !namesPlain : namesPlain);
    }
}
