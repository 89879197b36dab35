package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;

/** Finds users with two active access keys. */
final class KeysTwoActive implements Check {
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

    @Override
    public List<Verdict> examine(Setup setup) {
        Map<String, List<AccessKey>> byUser = new LinkedHashMap<>();
        AccessKey.active(setup).forEach(key -> byUser.computeIfAbsent(key.user(), user -> new ArrayList<>())
                .add(key));
        List<Verdict> verdicts = new ArrayList<>(AccessKey.unread(setup));
        byUser.forEach((user, keys) -> {
            if (keys.size() < 2) {
                verdicts.add(new Verdict.Clean(user, keys.get(0).site(setup)));
                return;
            }
            String says = user.substring(user.lastIndexOf('/') + 1) + " has two active access keys, "
                    + AccessKey.shortened(keys.get(0).id()) + " and "
                    + AccessKey.shortened(keys.get(1).id()) + ".";
            verdicts.add(new Verdict.Flagged(Finding.of(
                    CARD,
                    user,
                    keys.get(0).site(setup),
                    says,
                    List.of(keys.get(0).at(), keys.get(1).at()))));
        });
        return verdicts;
    }
}
