package warden.core.azure.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Verdict;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.WebSite;

/** A check that asks its question of every storage account that holds a site, or to which a record or an origin leads. */
public interface AccountCheck extends AzureCheck<AccountCheck.Of> {
    /** One storage account. */
    record Of(AzureContext context, StorageAccount account) implements Subject {
        @Override
        public String id() {
            return account.id();
        }

        @Override
        public Optional<String> site() {
            return context.cloud().siteOf(account).map(WebSite::name);
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(AccountCheck.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        List<Of> all = new ArrayList<>();
        for (StorageAccount account : context.cloud().storageAccounts()) {
            boolean isLedTo = !context.cloud().originsOf(account).isEmpty()
                    || account.hosts().anyMatch(host -> !context.cloud()
                            .hosts()
                            .hostsLeadingTo(host)
                            .isEmpty());
            if (isLedTo || context.cloud().siteOf(account).isPresent()) {
                all.add(new Of(context, account));
            }
        }
        return List.copyOf(all);
    }

    @Override
    default List<Verdict> unread(AzureContext context) {
        return unlisted(context);
    }

    /** Returns the open verdicts for storage accounts that a list would have named. */
    static List<Verdict> unlisted(AzureContext context) {
        List<Verdict> open = new ArrayList<>();
        for (AzureAccount account : context.cloud().accounts()) {
            account.subscription()
                    .unlistedAccounts()
                    .ifPresent(need -> open.add(
                            new Verdict.Unknown(account.subscription().id(), Optional.empty(), List.of(need))));
        }
        return open;
    }
}
