package warden.core.azure.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.Verdict;
import warden.core.azure.account.Container;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.account.WebHosting;
import warden.core.azure.site.WebSite;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** A check that asks its question of the web container of every site. */
public interface WebCheck extends AzureCheck<WebCheck.Of> {
    /** One site's container. */
    record Of(AzureContext context, WebSite webSite, Container web) implements Subject {
        @Override
        public String id() {
            return web.id();
        }

        @Override
        public Optional<String> site() {
            return Optional.of(webSite.name());
        }

        public StorageAccount account() {
            return web.account();
        }

        public Reading<WebHosting> hosting() {
            return web.account().hosting();
        }

        /** Returns whether the website is on. */
        public Truth isOn() {
            return hosting().found().map(WebHosting::enabled).orElse(Truth.UNKNOWN);
        }

        /** Returns that the settings of the website have to be read. */
        public Need hostingNeed() {
            return hosting()
                    .missing()
                    .orElse(new Need(
                            "static-website",
                            web.account().id() + "/blobServices/default",
                            "whether the website is on is not in the answer",
                            "Microsoft.Storage/storageAccounts/blobServices/read"));
        }

        /** Returns that the blobs have to be listed. */
        public Need blobsNeed() {
            return web.blobs()
                    .open()
                    .orElse(new Need(
                            "container-blobs",
                            web.id(),
                            "never asked",
                            "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/read"));
        }

        /** True where a record leads straight to the web endpoint, or an edge fetches from it. */
        public boolean isLedTo() {
            return context.cloud().originsOf(web.account()).stream().anyMatch(origin -> origin.isWeb())
                    || !context.cloud().leadsTo(web.account()).isEmpty();
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(WebCheck.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        List<Of> all = new ArrayList<>();
        for (WebSite site : context.cloud().sites()) {
            site.container().ifPresent(web -> all.add(new Of(context, site, web)));
        }
        return List.copyOf(all);
    }

    @Override
    default List<Verdict> unread(AzureContext context) {
        return AccountCheck.unlisted(context);
    }
}
