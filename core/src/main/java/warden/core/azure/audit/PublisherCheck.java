package warden.core.azure.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.Verdict;
import warden.core.azure.access.AccessRules;
import warden.core.azure.account.ResourceId;
import warden.core.azure.publishing.AzurePublisher;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.Roles;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.WebSite;
import warden.core.survey.Need;

/** A check that asks its question of every principal that publishes. */
public interface PublisherCheck extends AzureCheck<PublisherCheck.Of> {
    /** One publisher. */
    record Of(AzureContext context, AzurePublisher publisher) implements Subject {
        @Override
        public String id() {
            return publisher.id();
        }

        @Override
        public Optional<String> site() {
            return publisher.sites().stream().findFirst().map(WebSite::name);
        }

        /** Returns how it is called. */
        public String called() {
            return publisher.principal().called();
        }

        public AccessRules rules() {
            return publisher.account().reach().rules();
        }

        /** Returns the assignments that are surely, or maybe, its own. */
        public List<Assignment> assignments() {
            return rules().roles().of(publisher.principal().objectId()).stream()
                    .map(Roles.Own::assignment)
                    .toList();
        }

        /** Returns whether an assignment is surely its own. */
        public Truth isOwn(Assignment assignment) {
            return rules().roles().isTo(assignment, publisher.principal().objectId());
        }

        /** True for a scope that is one of its containers, or lies within. */
        public boolean isOwnContainer(String scope) {
            return publisher.sites().stream()
                    .flatMap(each -> each.storeIds().stream())
                    .anyMatch(store -> ResourceId.covers(store, scope));
        }

        /** True for a scope that is one of its edges. */
        public boolean isOwnEdge(String scope) {
            return publisher.sites().stream()
                    .flatMap(each -> each.edgeIds().stream())
                    .anyMatch(edge -> ResourceId.covers(edge, scope));
        }

        /** Returns what keeps its rights from being known as a whole. */
        public List<Need> openRoles() {
            List<Need> open = new ArrayList<>();
            rules().roles().openAssignments().ifPresent(open::add);
            assignments().forEach(each -> each.unread().ifPresent(open::add));
            return open;
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(PublisherCheck.class, () -> context.publishing().principals().stream()
                .map(publisher -> new Of(context, publisher))
                .toList());
    }

    @Override
    default List<Verdict> unread(AzureContext context) {
        List<Verdict> open = new ArrayList<>();
        context.publishing()
                .possible()
                .forEach(each -> open.add(new Verdict.Unknown(
                        each.principal().id(),
                        Optional.of(each.site().name()),
                        each.needs().isEmpty()
                                ? List.of(new Need(
                                        "role-assignment-list",
                                        each.principal().id(),
                                        "whether it publishes is not known",
                                        ""))
                                : each.needs())));
        for (AzureAccount account : context.cloud().accounts()) {
            // A site that a list would have named has publishers too.
            account.subscription()
                    .unlistedAccounts()
                    .ifPresent(need -> open.add(
                            new Verdict.Unknown(account.subscription().id(), Optional.empty(), List.of(need))));
            account.reach()
                    .rules()
                    .roles()
                    .openAssignments()
                    .ifPresent(need -> open.add(
                            new Verdict.Unknown(account.subscription().id(), Optional.empty(), List.of(need))));
        }
        return open;
    }
}
