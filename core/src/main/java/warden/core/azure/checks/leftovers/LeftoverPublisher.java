package warden.core.azure.checks.leftovers;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.AzureCheck;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.Subject;
import warden.core.azure.principal.Principal;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.Roles;
import warden.core.azure.site.AzureAccount;
import warden.core.checks.LeftoversCards;
import warden.core.survey.Need;

/** Finds principals whose only rights are on something that is gone. */
final class LeftoverPublisher implements AzureCheck<LeftoverPublisher.Of> {
    private static final CheckCard CARD = LeftoversCards.LEFTOVER_PUBLISHER.told(
            "role-assignment, storage-account-list",
            "A credential that nobody watches can still be misused.",
            "Remove the assignments and the application.",
            "Azure role-based access control, \"Remove Azure role assignments\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** A principal that is no person. */
    record Of(AzureAccount account, Principal principal) implements Subject {
        @Override
        public String id() {
            return principal.id();
        }

        @Override
        public Optional<String> site() {
            return Optional.empty();
        }
    }

    @Override
    public List<Of> subjects(AzureContext context) {
        return context.subjects(LeftoverPublisher.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        List<Of> all = new ArrayList<>();
        for (AzureAccount account : context.cloud().accounts()) {
            for (Principal principal : account.reach().principals().all()) {
                if (principal.id().startsWith("servicePrincipals/")) {
                    all.add(new Of(account, principal));
                }
            }
        }
        return List.copyOf(all);
    }

    @Override
    public List<Verdict> unread(AzureContext context) {
        return List.of();
    }

    @Override
    public List<Verdict> examine(Of subject) {
        List<Assignment> own = subject
                .account()
                .reach()
                .rules()
                .roles()
                .of(subject.principal().objectId())
                .stream()
                .map(Roles.Own::assignment)
                .filter(each -> each.principalId().equals(subject.principal().objectId()))
                .toList();
        boolean onlyStorage = !own.isEmpty()
                && own.stream()
                        .allMatch(each -> ResourceId.accountIn(each.scope()).isPresent());
        boolean allGone = onlyStorage
                && own.stream().noneMatch(each -> subject.account()
                        .subscription()
                        .account(each.scope())
                        .isPresent());
        if (!allGone) {
            return List.of();
        }
        Optional<Need> open = subject.account().subscription().unlistedAccounts();
        if (open.isPresent()) {
            return subject.open(open.get());
        }
        return subject.flagged(
                CARD,
                subject.principal().called() + " has rights only on "
                        + own.get(0).scope() + ", which is gone.",
                own.stream().map(Assignment::at).limit(3).toList());
    }
}
