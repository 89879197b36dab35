package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.access.Actions;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.checks.CredentialCards;
import warden.core.survey.Need;

/** Finds publishers that can write where none of their sites is. */
final class PublisherBeyondItsSites implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_BEYOND_ITS_SITES.told(
            "role-assignment",
            "It can change what is not its own.",
            "Take the assignment back.",
            "Azure role-based access control, \"Best practices for Azure RBAC\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        List<Need> open = new ArrayList<>(subject.openRoles());
        for (Assignment assignment : subject.assignments()) {
            Optional<RoleDefinition> role = assignment.definition();
            Optional<String> container = ResourceId.containerIn(assignment.scope());
            boolean changes = role.filter(each -> each.grants(Actions.WRITE, true) || each.grants(Actions.DELETE, true))
                    .isPresent();
            if (container.isEmpty() || !changes || subject.isOwnContainer(assignment.scope())) {
                continue;
            }
            if (subject.isOwn(assignment) == Truth.TRUE
                    && TooWide.of(role.get()).isEmpty()) {
                return subject.flagged(
                        CARD,
                        subject.called() + " may write in " + container.get() + ", which none of its sites uses.",
                        List.of(assignment.at()));
            }
        }
        return subject.open(open);
    }
}
