package warden.core.azure.checks.policy;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.access.Actions;
import warden.core.azure.audit.AzureCheck;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.Subject;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.azure.site.AzureAccount;
import warden.core.checks.PolicyCards;

/** Finds custom roles that name actions of the storage which do not exist. */
final class PolicyUnknownAction implements AzureCheck<PolicyUnknownAction.Of> {
    private static final CheckCard CARD = PolicyCards.POLICY_UNKNOWN_ACTION.told(
            "role-definition",
            "The role does not give what it was written for.",
            "Correct the action's name.",
            "Azure role-based access control, \"Azure permissions for Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** A custom role that is assigned. */
    record Of(RoleDefinition role) implements Subject {
        @Override
        public String id() {
            return role.id();
        }

        @Override
        public Optional<String> site() {
            return Optional.empty();
        }
    }

    @Override
    public List<Of> subjects(AzureContext context) {
        return context.subjects(PolicyUnknownAction.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        Set<String> seen = new LinkedHashSet<>();
        List<Of> all = new ArrayList<>();
        for (AzureAccount account : context.cloud().accounts()) {
            for (Assignment assignment : account.reach().rules().roles().assignments()) {
                assignment
                        .definition()
                        .filter(role -> role.isCustom() && seen.add(role.guid()))
                        .ifPresent(role -> all.add(new Of(role)));
            }
        }
        return List.copyOf(all);
    }

    /** A role that was not read may name anything. */
    @Override
    public List<Verdict> unread(AzureContext context) {
        List<Verdict> open = new ArrayList<>(openAssignments(context));
        for (AzureAccount account : context.cloud().accounts()) {
            account.reach().rules().roles().assignments().stream()
                    .flatMap(assignment -> assignment.unread().stream())
                    .distinct()
                    .forEach(need -> open.add(new Verdict.Unknown(need.of(), Optional.empty(), List.of(need))));
        }
        return open;
    }

    /** Returns that assignments which were not read may be worse than those that were. */
    static List<Verdict> openAssignments(AzureContext context) {
        return context.cloud().accounts().stream()
                .flatMap(account -> account.reach().rules().roles().openAssignments().stream()
                        .<Verdict>map(need ->
                                new Verdict.Unknown(account.subscription().id(), Optional.empty(), List.of(need))))
                .toList();
    }

    @Override
    public List<Verdict> examine(Of subject) {
        List<String> unknown = subject.role().parts().stream()
                .flatMap(part -> part.dataActions().stream())
                .filter(action -> action.regionMatches(true, 0, BLOBS, 0, BLOBS.length()) && !action.contains("*"))
                .filter(action -> !ActionPattern.isData(action))
                .toList();
        if (unknown.isEmpty()) {
            return subject.clean();
        }
        return subject.flagged(
                CARD,
                "The role " + subject.role().name() + " names " + String.join(", ", unknown)
                        + ", which is no data action of blobs.",
                subject.role().at());
    }

    private static final String BLOBS = Actions.CONTAINERS + "blobs/";
}
