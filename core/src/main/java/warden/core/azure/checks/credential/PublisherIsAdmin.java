package warden.core.azure.checks.credential;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.checks.CredentialCards;
import warden.core.survey.Need;

/** Finds publishers that may do everything in the subscription. */
final class PublisherIsAdmin implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_IS_ADMIN.told(
            "role-assignment, role-definition",
            "Who gets hold of the pipeline gets hold of the subscription.",
            "Assign two roles at its container and its edge in the place of this one.",
            "Azure role-based access control, \"Best practices for Azure RBAC\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        List<Need> open = subject.openRoles();
        String subscription = subject.publisher().account().subscription().id();
        for (Assignment assignment : subject.assignments()) {
            boolean isWhole = assignment.condition().isEmpty()
                    && subject.rules().roles().covers(assignment, subscription)
                    && assignment
                            .definition()
                            .filter(RoleDefinition::grantsAllControl)
                            .isPresent();
            if (!isWhole) {
                continue;
            }
            if (subject.isOwn(assignment) != Truth.TRUE) {
                return subject.open(new Need(
                        "member-of",
                        subject.id(),
                        "whether it is in a group that may do everything is not known",
                        "Graph GroupMember.Read.All"));
            }
            return List.of(
                    new Verdict.Flagged(
                            subject.finding(
                                            CARD,
                                            subject.called() + " has the role " + assignment.roleName() + " at "
                                                    + assignment.scope()
                                                    + ": it may do everything in the subscription.",
                                            List.of(assignment.at()))
                                    .mendedBy(
                                            "Give it the two roles that trim proposes, at its container and its edge, in the place of this one.")));
        }
        return subject.open(open);
    }
}
