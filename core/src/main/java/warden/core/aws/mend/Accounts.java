package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.cloud.Cloud;

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

    /** Returns arguments with more behind them. */
    static List<String> with(List<String> arguments, String... more) {
        List<String> all = new ArrayList<>(arguments);
        all.addAll(List.of(more));
        return all;
    }
}
