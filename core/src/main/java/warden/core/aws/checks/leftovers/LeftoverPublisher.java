package warden.core.aws.checks.leftovers;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Truth;
import warden.core.algebra.Glob;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;
import warden.core.checks.LeftoversCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds publishing credentials whose site is gone. */
final class LeftoverPublisher implements AwsCheck<LeftoverPublisher.Subject> {
    private static final CheckCard CARD = LeftoversCards.LEFTOVER_PUBLISHER;

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** One user or role. */
    record Subject(Account account, Principal principal) implements Judged {
        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(principal.arn().toString(), Optional.empty(), needs);
        }
    }

    @Override
    public List<Subject> subjects(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            account.directory().principals().forEach(principal -> subjects.add(new Subject(account, principal)));
        }
        return subjects;
    }

    @Override
    public List<Verdict> unread(AwsContext context) {
        return context.cloud().unreadPrincipals().stream()
                .<Verdict>map(need -> new Verdict.Unknown(need.of(), Optional.empty(), List.of(need)))
                .toList();
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return judge(subject.account(), subject.principal()).stream().toList();
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
        String arn = principal.arn().toString();
        if (buckets.isEmpty()) {
            // What was not read of its policies may name the bucket that is gone.
            List<Need> missing = principal.holdings().missing();
            return missing.isEmpty()
                    ? Optional.empty()
                    : Optional.of(new Verdict.Unknown(arn, Optional.empty(), missing));
        }
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
