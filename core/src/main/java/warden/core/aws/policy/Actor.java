package warden.core.aws.policy;

import java.util.Optional;

/** Who sends a request. */
public sealed interface Actor {
    /** Somebody unsigned: no credentials at all. */
    record Anyone() implements Actor {}

    /** A principal of an unrelated account, allowed by its own account; no document names the account's number. */
    record AnyAccount() implements Actor {}

    /** The root user of an account, or the account as a whole. */
    record AccountRoot(String account) implements Actor {}

    /** An IAM user, by its ARN. */
    record User(Arn arn) implements Actor {}

    /** A session of an IAM role, by the role's ARN. */
    record Role(Arn arn) implements Actor {}

    /** One of the provider's services acting for somebody, such as {@code cloudfront.amazonaws.com}. */
    record Service(String name) implements Actor {}

    /** An origin access identity, by its id. */
    record OriginIdentity(String id) implements Actor {}

    /** A principal of an account of which the canonical user id is known, and the number is not. */
    record CanonicalUser(String id) implements Actor {}

    /** Returns the account that the caller belongs to; absent for those who have none, or none that is known. */
    default Optional<String> home() {
        if (this instanceof AccountRoot root) {
            return Optional.of(root.account());
        }
        if (this instanceof User user) {
            return Optional.of(user.arn().account());
        }
        return this instanceof Role role ? Optional.of(role.arn().account()) : Optional.empty();
    }

    /** True for somebody who belongs to an account of which the number is not known. */
    default boolean isOfUnknownAccount() {
        return this instanceof AnyAccount || this instanceof CanonicalUser;
    }

    /**
     * Parses the spelling that questions use: {@code anyone}, {@code any-account}, an account root's, user's or role's ARN (a
     * session's ARN stands for its role), {@code service:NAME}, {@code origin-identity:ID}, {@code canonical-user:ID}. Absent for anything
     * else.
     */
    static Optional<Actor> parse(String who) {
        if (who.equals("anyone")) {
            return Optional.of(new Anyone());
        }
        if (who.equals("any-account")) {
            return Optional.of(new AnyAccount());
        }
        if (who.startsWith("service:") && who.length() > 8) {
            return Optional.of(new Service(who.substring(8)));
        }
        if (who.startsWith("origin-identity:") && who.length() > 16) {
            return Optional.of(new OriginIdentity(who.substring(16)));
        }
        if (who.startsWith("canonical-user:") && who.length() > 15) {
            return Optional.of(new CanonicalUser(who.substring(15)));
        }
        return Arn.parse(who).flatMap(Actor::of);
    }

    private static Optional<Actor> of(Arn arn) {
        if (!arn.hasAccountNumber()) {
            return Optional.empty();
        }
        if (arn.service().equals("iam") && arn.resource().equals("root")) {
            return Optional.of(new AccountRoot(arn.account()));
        }
        if (arn.isNamed("iam", "user")) {
            return Optional.of(new User(arn));
        }
        if (arn.isNamed("iam", "role")) {
            return Optional.of(new Role(arn));
        }
        if (arn.isNamed("sts", "assumed-role") && arn.resource().charAt("assumed-role/".length()) != '/') {
            String role = arn.resource().split("/")[1];
            return Optional.of(new Role(Arn.of(arn.partition(), "iam", "", arn.account(), "role/" + role)));
        }
        return Optional.empty();
    }

    /** Spells the actor as questions do; the inverse of {@link #parse}. */
    default String spelled() {
        if (this instanceof Anyone) {
            return "anyone";
        }
        if (this instanceof AnyAccount) {
            return "any-account";
        }
        if (this instanceof AccountRoot root) {
            return "arn:aws:iam::" + root.account() + ":root";
        }
        if (this instanceof User user) {
            return user.arn().toString();
        }
        if (this instanceof Role role) {
            return role.arn().toString();
        }
        if (this instanceof Service service) {
            return "service:" + service.name();
        }
        if (this instanceof CanonicalUser user) {
            return "canonical-user:" + user.id();
        }
        return "origin-identity:" + ((OriginIdentity) this).id();
    }
}
