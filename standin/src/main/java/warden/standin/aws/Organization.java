package warden.standin.aws;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Evaluators;
import warden.standin.UrlText;
import warden.standin.WireRequest;

/**
 * The simulated accounts together, one or several of an organization: which one a request is signed by, which one it asks, and the engines that
 * decide on both sides. Safe for use by several threads.
 */
final class Organization {
    private static final Pattern ROLE = Pattern.compile("arn:aws[a-z-]*:iam::([0-9]{12}):role/.+");

    private final List<CloudState> states;
    private final List<SimulatedAccount> accounts = new ArrayList<>();
    private final AtomicInteger sessions = new AtomicInteger();
    private List<Account> decided = List.of();
    private Evaluators evaluators = new Evaluators(List.of(), Optional.empty());

    /**
     * Makes the accounts.
     *
     * @param states the first is of the management account
     */
    Organization(List<CloudState> states, Gatekeeper.Rules rules, Clock clock) {
        this.states = List.copyOf(states);
        states.forEach(state -> accounts.add(new SimulatedAccount(state, rules, this, clock)));
    }

    List<SimulatedAccount> accounts() {
        return accounts;
    }

    /** Returns the number of the account that manages the others. */
    String management() {
        return states.get(0).header().account();
    }

    /** Returns the numbers of all accounts, in their order. */
    List<String> numbers() {
        return states.stream().map(state -> state.header().account()).toList();
    }

    /** Returns a number that no session of any account has yet. */
    int nextSession() {
        return sessions.incrementAndGet();
    }

    /** Returns the engine that speaks for an account as it is now. */
    synchronized Evaluator engine(CloudState state) {
        List<Account> now = states.stream().map(CloudState::account).toList();
        boolean isSame = now.size() == decided.size();
        for (int i = 0; isSame && i < now.size(); i++) {
            isSame = now.get(i) == decided.get(i);
        }
        if (!isSame) {
            decided = now;
            evaluators = new Evaluators(now, Optional.empty());
        }
        return evaluators.of(decided.get(states.indexOf(state)));
    }

    /** Returns the account that knows an access key id; the first where none does. */
    SimulatedAccount knowing(String key) {
        return accounts.stream()
                .filter(account -> account.gatekeeper().actor(key).isPresent())
                .findFirst()
                .orElse(accounts.get(0));
    }

    /** Returns the account whose principal signed a request; for one that nobody signed, the one that is asked. */
    SimulatedAccount calling(WireRequest request) {
        return SignedCaller.keyOf(request).map(this::knowing).orElseGet(() -> unsigned(request));
    }

    private SimulatedAccount unsigned(WireRequest request) {
        if (accounts.size() == 1) {
            return accounts.get(0);
        }
        return role(new String(request.body(), StandardCharsets.UTF_8))
                .or(() -> owner(bucket(request)))
                .or(() -> accounts.stream()
                        .filter(account -> EdgeHosts.of(account.state().cloud()).contains(request.host())
                                || !account.state()
                                        .cloud()
                                        .hosts()
                                        .hostsLeadingTo(request.host())
                                        .isEmpty())
                        .findFirst())
                .orElse(accounts.get(0));
    }

    /** Returns the account that a call asks: the one that owns the bucket or the role, else the caller's own. */
    SimulatedAccount asked(Call call, SimulatedAccount caller) {
        if (accounts.size() == 1) {
            return caller;
        }
        if (call.service().equals("sts")) {
            return role(call.text()).orElse(caller);
        }
        boolean isStorage = call.service().equals("s3") && !call.path().startsWith(AccountApi.ACCOUNT_BLOCK);
        return isStorage ? owner(bucket(call.wire())).orElse(caller) : caller;
    }

    private Optional<SimulatedAccount> role(String form) {
        Map<String, String> members = UrlText.form(form);
        Matcher role = ROLE.matcher(members.getOrDefault("RoleArn", ""));
        return role.matches()
                ? accounts.stream()
                        .filter(account -> account.number().equals(role.group(1)))
                        .findFirst()
                : Optional.empty();
    }

    private static String bucket(WireRequest request) {
        return SimulatedAccount.bucketOf(request.host()).orElseGet(() -> UrlText.unescaped(request.rawPath())
                .replaceFirst("^/", "")
                .replaceFirst("/.*$", ""));
    }

    private Optional<SimulatedAccount> owner(String bucket) {
        return bucket.isEmpty()
                ? Optional.empty()
                : accounts.stream()
                        .filter(account -> account.state().account().ownsBucket(bucket) == Truth.TRUE)
                        .findFirst();
    }
}
