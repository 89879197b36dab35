package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;
import warden.core.checks.CredentialCards;
import warden.core.survey.Need;

/** Finds publishers that can give themselves more rights. */
final class PublisherCanEscalate implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_CAN_ESCALATE.told(
            "role-assignment, role-definition",
            "It can make itself as strong as it likes.",
            "Take the action out of its roles.",
            "Azure role-based access control, \"Azure permissions for Management and governance\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        List<Verdict> verdicts = new ArrayList<>();
        List<Need> open = new ArrayList<>(subject.openRoles());
        boolean runsCode = subject.assignments().stream()
                .filter(each -> subject.isOwn(each) == Truth.TRUE)
                .flatMap(each -> each.definition().stream())
                .anyMatch(Escalation::runsCode);
        owned(subject, verdicts);
        for (Assignment assignment : subject.assignments()) {
            Optional<RoleDefinition> role = assignment.definition();
            if (role.isEmpty() || !TooWide.of(role.get()).isEmpty() && !subject.isOwnContainer(assignment.scope())) {
                continue;
            }
            Optional<Escalation> path = Escalation.of(role.get(), runsCode);
            if (path.isEmpty()) {
                continue;
            }
            if (path.get().isOfVaults()) {
                open.add(new Need(
                        "role-assignment-list",
                        assignment.id(),
                        "it can " + path.get().means() + "; whether one of the site lies there is not read",
                        ""));
                continue;
            }
            if (assignment.condition().isPresent()) {
                open.add(new Need("role-assignment-list", assignment.id(), "a condition limits it", ""));
                continue;
            }
            if (subject.isOwn(assignment) != Truth.TRUE) {
                open.add(new Need(
                        "member-of",
                        subject.id(),
                        "whether it is in the group is not known",
                        "Graph GroupMember.Read.All"));
                continue;
            }
            verdicts.add(new Verdict.Flagged(subject.finding(
                            CARD,
                            subject.called() + " may use " + path.get().action() + " at " + assignment.scope() + " and "
                                    + path.get().means() + ".",
                            List.of(assignment.at()))
                    .at(assignment.id())));
        }
        return verdicts.isEmpty() ? subject.open(open) : verdicts;
    }

    /** Whoever owns an application can add a password or a federated credential to it. Where owners were not read, nothing is said of them. */
    private static void owned(PublisherCheck.Of subject, List<Verdict> verdicts) {
        String objectId = subject.publisher().principal().objectId();
        subject.publisher()
                .account()
                .reach()
                .principals()
                .ownedBy(objectId)
                .forEach((application, owner) -> verdicts.add(new Verdict.Flagged(subject.finding(
                                CARD,
                                subject.called() + " owns the application " + ResourceId.name(application)
                                        + " and can add a password or a federated credential to it.",
                                List.of(owner.at()))
                        .at(application))));
    }
}
