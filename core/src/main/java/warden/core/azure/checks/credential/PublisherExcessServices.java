package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.checks.CredentialCards;
import warden.core.survey.Citation;

/** Finds rights of publishers in services that publishing does not touch. */
final class PublisherExcessServices implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_EXCESS_SERVICES.told(
            "role-assignment, role-definition",
            "What it does not need can only do harm.",
            "Take the actions out of the role.",
            "Azure role-based access control, \"Best practices for Azure RBAC\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        Set<String> services = new TreeSet<>();
        List<Citation> because = new ArrayList<>();
        for (Assignment assignment : subject.assignments()) {
            Optional<RoleDefinition> role = assignment.definition();
            if (role.isEmpty() || !TooWide.of(role.get()).isEmpty() || subject.isOwn(assignment) != Truth.TRUE) {
                continue;
            }
            role.get().parts().stream()
                    .flatMap(part -> part.actions().stream())
                    .filter(action -> !action.endsWith("/read") && action.contains("/"))
                    .map(action -> action.substring(0, action.indexOf('/')))
                    .filter(service -> !HARMLESS.contains(service.toLowerCase(Locale.ROOT)))
                    .forEach(service -> {
                        services.add(service);
                        because.add(assignment.at());
                    });
        }
        if (services.isEmpty()) {
            return subject.open(subject.openRoles());
        }
        return subject.flagged(
                CARD,
                subject.called() + " has rights in services that publishing does not touch: "
                        + String.join(", ", services) + ".",
                because);
    }

    /** The services of publishing, and those that every role of a service has something of. */
    private static final Set<String> HARMLESS = Set.of(
            "microsoft.storage",
            "microsoft.cdn",
            "microsoft.authorization",
            "microsoft.insights",
            "microsoft.resources",
            "microsoft.support",
            "microsoft.resourcehealth",
            "*");
}
