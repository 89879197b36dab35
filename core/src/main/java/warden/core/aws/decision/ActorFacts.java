package warden.core.aws.decision;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.aws.account.Account;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.aws.policy.ContextValue.OneOf;

/**
 * The condition keys that follow from who asks.
 * Source: IAM User Guide, "AWS global condition context keys", sections on properties of the principal.
 */
final class ActorFacts {
    private static final String ARN = "aws:principalarn";
    private static final String ACCOUNT = "aws:principalaccount";
    private static final String TYPE = "aws:principaltype";
    private static final String USERNAME = "aws:username";
    private static final String BY_SERVICE = "aws:principalisawsservice";

    private static final Language TWELVE_DIGITS = Language.digits(12);

    private ActorFacts() {}

    /**
     * Returns the keys by lower-case name. A key mapped to {@link ContextValue#ABSENT} is certainly not in the request.
     *
     * @param named account numbers that somebody of an unknown account does not have
     */
    static Map<String, ContextValue> of(Actor actor, Account account, Iterable<String> named) {
        Map<String, ContextValue> facts = new HashMap<>();
        facts.put(ARN, ContextValue.ABSENT);
        facts.put(ACCOUNT, ContextValue.ABSENT);
        facts.put(USERNAME, ContextValue.ABSENT);
        if (actor instanceof Actor.Anyone) {
            facts.put(TYPE, Known.of("Anonymous"));
            facts.put(BY_SERVICE, ContextValue.ABSENT);
        } else if (actor.isOfUnknownAccount()) {
            anyAccount(facts, named, actor instanceof Actor.CanonicalUser);
        } else if (actor instanceof Actor.AccountRoot root) {
            put(facts, root.spelled(), root.account(), "Account");
        } else if (actor instanceof Actor.User user) {
            put(facts, user.arn().toString(), user.arn().account(), "User");
            facts.put(USERNAME, Known.of(user.arn().name()));
            describe(facts, user.arn(), account);
        } else if (actor instanceof Actor.Role role) {
            put(facts, role.arn().toString(), role.arn().account(), "AssumedRole");
            describe(facts, role.arn(), account);
        } else {
            facts.put(TYPE, ContextValue.ABSENT);
            facts.put(BY_SERVICE, actor instanceof Actor.Service ? Known.of("true") : ContextValue.UNKNOWN);
        }
        return facts;
    }

    private static void put(Map<String, ContextValue> facts, String arn, String account, String type) {
        facts.put(ARN, Known.of(arn));
        facts.put(ACCOUNT, Known.of(account));
        facts.put(TYPE, Known.of(type));
        facts.put(BY_SERVICE, Known.of("false"));
    }

    /** A canonical user id stands for an account as a whole, its root included. */
    private static void anyAccount(Map<String, ContextValue> facts, Iterable<String> named, boolean perhapsRoot) {
        Language numbers = TWELVE_DIGITS.minus(Language.of(named));
        Language arns = Language.none();
        for (String kind : new String[] {"user/", "role/"}) {
            Glob pattern = Glob.literal("arn:aws:iam::")
                    .then(Glob.of(Glob.MANY_IN_PART))
                    .then(Glob.literal(":" + kind))
                    .then(Glob.of(Glob.ONE_IN_PART, Glob.MANY_IN_PART));
            arns = arns.union(Language.matching(pattern));
        }
        if (perhapsRoot) {
            arns = arns.union(Language.matching(Glob.parse("arn:aws:iam::*:root")));
        }
        Language namedArns = Language.none();
        for (String number : named) {
            namedArns = namedArns.union(Language.matching(Glob.parse("arn:aws:iam::" + number + ":*")));
        }
        facts.put(ACCOUNT, new OneOf(numbers, false));
        facts.put(ARN, new OneOf(arns.minus(namedArns), false));
        facts.put(
                TYPE,
                new OneOf(
                        Language.of(
                                perhapsRoot
                                        ? List.of("User", "AssumedRole", "Account")
                                        : List.of("User", "AssumedRole")),
                        false));
        facts.put(USERNAME, ContextValue.UNKNOWN);
        facts.put(BY_SERVICE, Known.of("false"));
    }

    /** Adds what only the survey tells of one of the account's own: tags and the unique id. */
    private static void describe(Map<String, ContextValue> facts, Arn arn, Account account) {
        if (!arn.account().equals(account.number())) {
            return;
        }
        Optional<Principal> principal = account.directory().principal(arn).found();
        if (principal.isEmpty()) {
            return;
        }
        principal
                .get()
                .tags()
                .forEach(
                        (key, value) -> facts.put("aws:principaltag/" + key.toLowerCase(Locale.ROOT), Known.of(value)));
        String id = principal.get().uniqueId();
        if (!id.isEmpty()) {
            facts.put(
                    "aws:userid",
                    principal.get().isRole()
                            ? new OneOf(Language.matching(Glob.literal(id + ":").then(Glob.parse("*"))), false)
                            : Known.of(id));
        }
        if (principal.get().isRole()) {
            // The survey may know the role under a longer ARN than a session shows.
            facts.put(ARN, Known.of(principal.get().arn().toString()));
        }
    }
}
