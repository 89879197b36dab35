package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.catalogue.ActionCatalogue;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.policy.ActionClause.ActionPattern;
import warden.core.aws.policy.Statement;
import warden.core.checks.PolicyCards;
import warden.core.document.Words;

/** Finds actions that do not exist. */
final class PolicyUnknownAction implements PolicyCheck {
    private static final CheckCard CARD = PolicyCards.POLICY_UNKNOWN_ACTION;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public boolean asksOfAllKinds() {
        return true;
    }

    @Override
    public List<Verdict> judge(PolicySubject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Statement statement : subject.document().statements()) {
            for (ActionPattern action : statement.actions().patterns()) {
                if (isUnknown(action)) {
                    Optional<String> nearest = nearest(action);
                    String says = subject.called() + " names the action " + action.text() + ", which does not exist"
                            + nearest.map(name -> "; perhaps " + name + " was meant")
                                    .orElse("") + ".";
                    verdicts.add(subject.flagged(
                            CARD, action.at().toString(), says, List.of(subject.cite(action.at(), action.text()))));
                }
            }
        }
        return verdicts;
    }

    private static boolean isUnknown(ActionPattern action) {
        return ActionCatalogue.shipped().services().contains(action.service())
                && !ActionCatalogue.shipped().knows(action.glob());
    }

    private static Optional<String> nearest(ActionPattern action) {
        return Words.nearest(
                action.text(),
                ActionCatalogue.shipped().ofService(action.service()).stream()
                        .map(ServiceAction::name)
                        .toList());
    }
}
