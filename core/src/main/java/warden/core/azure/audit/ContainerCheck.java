package warden.core.azure.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.Verdict;
import warden.core.azure.access.Caller;
import warden.core.azure.account.Container;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.site.WebSite;

/** A check that asks its question of every container. */
public interface ContainerCheck extends AzureCheck<ContainerCheck.Of> {
    /** One container. */
    record Of(AzureContext context, Container container) implements Subject {
        @Override
        public String id() {
            return container.id();
        }

        @Override
        public Optional<String> site() {
            return context.cloud().siteOf(container).map(WebSite::name);
        }

        /** Returns how far an ability reaches for anyone. */
        public Extent anyone(Ability ability) {
            return context.cloud().accountOf(container.account()).reach().extent(container, Caller.ANYONE, ability);
        }

        /** True where an edge's origin leads to it by the blob endpoint. */
        public boolean isOrigin() {
            return context.cloud().originsOf(container.account()).stream()
                    .anyMatch(origin -> !origin.isWeb()
                            && origin.container()
                                    .filter(container.name()::equals)
                                    .isPresent());
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(ContainerCheck.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        List<Of> all = new ArrayList<>();
        for (StorageAccount account : context.cloud().storageAccounts()) {
            for (Container container : account.containers()) {
                boolean isThere = !container.isWeb()
                        || container.settings().found().isPresent()
                        || context.cloud().siteOf(container).isPresent();
                if (isThere) {
                    all.add(new Of(context, container));
                }
            }
        }
        return List.copyOf(all);
    }

    @Override
    default List<Verdict> unread(AzureContext context) {
        List<Verdict> open = new ArrayList<>(AccountCheck.unlisted(context));
        for (StorageAccount account : context.cloud().storageAccounts()) {
            Optional<String> site = context.cloud().siteOf(account).map(WebSite::name);
            account.listed().open().ifPresent(need -> open.add(new Verdict.Unknown(account.id(), site, List.of(need))));
        }
        return open;
    }
}
