package warden.core.checks.leftovers;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.account.Account;
import warden.core.algebra.Glob;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.identity.HeldPolicy;
import warden.core.identity.Principal;
import warden.core.policy.Effect;
import warden.core.policy.Statement;
import warden.core.policy.Truth;
import warden.core.storage.Bucket;
import warden.core.survey.Citation;

/** Finds publishing credentials whose site is gone. */
final class LeftoverPublisher implements Check {
    private static final CheckCard CARD = new CheckCard(
            "leftover-publisher",
            Area.LEFTOVERS,
            Severity.MEDIUM,
            "a publishing credential whose site is gone",
            "iam-user, iam-role, iam-policy, bucket-list",
            "Nobody would notice its use; and whoever creates a bucket of the old name gets what it uploads.",
            "Delete the credential.",
            "IAM User Guide, \"Security best practices in IAM\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Principal principal : account.directory().principals()) {
                judge(account, principal).ifPresent(verdicts::add);
            }
        }
        return verdicts;
    }

    private static Optional<Verdict> judge(Account account, Principal principal) {
        Set<String> buckets = new LinkedHashSet<>();
        List<Citation> because = new ArrayList<>();
        for (HeldPolicy policy : principal.holdings().policies()) {
            for (Statement statement : policy.document().statements()) {
                boolean writes = !statement.isOpaque()
                        && statement.effect() == Effect.ALLOW
                        && !statement.actions().negated()
                        && statement.actions().covers("s3:putobject");
                if (!writes) {
                    continue;
                }
                List<Glob> resources =
                        statement.resources().map(clause -> clause.constants()).orElse(List.of());
                for (Glob resource : resources) {
                    Optional<String> name = Bucket.nameIn(resource.toString());
                    if (name.isEmpty() || name.get().contains("*") || name.get().contains("?")) {
                        return Optional.empty();
                    }
                    buckets.add(name.get());
                    because.add(policy.cite(statement));
                }
            }
        }
        if (buckets.isEmpty()) {
            return Optional.empty();
        }
        String arn = principal.arn().toString();
        if (buckets.stream().anyMatch(name -> account.ownsBucket(name) == Truth.TRUE)) {
            return Optional.of(new Verdict.Clean(arn, Optional.empty()));
        }
        if (account.listedBuckets().isUnread()) {
            return Optional.of(new Verdict.Unknown(
                    arn,
                    Optional.empty(),
                    account.listedBuckets().missing().stream().toList()));
        }
        String says = principal.name() + " may publish to " + String.join(", ", buckets)
                + ", which is not in the account any more.";
        return Optional.of(new Verdict.Flagged(Finding.of(CARD, arn, Optional.empty(), says, because)));
    }
}
