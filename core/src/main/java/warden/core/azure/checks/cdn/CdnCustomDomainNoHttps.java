package warden.core.azure.checks.cdn;

import java.util.List;
import java.util.Locale;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DomainCheck;
import warden.core.azure.edge.Edge;
import warden.core.survey.Need;

/** Finds custom domains without HTTPS. */
final class CdnCustomDomainNoHttps implements DomainCheck {
    private static final CheckCard CARD = new CheckCard(
            "cdn-custom-domain-no-https",
            Area.CDN,
            Severity.HIGH,
            "a custom domain of an edge has no HTTPS",
            "cdn-custom-domain",
            "Visitors over HTTPS get a warning, and everybody else is served in the open.",
            "Switch HTTPS on for the custom domain.",
            "Azure CDN, \"Configure HTTPS on an Azure CDN custom domain\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DomainCheck.Of subject) {

        Edge.Domain domain = subject.domain();
        if (subject.edge().isFrontDoor()) {
            return List.of();
        }
        return switch (domain.state()) {
            case "Enabled", "Enabling" -> subject.clean();
            case "Disabled", "Disabling", "Failed" ->
                subject.flagged(
                        CARD,
                        "HTTPS of " + domain.host() + " is " + domain.state().toLowerCase(Locale.ROOT)
                                + (domain.detail().isEmpty() ? "" : " (" + domain.detail() + ")") + ".",
                        List.of(domain.at()));
            default ->
                subject.open(
                        domain.unread().isEmpty()
                                ? List.of(new Need(
                                        "cdn-custom-domain", domain.id(), "what its HTTPS is at is not known", ""))
                                : domain.unread());
        };
    }
}
