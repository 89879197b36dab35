package warden.core.azure.audit;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Verdict;
import warden.core.azure.publishing.KeyPublisher;
import warden.core.azure.site.WebSite;
import warden.core.survey.Citation;

/** A check that asks its question of every account key with which pipelines publish. A pipeline that could not be read may use one. */
public interface KeyCheck extends AzureCheck<KeyCheck.Of> {
    /** One account's key, or the URLs that are signed with it. */
    record Of(AzureContext context, KeyPublisher publisher) implements Subject {
        @Override
        public String id() {
            return publisher.id();
        }

        @Override
        public Optional<String> site() {
            return publisher.sites().stream().findFirst().map(WebSite::name);
        }

        /** Returns the steps that work with it, as evidence. */
        public List<Citation> steps() {
            return publisher.uses().stream()
                    .map(use -> use.pipeline().cite(use.step()))
                    .toList();
        }

        /** Says where it is used first: {@code publish.yml:31}. */
        public String place() {
            KeyPublisher.Use first = publisher.uses().get(0);
            return first.pipeline().place(first.step());
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(KeyCheck.class, () -> context.publishing().keys().stream()
                .map(publisher -> new Of(context, publisher))
                .toList());
    }

    @Override
    default List<Verdict> unread(AzureContext context) {
        return context.unreadPipelines();
    }
}
