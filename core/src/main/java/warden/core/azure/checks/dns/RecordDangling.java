package warden.core.azure.checks.dns;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.audit.HostCheck;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.EndpointName;
import warden.core.checks.DnsCards;
import warden.core.names.Lead;
import warden.core.survey.Need;

/** Finds records that lead to something that does not exist. */
final class RecordDangling implements HostCheck {
    private static final CheckCard CARD = DnsCards.RECORD_DANGLING.told(
            "dns-records, storage-account-list, cdn-endpoint-list",
            "Whoever makes something of that name serves whatever they like under your name.",
            "Remove the record, or create again what it leads to.",
            "Azure security documentation, \"Prevent dangling DNS entries and avoid subdomain takeover\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(HostCheck.Of subject) {

        for (Lead lead : subject.leads()) {
            List<Verdict> verdicts = of(subject, lead);
            if (!verdicts.isEmpty()) {
                return verdicts;
            }
        }
        return List.of();
    }

    private static List<Verdict> of(Of subject, Lead lead) {
        AzureCloud cloud = subject.context().cloud();
        Optional<EndpointName> name = EndpointName.parse(lead.target());
        if (name.isEmpty()) {
            return List.of();
        }
        String what;
        List<Need> open = new ArrayList<>();
        boolean isThere;
        Severity severity = Severity.CRITICAL;
        switch (name.get().kind()) {
            case WEB, BLOB -> {
                what = "the storage account " + name.get().account();
                List<StorageAccount> called = cloud.storageAccounts().stream()
                        .filter(account -> account.name().equals(name.get().account()))
                        .toList();
                isThere = cloud.storage(lead.target()).isPresent()
                        || (name.get().kind() == EndpointName.Kind.BLOB && !called.isEmpty())
                        || called.stream()
                                .anyMatch(account -> account.settings().isUnread());
                if (called.stream().anyMatch(account -> account.webHosts().isEmpty())) {
                    open.add(new Need(
                            "storage-account",
                            name.get().account(),
                            "its endpoints are not in the answer",
                            "Microsoft.Storage/storageAccounts/read"));
                }
                cloud.accounts()
                        .forEach(account ->
                                account.subscription().unlistedAccounts().ifPresent(open::add));
            }
            case CLASSIC_EDGE -> {
                what = "the CDN endpoint " + lead.target();
                isThere = cloud.edgeNamed(lead.target()).isPresent();
                open.addAll(cloud.unreadEdges());
            }
            case FRONT_DOOR -> {
                what = "the Front Door endpoint " + lead.target();
                isThere = cloud.edgeNamed(lead.target()).isPresent();
                open.addAll(cloud.unreadEdges());
                severity = Severity.MEDIUM;
            }
            case STATIC_SITE -> {
                what = "the static web app " + lead.target();
                isThere = cloud.accounts().stream()
                        .flatMap(account -> account.managedFronts().stream())
                        .anyMatch(item -> item.text("defaultHostname")
                                .filter(lead.target()::equalsIgnoreCase)
                                .isPresent());
                cloud.accounts().forEach(account -> {
                    account.unlistedManagedFronts().ifPresent(open::add);
                    account.managedFronts().stream()
                            .filter(item -> item.text("defaultHostname").isEmpty())
                            .forEach(item -> open.add(new Need(
                                    "static-site-list",
                                    item.id(),
                                    "its host is not in the answer",
                                    "Microsoft.Web/staticSites/read")));
                });
                severity = Severity.MEDIUM;
            }
            case FRONT_DOOR_CLASSIC -> {
                return subject.open(new Need(
                        "dns-records", lead.record().zone(), "Front Door of the classic kind is not read", ""));
            }
            default -> {
                return subject.site().isEmpty()
                        ? List.of()
                        : subject.open(
                                new Need("dns-records", lead.record().zone(), "what it leads to is not surveyed", ""));
            }
        }
        if (isThere) {
            return subject.clean();
        }
        if (!open.isEmpty()) {
            return subject.open(open);
        }
        return List.of(new Verdict.Flagged(subject.finding(
                        CARD,
                        subject.host() + " leads to " + what
                                + ", which is not in the surveyed subscription; another of yours may hold it.",
                        List.of(lead.record().at()))
                .as(severity)));
    }
}
