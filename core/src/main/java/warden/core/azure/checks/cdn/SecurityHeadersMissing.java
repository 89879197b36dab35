package warden.core.azure.checks.cdn;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.azure.edge.EdgeRule;
import warden.core.checks.CdnCards;
import warden.core.survey.Need;

/** Finds edges that tell browsers nothing of what a page may do. */
final class SecurityHeadersMissing implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.SECURITY_HEADERS_MISSING.told(
            "cdn-endpoint, front-door-rule",
            "Browsers may be led to plain HTTP, into another site's frame, or take a file for what it is not.",
            "Set the headers by a rule with ModifyResponseHeader.",
            "Azure Front Door, \"Add security headers with Rules Engine\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        if (subject.edge().serves() == Truth.FALSE) {
            return List.of();
        }
        if (subject.site().isEmpty()) {
            return subject.mayServeSite().isEmpty() ? List.of() : subject.open(subject.mayServeSite());
        }
        Set<String> set = new LinkedHashSet<>();
        Truth modelled = Truth.TRUE;
        for (Edge.Route route : subject.edge().routes()) {
            for (EdgeRule rule : route.rules()) {
                modelled = rule.isModelled() ? modelled : Truth.UNKNOWN;
                rule.actions("ModifyResponseHeader").stream()
                        .filter(action -> action.text("headerAction")
                                .filter("Delete"::equals)
                                .isEmpty())
                        .flatMap(action -> action.text("headerName").stream())
                        .forEach(name -> set.add(name.toLowerCase(Locale.ROOT)));
            }
        }
        List<String> missing = Stream.of(
                        "strict-transport-security", "content-security-policy", "x-content-type-options")
                .filter(name -> !set.contains(name))
                .toList();
        if (missing.isEmpty()) {
            return subject.clean();
        }
        if (modelled == Truth.UNKNOWN || !subject.needs().isEmpty()) {
            return subject.open(
                    subject.needs().isEmpty()
                            ? List.of(new Need("front-door-rule", subject.id(), "a rule is not modelled", ""))
                            : subject.needs());
        }
        return subject.flagged(
                CARD,
                "The edge " + subject.edge().host() + " sends no " + String.join(", ", missing) + ".",
                List.of(subject.edge().at()));
    }
}
