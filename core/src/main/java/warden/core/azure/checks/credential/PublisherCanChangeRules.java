package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.checks.CredentialCards;
import warden.core.survey.Need;

/** Finds publishers that can change the rules of their own container or edge. */
final class PublisherCanChangeRules implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_CAN_CHANGE_RULES.told(
            "role-assignment, role-definition",
            "A bad deployment can open the container or lead the edge elsewhere.",
            "Take the actions out of the role.",
            "Azure role-based access control, \"Azure permissions for Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        List<Need> open = new ArrayList<>(subject.openRoles());
        for (Assignment assignment : subject.assignments()) {
            Optional<RoleDefinition> role = assignment.definition();
            boolean isOwn = subject.isOwnContainer(assignment.scope()) || subject.isOwnEdge(assignment.scope());
            if (!isOwn || role.isEmpty() || !role.get().isCustom()) {
                continue;
            }
            List<String> gives = TooWide.of(role.get()).stream()
                    .filter(action -> !ActionPattern.isData(action))
                    .toList();
            if (!gives.isEmpty() && subject.isOwn(assignment) == Truth.TRUE) {
                return List.of(new Verdict.Flagged(subject.finding(
                                CARD,
                                subject.called() + " can change the rules at " + assignment.scope() + ": "
                                        + String.join(", ", gives.subList(0, Math.min(4, gives.size()))) + ".",
                                List.of(assignment.at()))
                        .at(assignment.id())));
            }
        }
        return subject.open(open);
    }
}
