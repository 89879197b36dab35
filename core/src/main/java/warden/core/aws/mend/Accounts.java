package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.aws.policy.Arn;
import warden.core.cloud.Cloud;
import warden.core.mend.Edited;

/** Finds in a state what a change is of. */
final class Accounts {
    private Accounts() {}

    /** Returns the account of a number as it is in a state. */
    static Optional<Account> in(Cloud state, String number) {
        return state.accounts().stream()
                .map(Account.class::cast)
                .filter(account -> account.number().equals(number))
                .findFirst();
    }

    /** A survey may name what is another account's: the credentials of the one cannot change the other. */
    static Edited refusedElsewhere(Edited edited, Account account, String arn) {
        Optional<String> other = Arn.parse(arn)
                .map(Arn::account)
                .filter(number -> !number.isEmpty() && !number.equals(account.number()));
        return other.map(number -> edited.refused("the survey is of the account " + account.number()
                        + ", and this is of " + number + "; take a survey of each account"))
                .orElse(edited);
    }

    /** Returns arguments with more behind them. */
    static List<String> with(List<String> arguments, String... more) {
        List<String> all = new ArrayList<>(arguments);
        all.addAll(List.of(more));
        return all;
    }
}
