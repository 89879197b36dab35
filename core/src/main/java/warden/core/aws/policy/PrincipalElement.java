package warden.core.aws.policy;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.access.Truth;

/**
 * One entry of a {@code Principal} element.
 * Source: IAM User Guide, "AWS JSON policy elements: Principal".
 */
public sealed interface PrincipalElement {
    /** Everybody, unsigned callers included. */
    record Everyone() implements PrincipalElement {}

    /** An account: its number alone, or the ARN of its root. */
    record Account(String account) implements PrincipalElement {}

    /** An IAM user. */
    record UserArn(Arn arn) implements PrincipalElement {}

    /** An IAM role, that is, all its sessions. */
    record RoleArn(Arn arn) implements PrincipalElement {}

    /** One session of a role. */
    record SessionArn(Arn arn) implements PrincipalElement {}

    /** A service of the provider. */
    record ServiceName(String name) implements PrincipalElement {}

    /** An identity provider; it appears in trust policies. */
    record Federated(String provider) implements PrincipalElement {}

    /** A canonical user id. */
    record CanonicalUser(String id) implements PrincipalElement {}

    /** An origin access identity by its ARN form. */
    record OriginAccessIdentity(String id) implements PrincipalElement {}

    /** The unique id that is left when a named user, role or group has been deleted. It names nobody. */
    record Stale(String id) implements PrincipalElement {}

    /** Something the provider would refuse here. Whom it means is not known; unsigned callers it does not mean. */
    record Unrecognised(String text) implements PrincipalElement {}

    /** How a caller is named, from the weakest to the strongest naming; it decides which other limits bind. */
    enum Naming {
        /** Through its account: a delegation to the account's own policies. */
        ACCOUNT,
        /** As a role, by the role's ARN. */
        ROLE,
        /** As one of everybody. */
        EVERYONE,
        /** Itself: a user by ARN, a session, a service, an identity. */
        ITSELF
    }

    Pattern ORIGIN_IDENTITY = Pattern.compile("user/CloudFront Origin Access Identity ([A-Za-z0-9]+|\\{[^{}]+\\})");
    Pattern SESSION = Pattern.compile("assumed-role/[^/]+/.+");
    Pattern UNIQUE_ID = Pattern.compile("(AIDA|AROA|AGPA|AIPA|ANPA|ANVA|ASCA|APKA|ABIA|ACCA|ASIA|AKIA)[A-Z0-9]{12,}");

    /** Parses an entry of the member {@code AWS}. */
    static PrincipalElement ofAws(String text) {
        if (text.equals("*")) {
            return new Everyone();
        }
        if (Arn.isAccountNumber(text)) {
            return new Account(text);
        }
        if (UNIQUE_ID.matcher(text).matches()) {
            return new Stale(text);
        }
        Optional<Arn> parsed = Arn.parse(text);
        if (parsed.isEmpty() || text.indexOf('*') >= 0 || text.indexOf('?') >= 0) {
            return new Unrecognised(text);
        }
        Arn arn = parsed.get();
        Matcher identity = ORIGIN_IDENTITY.matcher(arn.resource());
        if (arn.service().equals("iam") && arn.account().equals("cloudfront") && identity.matches()) {
            return new OriginAccessIdentity(identity.group(1));
        }
        if (!arn.hasAccountNumber()) {
            return new Unrecognised(text);
        }
        if (arn.service().equals("iam") && arn.resource().equals("root")) {
            return new Account(arn.account());
        }
        if (arn.isNamed("iam", "user")) {
            return new UserArn(arn);
        }
        if (arn.isNamed("iam", "role")) {
            return new RoleArn(arn);
        }
        if (arn.service().equals("sts") && SESSION.matcher(arn.resource()).matches()) {
            return new SessionArn(arn);
        }
        // Federated user sessions are named so; no caller of ours is one.
        if (arn.isNamed("sts", "federated-user")) {
            return new Federated(text);
        }
        return new Unrecognised(text);
    }

    /** Returns whether exactly this entry names {@code actor}, its account's entry not counted for its members. */
    default Truth namesItself(Actor actor, CanonicalIds ids) {
        if (this instanceof Everyone) {
            return Truth.TRUE;
        }
        if (this instanceof Account account && actor instanceof Actor.CanonicalUser user) {
            // Whose number it is is not known, nor whether the caller is the account's root.
            return ids.mayBelongTo(user.id(), account.account()) ? Truth.UNKNOWN : Truth.FALSE;
        }
        if (this instanceof Account account) {
            return Truth.of(
                    actor instanceof Actor.AccountRoot root && root.account().equals(account.account()));
        }
        if (actor instanceof Actor.CanonicalUser user
                && (this instanceof UserArn || this instanceof RoleArn || this instanceof SessionArn)) {
            return ids.mayBelongTo(user.id(), arnOf(this).account()) ? Truth.UNKNOWN : Truth.FALSE;
        }
        if (this instanceof CanonicalUser canonical && actor instanceof Actor.CanonicalUser user) {
            return Truth.of(canonical.id().equals(user.id()));
        }
        if (this instanceof UserArn user) {
            return Truth.of(actor instanceof Actor.User that && that.arn().equals(user.arn()));
        }
        if (this instanceof RoleArn role) {
            return Truth.of(actor instanceof Actor.Role that && that.arn().equals(role.arn()));
        }
        if (this instanceof SessionArn session) {
            boolean sameRole = actor instanceof Actor.Role that
                    && that.arn().account().equals(session.arn().account())
                    && that.arn().name().equals(session.arn().resource().split("/")[1]);
            return sameRole ? Truth.UNKNOWN : Truth.FALSE;
        }
        if (this instanceof ServiceName service) {
            return Truth.of(actor instanceof Actor.Service that && that.name().equalsIgnoreCase(service.name()));
        }
        if (this instanceof OriginAccessIdentity identity) {
            return Truth.of(
                    actor instanceof Actor.OriginIdentity that && that.id().equals(identity.id()));
        }
        if (this instanceof CanonicalUser canonical) {
            boolean canBe = actor instanceof Actor.OriginIdentity || actor instanceof Actor.AccountRoot;
            return canBe ? ids.standsFor(canonical.id(), actor) : Truth.FALSE;
        }
        if (this instanceof Unrecognised) {
            return Truth.of(actor instanceof Actor.Anyone).not().and(Truth.UNKNOWN);
        }
        return Truth.FALSE;
    }

    private static Arn arnOf(PrincipalElement element) {
        return element instanceof UserArn user
                ? user.arn()
                : element instanceof RoleArn role ? role.arn() : ((SessionArn) element).arn();
    }

    /** Returns whether this entry stands for {@code actor}, an account's entry for every principal of the account. */
    default Truth standsFor(Actor actor, CanonicalIds ids) {
        Truth itself = namesItself(actor, ids);
        if (itself == Truth.TRUE) {
            return itself;
        }
        if (this instanceof Account account && !(actor instanceof Actor.CanonicalUser)) {
            return Truth.of(actor.home().filter(account.account()::equals).isPresent());
        }
        if (this instanceof CanonicalUser canonical && actor.home().isPresent()) {
            return ids.standsFor(canonical.id(), actor);
        }
        return itself;
    }

    /** Returns how this entry names those for whom it stands. */
    default Naming naming(Actor actor) {
        if (this instanceof Everyone) {
            return Naming.EVERYONE;
        }
        if (this instanceof RoleArn) {
            return Naming.ROLE;
        }
        boolean delegates = this instanceof Account || this instanceof CanonicalUser;
        boolean isMember = actor instanceof Actor.User || actor instanceof Actor.Role;
        return delegates && isMember ? Naming.ACCOUNT : Naming.ITSELF;
    }
}
