package warden.standin.aws;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;
import warden.core.access.Decision;
import warden.core.access.Decision.Outcome;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Request;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.PolicyDocument;
import warden.standin.Refusal;

/**
 * Knows who calls, by access key id, and asks the decision engine whether they may. Secrets are not looked at: whoever names a key is
 * believed, since everything here is made up. What is not known to be allowed or refused is neither: it is not simulated.
 */
final class Gatekeeper {
    private static final Duration KEPT = Duration.ofHours(1);

    private final CloudState state;
    private final Rules rules;
    private final Clock clock;
    private final Map<String, Actor> byKey = new ConcurrentHashMap<>();
    private final Map<String, Session> sessions = new ConcurrentHashMap<>();
    private final Organization organization;

    /**
     * What is done otherwise than the account would.
     *
     * @param refused actions that are refused to everybody, in lower case: a fault on demand
     * @param address from where all calls are taken to come; absent for where they come from
     * @param keepsGoing refuses nothing, and notes what would have been
     */
    record Rules(Set<String> refused, Optional<String> address, boolean keepsGoing) {
        Rules {
            refused = Set.copyOf(refused);
        }
    }

    /** Makes the keys: those that the survey shows, and one made up for the root user and for each user and role. */
    Gatekeeper(CloudState state, Rules rules, Organization organization, Clock clock) {
        this.state = state;
        this.rules = rules;
        this.organization = organization;
        this.clock = clock;
        Account account = state.account();
        String number = state.header().account();
        byKey.put(keyOf("arn:aws:iam::" + number + ":root"), new Actor.AccountRoot(number));
        for (Principal principal : account.directory().principals()) {
            Actor actor = actor(principal);
            byKey.put(keyOf(principal.arn().toString()), actor);
            if (!principal.isRole()) {
                account.survey().reading("iam-user-keys", principal.arn().toString()).found().stream()
                        .flatMap(answer -> answer.list("AccessKeyMetadata").stream())
                        .filter(key ->
                                key.text("Status").filter("Active"::equals).isPresent())
                        .flatMap(key -> key.text("AccessKeyId").stream())
                        .forEach(id -> byKey.put(id, actor));
            }
        }
    }

    private static Actor actor(Principal principal) {
        return principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn());
    }

    /**
     * Returns the access key id made up for a principal: always the same for the same ARN. It has not the form of a real one, which is kept back
     * wherever it would be said.
     */
    static String keyOf(String arn) {
        byte[] hash = Digests.of("SHA-256", arn.getBytes(StandardCharsets.UTF_8));
        StringBuilder id = new StringBuilder("STANDIN");
        for (int i = 0; id.length() < 20; i++) {
            id.append("ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".charAt(hash[i] & 31));
        }
        return id.toString();
    }

    Optional<Actor> actor(String keyId) {
        return Optional.ofNullable(byKey.get(keyId)).or(() -> session(keyId).map(Session::who));
    }

    Optional<Session> session(String keyId) {
        return Optional.ofNullable(sessions.get(keyId));
    }

    /** Makes a key for a session of a role; those that have expired long ago are forgotten. */
    Map.Entry<String, Session> newSession(Actor role, String name, Instant until, List<PolicyDocument> limits) {
        sessions.values().removeIf(old -> old.until().plus(KEPT).isBefore(clock.instant()));
        int number = organization.nextSession();
        String id = String.format(Locale.ROOT, "STANDINSESSION%06d", number);
        Session session = new Session(role, name, "made-up-session-token-" + number, until, limits);
        sessions.put(id, session);
        return Map.entry(id, session);
    }

    /** Refuses the call unless the caller may do this. */
    void demand(Call call, String action, String resource) {
        demand(call, action, resource, Map.of());
    }

    /** Refuses the call unless the caller may do this; {@code more} are the condition keys beside those that the request itself tells. */
    void demand(Call call, String action, String resource, Map<String, ContextValue> more) {
        demand(call, action, resource, more, key -> false);
    }

    /** As {@link #demand(Call, String, String, Map)}, where some keys may have any value. */
    void demand(
            Call call,
            String action,
            String resource,
            Map<String, ContextValue> more,
            Predicate<String> unknownLowerCaseKeys) {
        Map<String, ContextValue> told = told(call, more);
        Decision decision = decide(call, action, resource, told, unknownLowerCaseKeys);
        if (note(call, action, resource, told, decision)) {
            return;
        }
        if (decision.outcome() == Outcome.UNKNOWN) {
            throw new Refusal(
                    501,
                    "NotImplemented",
                    "Whether " + action + " on " + resource
                            + " is allowed is not known, so it is not part of the simulated account: "
                            + decision.says());
        }
        throw new Refusal(
                403,
                "AccessDenied",
                called(call.who(), call.session()) + " is not authorized to perform " + action + " on " + resource
                        + ": " + decision.says());
    }

    /** Returns whether the caller may do this, as a part of a call that goes on without it. */
    boolean allows(Call call, String action, String resource, Map<String, ContextValue> more) {
        Map<String, ContextValue> told = told(call, more);
        return note(call, action, resource, told, decide(call, action, resource, told, key -> false));
    }

    /** Returns whether the caller surely may do this, where the call does not take it: it changes what is said only. */
    boolean wouldAllow(Call call, String action, String resource, Map<String, ContextValue> more) {
        return decide(call, action, resource, told(call, more), key -> false).outcome() == Outcome.ALLOW;
    }

    private Map<String, ContextValue> told(Call call, Map<String, ContextValue> more) {
        Map<String, ContextValue> told = RequestKeys.of(call, rules.address(), clock);
        told.putAll(more);
        return told;
    }

    private boolean note(Call call, String action, String resource, Map<String, ContextValue> told, Decision decision) {
        boolean allowed = decision.outcome() == Outcome.ALLOW;
        call.needs().add(action, resource, RequestKeys.spelled(told), allowed, decision.says(), decision.because());
        return allowed || rules.keepsGoing();
    }

    private Decision decide(
            Call call,
            String action,
            String resource,
            Map<String, ContextValue> told,
            Predicate<String> unknownLowerCaseKeys) {
        if (rules.refused().contains(action.toLowerCase(Locale.ROOT))) {
            return refusal("it is refused to everybody, as was asked for");
        }
        Context context = Context.given(told).orUnknown(unknownLowerCaseKeys);
        boolean limited = call.session()
                .filter(session -> !session.lets(action, resource, context))
                .isPresent();
        return limited
                ? refusal("the policy that was passed when the role was assumed does not allow it")
                : organization.engine(state).decide(new Request(call.who(), action, resource, context));
    }

    private static Decision refusal(String says) {
        return new Decision(Outcome.DENY, false, says, List.of(), List.of(), List.of(), List.of());
    }

    /** Returns the caller's ARN, as who-am-I tells it. */
    String called(Actor who, Optional<Session> session) {
        return who instanceof Actor.Role role
                ? "arn:aws:sts::" + role.arn().account() + ":assumed-role/"
                        + role.arn().name() + "/" + session.map(Session::name).orElse("stand-in")
                : who.spelled();
    }

    /** Returns the access key ids, with whose they are, in their order. */
    Map<String, String> keys() {
        Map<String, String> keys = new TreeMap<>();
        byKey.forEach((id, actor) -> keys.put(id, actor.spelled()));
        return keys;
    }
}
