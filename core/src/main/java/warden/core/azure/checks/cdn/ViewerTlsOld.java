package warden.core.azure.checks.cdn;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DomainCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CdnCards;
import warden.core.survey.Need;

/** Finds custom domains that accept TLS below 1.2. */
final class ViewerTlsOld implements DomainCheck {
    private static final CheckCard CARD = CdnCards.VIEWER_TLS_OLD.told(
            "cdn-custom-domain, front-door-custom-domain",
            "What is sent by old versions can be read and changed on the way.",
            "Set the lowest TLS version of the custom domain to 1.2.",
            "Azure Front Door, \"End-to-end TLS with Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DomainCheck.Of subject) {

        Edge.Domain domain = subject.domain();
        boolean isClassic = !subject.edge().isFrontDoor();
        if (isClassic && domain.hasCertificate() == Truth.FALSE) {
            return List.of();
        }
        Optional<String> minimum = domain.minimumTls();
        if (minimum.isEmpty()) {
            return subject.open(
                    domain.unread().isEmpty()
                            ? List.of(new Need(
                                    isClassic ? "cdn-custom-domain" : "front-door-custom-domain",
                                    domain.id(),
                                    "its lowest TLS version is not in the answer",
                                    ""))
                            : domain.unread());
        }
        return switch (minimum.get()) {
            case "TLS12", "TLS13" -> subject.clean();
            case "TLS10", "None" ->
                subject.flagged(
                        CARD, domain.host() + " accepts TLS below 1.2 (" + minimum.get() + ").", List.of(domain.at()));
            default ->
                subject.open(new Need(
                        "front-door-custom-domain", domain.id(), "its lowest TLS version is not a known one", ""));
        };
    }
}
