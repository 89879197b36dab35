package warden.core.aws.audit;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** A check that asks its question of every account as a whole. */
public interface AccountCheck extends AwsCheck<AccountCheck.Subject> {
    /** One account in its surroundings. */
    record Subject(AwsContext context, Account account) implements Judged {
        /** Returns a finding about the account. */
        public Verdict flagged(CheckCard card, String says, List<Citation> because) {
            return new Verdict.Flagged(Finding.of(card, account.number(), Optional.empty(), says, because));
        }

        /** Returns the verdict that nothing is wrong. */
        public Verdict clean() {
            return new Verdict.Clean(account.number(), Optional.empty());
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(account.number(), Optional.empty(), needs);
        }
    }

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(AccountCheck.class, () -> list(context));
    }

    private static List<Subject> list(AwsContext context) {
        return context.cloud().accounts().stream()
                .map(account -> new Subject(context, account))
                .toList();
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        return List.of();
    }
}
