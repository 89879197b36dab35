package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.identity.KeyIds;
import warden.core.survey.Need;

/** Finds users with two active access keys. */
final class KeysTwoActive implements AwsCheck<KeysTwoActive.Subject> {
    private static final CheckCard CARD = new CheckCard(
            "keys-two-active",
            Area.CREDENTIAL,
            Severity.LOW,
            "two active keys",
            "iam-user-keys",
            "Two keys are for changing one for the other; where both stay, nobody knows which is in use where.",
            "Find out which one is in use, and make the other inactive.",
            "IAM User Guide, \"Update access keys\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** The active keys of one user. */
    record Subject(List<AccessKey> keys) implements Judged {
        @Override
        public Verdict unknown(List<Need> needs) {
            return keys.get(0).unknown(needs);
        }
    }

    @Override
    public List<Subject> subjects(AwsContext context) {
        Map<String, List<AccessKey>> byUser = new LinkedHashMap<>();
        AccessKey.active(context).forEach(key -> byUser.computeIfAbsent(key.user(), user -> new ArrayList<>())
                .add(key));
        return byUser.values().stream().map(Subject::new).toList();
    }

    @Override
    public List<Verdict> unread(AwsContext context) {
        return AccessKey.unread(context);
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        AccessKey first = subject.keys().get(0);
        if (subject.keys().size() < 2) {
            return List.of(first.clean());
        }
        AccessKey second = subject.keys().get(1);
        String says = first.user().substring(first.user().lastIndexOf('/') + 1) + " has two active access keys, "
                + KeyIds.shortened(first.id()) + " and " + KeyIds.shortened(second.id()) + ".";
        return List.of(new Verdict.Flagged(
                Finding.of(CARD, first.user(), first.site(), says, List.of(first.at(), second.at()))));
    }
}
