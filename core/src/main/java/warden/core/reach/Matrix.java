package warden.core.reach;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.algebra.Language;
import warden.core.cdn.Distribution;
import warden.core.cdn.Origin;
import warden.core.identity.Principal;
import warden.core.policy.Actor;
import warden.core.policy.ContextValue;
import warden.core.policy.PrincipalElement;
import warden.core.policy.Statement;
import warden.core.storage.Bucket;

/** Who can do what with a bucket: actors by abilities. */
public final class Matrix {
    private static final String CDN = "cloudfront.amazonaws.com";

    private final Reach reach;
    private final Account account;

    public Matrix(Reach reach) {
        this.reach = reach;
        this.account = reach.evaluator().account();
    }

    /** A row: an actor and how far each ability reaches. */
    public record Row(Grantee grantee, Map<Ability, Extent> abilities) {
        public Row {
            abilities = java.util.Collections.unmodifiableMap(new EnumMap<>(abilities));
        }

        /** True when some ability is there, or may be. */
        public boolean hasAny() {
            return abilities.values().stream().anyMatch(extent -> extent.kind() != Extent.Kind.NONE);
        }
    }

    /** The rows of one bucket. */
    public record Table(Bucket bucket, List<Row> rows) {
        public Table {
            rows = List.copyOf(rows);
        }
    }

    /**
     * Computes the rows of one bucket: strangers, edges, identities, accounts and services that its policy names, and those of the
     * account's own principals that have any ability.
     *
     * @param always principals that get a row even without an ability, by ARN: the publishing credentials
     */
    public Table of(Bucket bucket, List<String> always) {
        List<Row> rows = new ArrayList<>();
        for (Grantee grantee : outsiders(bucket)) {
            rows.add(row(bucket, grantee));
        }
        for (Principal principal : account.directory().principals()) {
            Actor actor = principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn());
            Row row = row(bucket, new Grantee(actor));
            if (row.hasAny() || always.contains(actor.spelled())) {
                rows.add(row);
            }
        }
        return new Table(bucket, rows);
    }

    private Row row(Bucket bucket, Grantee grantee) {
        Map<Ability, Extent> abilities = new EnumMap<>(Ability.class);
        for (Ability ability : Ability.values()) {
            abilities.put(ability, reach.extent(bucket, grantee, ability));
        }
        return new Row(grantee, abilities);
    }

    private List<Grantee> outsiders(Bucket bucket) {
        Map<String, Grantee> byLabel = new LinkedHashMap<>();
        add(byLabel, new Grantee(new Actor.Anyone()));
        add(byLabel, new Grantee(new Actor.AnyAccount()));
        for (Distribution distribution : account.distributions()) {
            for (Origin origin : distribution.origins()) {
                if (origin.bucket().filter(bucket.name()::equals).isPresent() && origin.isRest()) {
                    add(byLabel, edge(distribution, origin, account));
                }
            }
        }
        bucket.policy().found().ifPresent(policy -> policy.statements().stream()
                .filter(Statement::mayAllow)
                .flatMap(statement -> statement.principals().stream())
                .flatMap(clause -> clause.elements().stream())
                .flatMap(element -> named(element).stream())
                .forEach(actor -> add(byLabel, new Grantee(actor))));
        return List.copyOf(byLabel.values());
    }

    private static void add(Map<String, Grantee> byLabel, Grantee grantee) {
        byLabel.putIfAbsent(grantee.label(), grantee);
    }

    /** Returns the caller that a distribution is for the bucket behind one of its origins. */
    public static Grantee edge(Distribution distribution, Origin origin, Account account) {
        if (origin.identity().isPresent()) {
            return new Grantee(new Actor.OriginIdentity(origin.identity().get()));
        }
        if (origin.control().isEmpty()) {
            return new Grantee(distribution.arn(), new Actor.Anyone(), Map.of());
        }
        // Whether the edge also sends its account is not said in the guide.
        Map<String, ContextValue> source = Map.of(
                "aws:SourceArn",
                ContextValue.Known.of(distribution.arn()),
                "aws:SourceAccount",
                new ContextValue.OneOf(Language.of(account.number()), true));
        return new Grantee(distribution.arn(), new Actor.Service(CDN), source);
    }

    private Optional<Actor> named(PrincipalElement element) {
        if (element instanceof PrincipalElement.ServiceName service) {
            return Optional.of(new Actor.Service(service.name()));
        }
        if (element instanceof PrincipalElement.OriginAccessIdentity identity) {
            return Optional.of(new Actor.OriginIdentity(identity.id()));
        }
        if (element instanceof PrincipalElement.CanonicalUser canonical) {
            return account.originIdentities().entrySet().stream()
                    .filter(entry -> entry.getValue().equals(canonical.id()))
                    .findFirst()
                    .map(entry -> new Actor.OriginIdentity(entry.getKey()));
        }
        Optional<Actor> actor = element instanceof PrincipalElement.Account named
                ? Optional.of(new Actor.AccountRoot(named.account()))
                : element instanceof PrincipalElement.UserArn user
                        ? Optional.of(new Actor.User(user.arn()))
                        : element instanceof PrincipalElement.RoleArn role
                                ? Optional.of(new Actor.Role(role.arn()))
                                : Optional.empty();
        // The account's own principals have rows of their own.
        return actor.filter(named -> named instanceof Actor.AccountRoot
                || named.home().filter(account.number()::equals).isEmpty());
    }
}
