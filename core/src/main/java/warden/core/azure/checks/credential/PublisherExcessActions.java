package warden.core.azure.checks.credential;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.access.Actions;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.checks.CredentialCards;

/** Finds actions on its own container that a publisher does not need. */
final class PublisherExcessActions implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_EXCESS_ACTIONS.told(
            "role-assignment, role-definition",
            "What it does not need can only do harm.",
            "Take the actions out of the role.",
            "Azure role-based access control, \"Azure permissions for Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        List<String> needed = List.of(Actions.READ, Actions.WRITE, Actions.DELETE, Actions.ADD, Actions.MOVE);
        for (Assignment assignment : subject.assignments()) {
            Optional<RoleDefinition> role = assignment.definition();
            if (role.isEmpty() || !role.get().isCustom() || !subject.isOwnContainer(assignment.scope())) {
                continue;
            }
            List<String> excess = role.get().parts().stream()
                    .flatMap(part -> part.dataActions().stream())
                    .filter(action -> needed.stream().noneMatch(action::equalsIgnoreCase))
                    .filter(action -> !action.toLowerCase(Locale.ROOT).endsWith("/read"))
                    .toList();
            if (!excess.isEmpty() && subject.isOwn(assignment) == Truth.TRUE) {
                return subject.flagged(
                        CARD,
                        subject.called() + " may do more with its blobs than publishing takes: "
                                + String.join(", ", excess) + ".",
                        List.of(assignment.at()));
            }
        }
        return subject.open(subject.openRoles());
    }
}
