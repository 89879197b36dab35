package warden.standin;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import warden.core.access.Decision;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;

/**
 * Knows who calls, by access key id, and asks the decision engine whether they may. Secrets are not looked at: whoever names a key is
 * believed, since everything here is made up.
 */
final class Gatekeeper {
    private static final Duration KEPT = Duration.ofHours(1);

    private final CloudState state;
    private final Set<String> refused;
    private final Map<String, Actor> byKey = new ConcurrentHashMap<>();
    private final Map<String, Session> sessions = new ConcurrentHashMap<>();
    private final AtomicInteger sessionNumber = new AtomicInteger();
    private Account decided;
    private Evaluator evaluator;

    /**
     * Makes the keys: those that the survey shows, and one made up for the root user and for each user and role.
     *
     * @param refused actions that are refused to everybody, in lower case: a fault on demand
     */
    Gatekeeper(CloudState state, Set<String> refused) {
        this.state = state;
        this.refused = Set.copyOf(refused);
        this.decided = state.account();
        this.evaluator = new Evaluator(decided);
        String number = state.header().account();
        byKey.put(keyOf("arn:aws:iam::" + number + ":root"), new Actor.AccountRoot(number));
        for (Principal principal : decided.directory().principals()) {
            Actor actor = principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn());
            byKey.put(keyOf(principal.arn().toString()), actor);
            if (!principal.isRole()) {
                decided.survey().reading("iam-user-keys", principal.arn().toString()).found().stream()
                        .flatMap(answer -> answer.list("AccessKeyMetadata").stream())
                        .filter(key ->
                                key.text("Status").filter("Active"::equals).isPresent())
                        .flatMap(key -> key.text("AccessKeyId").stream())
                        .forEach(id -> byKey.put(id, actor));
            }
        }
    }

    /** Returns the access key id made up for a principal: always the same for the same ARN. */
    static String keyOf(String arn) {
        byte[] hash = CloudState.digest("SHA-256", arn.getBytes(StandardCharsets.UTF_8));
        StringBuilder id = new StringBuilder("AKIASTANDIN");
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

    /** Makes a key for a session; those that have expired long ago are forgotten. */
    String newSession(Session session, Instant now) {
        sessions.values().removeIf(old -> old.until().plus(KEPT).isBefore(now));
        String id = "ASIASTANDIN" + String.format(Locale.ROOT, "%09d", sessionNumber.incrementAndGet());
        sessions.put(id, session);
        return id;
    }

    /** Refuses the call unless the caller may do this. */
    void demand(Call call, String action, String resource) {
        if (!allows(call, action, resource)) {
            throw Refusal.denied(action, resource);
        }
    }

    boolean allows(Call call, String action, String resource) {
        if (refused.contains(action.toLowerCase(Locale.ROOT))) {
            return false;
        }
        Context context = context(Map.of());
        boolean limited = call.session()
                .filter(session -> !session.lets(action, resource, context))
                .isPresent();
        return !limited && decide(call.who(), action, resource, Map.of()).outcome() == Decision.Outcome.ALLOW;
    }

    /** Decides; {@code more} are the condition keys that this request carries beside what every one does. */
    Decision decide(Actor who, String action, String resource, Map<String, ContextValue> more) {
        return evaluator().decide(new Request(who, action, resource, context(more)));
    }

    private static Context context(Map<String, ContextValue> more) {
        Map<String, ContextValue> context = new HashMap<>();
        // Calls come over loopback without TLS; they are taken for what they would be in the cloud.
        context.put("aws:SecureTransport", ContextValue.Known.of("true"));
        context.put("aws:SourceIp", ContextValue.Known.of("127.0.0.1"));
        context.put("aws:UserAgent", ContextValue.UNKNOWN);
        context.putAll(more);
        return Context.given(context);
    }

    private synchronized Evaluator evaluator() {
        Account now = state.account();
        if (now != decided) {
            decided = now;
            evaluator = new Evaluator(now);
        }
        return evaluator;
    }

    List<String> keys() {
        return byKey.keySet().stream().sorted().toList();
    }
}
