package warden.core.azure.checks.policy;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.Item;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.AzureCheck;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.Subject;
import warden.core.azure.principal.Principal;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.Roles;
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
            Map<String, WebSite> firstBelow = new HashMap<>();
            for (WebSite site : context.cloud().sites()) {
                if (site.account() == account && site.container().isPresent()) {
                    scopes(site.container().get().id()).forEach(scope -> firstBelow.putIfAbsent(scope, site));
                }
            }
            for (Assignment assignment : account.reach().rules().roles().assignments()) {
                String scope = ResourceId.key(assignment.scope());
                Optional<WebSite> site = Roles.isAboveSubscriptions(scope)
                        ? firstBelow.values().stream().min(Comparator.comparing(WebSite::name))
                        : Optional.ofNullable(firstBelow.get(scope));
                site.ifPresent(each -> all.add(new Of(account, assignment, Optional.of(each.name()))));
            }
        }
        return List.copyOf(all);
    }

    /** Returns a resource's own scope and all above it within the subscription, as scopes are compared. */
    private static List<String> scopes(String resource) {
        List<String> scopes = new ArrayList<>();
        String key = ResourceId.key(resource);
        for (int end = key.length(); end > 0; end = key.lastIndexOf('/', end - 1)) {
            scopes.add(key.substring(0, end));
        }
        return scopes;
    }

    @Override
    public List<Verdict> unread(AzureContext context) {
        return PolicyUnknownAction.openAssignments(context);
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
