package warden.core.azure.checks.credential;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.access.Actions;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.checks.CredentialCards;

/** Finds publishers that can remove what would undo a bad deployment. */
final class PublisherCanLoseVersions implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_CAN_LOSE_VERSIONS.told(
            "role-assignment, role-definition",
            "A bad deployment can then not be undone.",
            "Take the actions out of the role.",
            "Azure role-based access control, \"Azure permissions for Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        List<String> losing = List.of(Actions.DELETE_VERSION, Actions.PERMANENT_DELETE);
        for (Assignment assignment : subject.assignments()) {
            Optional<RoleDefinition> role = assignment.definition();
            if (role.isEmpty() || !subject.isOwnContainer(assignment.scope())) {
                continue;
            }
            Optional<String> action = losing.stream()
                    .filter(each -> role.get().grants(each, true))
                    .findFirst();
            if (action.isPresent() && subject.isOwn(assignment) == Truth.TRUE) {
                return subject.flagged(
                        CARD,
                        subject.called() + " may use " + action.get()
                                + " on its container, and so remove old versions for good.",
                        List.of(assignment.at()));
            }
        }
        return subject.open(subject.openRoles());
    }
}
