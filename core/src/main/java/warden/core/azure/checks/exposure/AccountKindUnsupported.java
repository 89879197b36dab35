package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.AccountCheck;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.WebSite;

/** Finds accounts that cannot serve the site that is meant there. */
final class AccountKindUnsupported implements AccountCheck {
    private static final CheckCard CARD = new CheckCard(
            "account-kind-unsupported",
            Area.HOSTING,
            Severity.HIGH,
            "a storage account of a kind that serves no website",
            "storage-account, container, dns-records",
            "The site cannot be served at all.",
            "Make an account of the kind StorageV2 or BlockBlobStorage, or upgrade this one.",
            "Storage documentation, \"Static website hosting in Azure Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(AccountCheck.Of subject) {

        Truth serves = subject.account().servesWebsites();
        if (serves == Truth.TRUE) {
            return subject.clean();
        }
        boolean isMeant = subject.account().web().settings().found().isPresent()
                || subject.account().webHosts().stream().anyMatch(host -> !subject.context()
                        .cloud()
                        .hosts()
                        .hostsLeadingTo(host)
                        .isEmpty())
                || subject.context().cloud().originsOf(subject.account()).stream()
                        .anyMatch(AzureCloud.EdgeOrigin::isWeb)
                || subject.context()
                        .cloud()
                        .siteOf(subject.account())
                        .flatMap(WebSite::stated)
                        .isPresent();
        if (!isMeant) {
            return List.of();
        }
        if (serves == Truth.UNKNOWN) {
            return subject.open(subject.account().need("whether accounts of its kind serve websites is not known"));
        }
        return subject.flagged(
                CARD,
                "The account " + subject.account().name() + " is of a kind that serves no website.",
                subject.account().settings().found().map(item -> item.at()
                        .at(
                                item.at().path() + "/kind",
                                "kind: " + item.document().text("kind").orElse(""))));
    }
}
