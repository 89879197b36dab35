package warden.core.azure.checks.certificate;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DomainCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CertificateCards;
import warden.core.survey.Need;

/** Finds custom domains whose certificate is still waited for. */
final class CertificateNotIssued implements DomainCheck {
    private static final CheckCard CARD = CertificateCards.CERTIFICATE_NOT_ISSUED.told(
            "cdn-custom-domain, front-door-custom-domain",
            "Visitors over HTTPS get a warning until it is there.",
            "Add the record that the provider waits for, and wait.",
            "Azure Front Door, \"Domains in Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DomainCheck.Of subject) {

        Edge.Domain domain = subject.domain();
        if (!subject.edge().isFrontDoor()) {
            return domain.state().equals("Enabling")
                    ? subject.flagged(
                            CARD,
                            "HTTPS of " + domain.host() + " is being switched on"
                                    + (domain.detail().isEmpty() ? "" : " (" + domain.detail() + ")") + ".",
                            List.of(domain.at()))
                    : domain.state().isEmpty() ? subject.open(domain.unread()) : subject.clean();
        }
        return switch (domain.state()) {
            case "Approved", "PendingRevalidation" -> subject.clean();
            case "Submitting", "Pending", "Rejected", "TimedOut" -> {
                String name = "_dnsauth." + domain.host();
                Optional<String> token = domain.validationToken();
                boolean isThere = token.isPresent()
                        && subject.context().cloud().hosts().recordsOfAnyType(name).stream()
                                .anyMatch(record -> record.values().contains(token.get()));
                yield subject.flagged(
                        CARD,
                        domain.host() + " is not validated (" + domain.state() + "): it waits for the TXT record "
                                + name
                                + token.map(text -> " with " + text).orElse("")
                                + (isThere ? ", which a surveyed zone has." : ", which no surveyed zone has."),
                        List.of(domain.at()));
            }
            default ->
                subject.open(
                        new Need("front-door-custom-domain", domain.id(), "whether it is validated is not known", ""));
        };
    }
}
