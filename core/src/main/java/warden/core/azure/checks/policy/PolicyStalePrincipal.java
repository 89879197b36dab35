package warden.core.azure.checks.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.Item;
import warden.core.azure.audit.AzureCheck;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.Subject;
import warden.core.azure.principal.Principal;
import warden.core.azure.role.Assignment;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.WebSite;
import warden.core.checks.PolicyCards;
import warden.core.survey.Reading;

/** Finds roles that are assigned to somebody who is gone. */
final class PolicyStalePrincipal implements AzureCheck<PolicyStalePrincipal.Of> {
    private static final CheckCard CARD = PolicyCards.POLICY_STALE_PRINCIPAL.told(
            "role-assignment, service-principal",
            "The right lies about for whoever gets that identity back.",
            "Remove the assignment.",
            "Azure role-based access control, \"Troubleshoot Azure RBAC\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** An assignment at a site's scope. */
    record Of(AzureAccount account, Assignment assignment, Optional<String> site) implements Subject {
        @Override
        public String id() {
            return assignment.id();
        }
    }

    @Override
    public List<Of> subjects(AzureContext context) {
        return context.subjects(PolicyStalePrincipal.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        List<Of> all = new ArrayList<>();
        for (AzureAccount account : context.cloud().accounts()) {
            for (Assignment assignment : account.reach().rules().roles().assignments()) {
                Optional<WebSite> site = context.cloud().sites().stream()
                        .filter(each ->
                                each.account() == account && each.container().isPresent())
                        .filter(each -> account.reach()
                                .rules()
                                .roles()
                                .covers(assignment, each.container().get().id()))
                        .findFirst();
                site.ifPresent(each -> all.add(new Of(account, assignment, Optional.of(each.name()))));
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
        String id = "servicePrincipals/" + subject.assignment().principalId();
        if (!subject.account().subscription().asked("service-principal", id)) {
            return List.of();
        }
        Optional<Principal> principal = subject.account()
                .reach()
                .principals()
                .named(subject.assignment().principalId());
        Reading<Item> read = subject.account().subscription().one("service-principal", id);
        if (read.isUnread()) {
            return subject.open(read.missing().orElseThrow());
        }
        if (principal.filter(Principal::gone).isEmpty()) {
            return subject.clean();
        }
        return subject.flagged(
                CARD,
                "The role " + subject.assignment().roleName() + " is assigned to "
                        + subject.assignment().principalId() + ", whom the directory does not know any more.",
                List.of(subject.assignment().at()));
    }
}
