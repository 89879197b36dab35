package warden.core.azure.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.audit.HostCheck;
import warden.core.names.Lead;
import warden.core.survey.Citation;

/** Finds hosts that lead straight to a storage account which cannot serve them. */
final class WebHostUnregistered implements HostCheck {
    private static final CheckCard CARD = new CheckCard(
            "web-host-unregistered",
            Area.HOSTING,
            Severity.HIGH,
            "a record leads a host straight to a storage endpoint that does not serve it",
            "dns-records, storage-account",
            "Visitors get an error in the place of the site.",
            "Put an edge with a certificate for the host before the account.",
            "Storage documentation, \"Map a custom domain to an Azure Blob Storage endpoint\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(HostCheck.Of subject) {

        Optional<Lead> lead = subject.leads().stream()
                .filter(each -> subject.context().cloud().storage(each.target()).isPresent())
                .findFirst();
        if (lead.isEmpty()) {
            return List.of();
        }
        StorageAccount account = subject.context()
                .cloud()
                .storage(lead.get().target())
                .orElseThrow()
                .account();
        if (account.settings().isUnread()) {
            return subject.open(account.need("the account was not read"));
        }
        boolean isRegistered =
                account.customDomain().filter(subject.host()::equals).isPresent();
        Truth secureOnly = account.refusesPlainHttp();
        List<Citation> because = new ArrayList<>(List.of(lead.get().record().at()));
        account.cite("customDomain").ifPresent(because::add);
        if (!isRegistered) {
            return subject.flagged(
                    CARD,
                    subject.host() + " leads straight to the storage account " + account.name()
                            + ", which does not answer to it: visitors get 400, or fail in TLS.",
                    because);
        }
        if (secureOnly == Truth.TRUE) {
            return subject.flagged(
                    CARD,
                    subject.host() + " leads straight to the storage account " + account.name()
                            + ", which has no certificate for it and refuses plain HTTP: there is no working way.",
                    because);
        }
        // Plain HTTP works, which is told as the account's plain HTTP.
        return secureOnly == Truth.FALSE
                ? List.of()
                : subject.open(account.need("whether it refuses plain HTTP is not in the answer"));
    }
}
