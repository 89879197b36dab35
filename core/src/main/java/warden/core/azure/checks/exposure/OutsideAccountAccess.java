package warden.core.azure.checks.exposure;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.access.AccessRules;
import warden.core.azure.access.Actions;
import warden.core.azure.account.Item;
import warden.core.azure.account.Listed;
import warden.core.azure.audit.AzureCheck;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.Subject;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.azure.role.Roles;
import warden.core.azure.site.AzureAccount;
import warden.core.checks.ExposureCards;
import warden.core.document.JsonPart;
import warden.core.survey.Need;

/** Finds rights of people and programs of other directories. */
final class OutsideAccountAccess implements AzureCheck<OutsideAccountAccess.Of> {
    private static final CheckCard CARD = ExposureCards.OUTSIDE_ACCOUNT_ACCESS.told(
            "role-assignment, delegated-management",
            "Somebody else's people can reach what is yours, under their own rules.",
            "Take the assignment or the delegation back, or state the directory as trusted.",
            "Azure Lighthouse documentation, \"Azure delegated resource management\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** A subscription. */
    record Of(AzureContext context, AzureAccount account) implements Subject {
        @Override
        public String id() {
            return account.subscription().id();
        }

        @Override
        public Optional<String> site() {
            return Optional.empty();
        }
    }

    @Override
    public List<Of> subjects(AzureContext context) {
        return context.subjects(OutsideAccountAccess.class, () -> context.cloud().accounts().stream()
                .map(account -> new Of(context, account))
                .toList());
    }

    @Override
    public List<Verdict> unread(AzureContext context) {
        return List.of();
    }

    @Override
    public List<Verdict> examine(Of subject) {
        List<Verdict> verdicts = new ArrayList<>();
        AccessRules rules = subject.account().reach().rules();
        for (Assignment assignment : rules.roles().assignments()) {
            if (assignment.principalType().equalsIgnoreCase("ForeignGroup")) {
                abilities(assignment.definition())
                        .ifPresent(severity -> verdicts.add(new Verdict.Flagged(Finding.of(
                                        CARD,
                                        assignment.scope(),
                                        subject.site(),
                                        "A group of another directory has the role " + assignment.roleName() + " at "
                                                + assignment.scope() + ".",
                                        List.of(assignment.at()))
                                .at(assignment.principalId())
                                .as(severity))));
            }
        }
        Listed delegated = subject.account().subscription().list("delegated-management-list", subject.id(), "");
        List<Need> open = new ArrayList<>(delegated.open().stream().toList());
        for (Item item : delegated.items()) {
            delegation(subject, item, open).ifPresent(verdicts::add);
        }
        if (verdicts.isEmpty()) {
            rules.roles().openAssignments().ifPresent(open::add);
            return subject.open(open);
        }
        return verdicts;
    }

    private static Optional<Verdict> delegation(Of subject, Item item, List<Need> open) {
        Optional<String> tenant = definition(item, "managedByTenantId")
                .flatMap(JsonPart::scalar)
                .or(() -> item.text("managedByTenantId"));
        boolean isOwn = tenant.isPresent()
                && (subject.account()
                                .subscription()
                                .tenant()
                                .filter(tenant.get()::equalsIgnoreCase)
                                .isPresent()
                        || subject.context().file().trustedAccounts().stream()
                                .anyMatch(tenant.get()::equalsIgnoreCase));
        if (isOwn) {
            return Optional.empty();
        }
        Optional<List<JsonPart>> authorizations = definition(item, "authorizations")
                .filter(JsonPart.JsonArray.class::isInstance)
                .map(JsonPart::list);
        Roles roles = subject.account().reach().rules().roles();
        Optional<Severity> worst = Optional.empty();
        boolean isKnown = authorizations.isPresent();
        for (JsonPart authorization : authorizations.orElse(List.of())) {
            Optional<RoleDefinition> role =
                    authorization.text("roleDefinitionId").flatMap(roles::definition);
            isKnown &= role.isPresent();
            worst = Stream.of(worst, role.isPresent() ? abilities(role) : Optional.<Severity>empty())
                    .flatMap(Optional::stream)
                    .min(Comparator.naturalOrder());
        }
        if (worst.isEmpty()) {
            if (!isKnown) {
                open.add(new Need(
                        "role-definition",
                        item.id(),
                        "what the delegated roles grant was not read",
                        "Microsoft.Authorization/roleDefinitions/read"));
            }
            return Optional.empty();
        }
        return Optional.of(new Verdict.Flagged(Finding.of(
                        CARD,
                        subject.id(),
                        subject.site(),
                        "People of the directory " + tenant.orElse("of somebody else")
                                + " manage the subscription by delegation.",
                        List.of(item.at()))
                .at(item.id())
                .as(worst.get())));
    }

    /** Some answers hold the definition as a resource, some its properties alone. */
    private static Optional<JsonPart> definition(Item item, String member) {
        return item.find("registrationDefinition", "properties", member)
                .or(() -> item.find("registrationDefinition", member));
    }

    /** Returns how bad the rights of a role are in strangers' hands; absent where it has none that matter here. */
    private static Optional<Severity> abilities(Optional<RoleDefinition> role) {
        if (role.isEmpty()) {
            return Optional.of(Severity.CRITICAL);
        }
        boolean changes = role.get().grants(Actions.WRITE, true)
                || role.get().grants(Actions.DELETE, true)
                || Actions.CHANGE_RULES.stream().anyMatch(action -> role.get().grants(action, false))
                || Actions.KEYS.stream().anyMatch(action -> role.get().grants(action, false));
        if (changes) {
            return Optional.of(Severity.CRITICAL);
        }
        return role.get().grants(Actions.READ, true) ? Optional.of(Severity.HIGH) : Optional.empty();
    }
}
