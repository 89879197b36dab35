package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.access.Actions;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.survey.Need;

/** Finds assignments of publishers that reach above their container and edge. */
final class AssignmentTooWide implements PublisherCheck {
    private static final CheckCard CARD = new CheckCard(
                    "assignment-too-wide",
                    Area.CREDENTIAL,
                    Severity.HIGH,
                    "a publisher has rights above its own container and edge",
                    "role-assignment, role-definition",
                    "Who gets hold of the pipeline gets hold of everything that the role reaches.",
                    "Assign the rights at the container and the edge alone.",
                    "Azure role-based access control, \"Best practices for Azure RBAC\"")
            .atWorst(Severity.CRITICAL);

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        List<Verdict> verdicts = new ArrayList<>();
        List<Need> open = new ArrayList<>(subject.openRoles());
        for (Assignment assignment : subject.assignments()) {
            if (subject.isOwnContainer(assignment.scope()) || subject.isOwnEdge(assignment.scope())) {
                continue;
            }
            if (assignment.definition().isEmpty()) {
                continue;
            }
            RoleDefinition role = assignment.definition().get();
            boolean isAdmin = role.grantsAllControl()
                    && assignment.condition().isEmpty()
                    && subject.rules()
                            .roles()
                            .covers(
                                    assignment,
                                    subject.publisher().account().subscription().id());
            if (isAdmin) {
                continue;
            }
            List<String> gives = TooWide.of(role);
            if (gives.isEmpty()) {
                continue;
            }
            boolean controls = gives.stream().anyMatch(action -> !ActionPattern.isData(action));
            if (assignment.condition().isPresent()) {
                boolean isUnderstood = assignment.condition().get().isUnderstood();
                boolean pins = isUnderstood && !controls && TooWide.pins(assignment, subject);
                if (pins) {
                    continue;
                }
                if (!isUnderstood) {
                    open.add(new Need("role-assignment-list", assignment.id(), "its condition is not understood", ""));
                    continue;
                }
            }
            if (subject.isOwn(assignment) != Truth.TRUE) {
                subject.rules()
                        .roles()
                        .groups(subject.publisher().principal().objectId())
                        .missing()
                        .ifPresent(open::add);
                continue;
            }
            boolean assigns = role.grants(Actions.ASSIGN, false);
            String says = subject.called() + " has the role " + assignment.roleName() + " at " + assignment.scope()
                    + ", above its own container and edge: among others " + gives.get(0)
                    + (assigns ? ". It may assign roles, to itself too." : ".");
            verdicts.add(new Verdict.Flagged(subject.finding(CARD, says, List.of(assignment.at()))
                    .at(assignment.id())
                    .as(assigns ? Severity.CRITICAL : Severity.HIGH)));
        }
        return verdicts.isEmpty() ? subject.open(open) : verdicts;
    }
}
