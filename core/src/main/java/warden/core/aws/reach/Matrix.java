package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import warden.core.algebra.Language;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Need;

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

        /** True for the rows of callers who are nobody in particular. */
        public boolean isStrangers() {
            return grantee.settled().isEmpty()
                    && (grantee.who() instanceof Actor.Anyone || grantee.who() instanceof Actor.AnyAccount)
                    && grantee.label().equals(grantee.who().spelled());
        }

        /** True when some ability is there, or may be. */
        public boolean hasAny() {
            return abilities.values().stream().anyMatch(extent -> extent.kind() != Extent.Kind.NONE);
        }
    }

    /**
     * The rows of one bucket.
     *
     * @param unread the rows of those that exist, or may, and were not read: what they can do is not known
     */
    public record Table(Bucket bucket, List<Row> rows, List<Row> unread) {
        public Table {
            rows = List.copyOf(rows);
            unread = List.copyOf(unread);
        }

        /** Returns all rows, those of which nothing is known last. */
        public List<Row> allRows() {
            return Stream.concat(rows.stream(), unread.stream()).toList();
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
        return new Table(bucket, rows, unread(bucket));
    }

    private List<Row> unread(Bucket bucket) {
        List<Row> rows = new ArrayList<>();
        for (UnreadDistribution edge : account.unreadDistributions()) {
            if (edge.mayServe(bucket.name())) {
                rows.add(unread(edge.arn(), edge.need()));
            }
        }
        for (Need need : account.directory().unreadPrincipals()) {
            rows.add(unread(need.of(), need));
        }
        return rows;
    }

    private static Row unread(String who, Need need) {
        Map<Ability, Extent> abilities = new EnumMap<>(Ability.class);
        for (Ability ability : Ability.values()) {
            abilities.put(ability, Extent.unknown(Need.spelled(List.of(need)), List.of(need)));
        }
        return new Row(new Grantee(who, new Actor.AnyAccount(), Map.of()), abilities);
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
        for (NamedCallers.Caller caller : NamedCallers.of(account, bucket)) {
            if (hasRow(caller)) {
                add(byLabel, caller.grantee());
            }
        }
        return List.copyOf(byLabel.values());
    }

    private static void add(Map<String, Grantee> byLabel, Grantee grantee) {
        byLabel.putIfAbsent(grantee.label(), grantee);
    }

    /** An edge asks the bucket's own endpoint. Source: S3 User Guide, "Delegating access control to access points". */
    private static final Map<String, ContextValue> THROUGH_NO_ACCESS_POINT = Map.of(
            "s3:DataAccessPointArn", ContextValue.ABSENT,
            "s3:DataAccessPointAccount", ContextValue.ABSENT,
            "s3:AccessPointNetworkOrigin", ContextValue.ABSENT);

    /** Returns the caller that a distribution is for the bucket behind one of its origins. */
    public static Grantee edge(Distribution distribution, Origin origin, Account account) {
        if (origin.identity().isPresent()) {
            Actor.OriginIdentity identity =
                    new Actor.OriginIdentity(origin.identity().get());
            return new Grantee(identity.spelled(), identity, THROUGH_NO_ACCESS_POINT);
        }
        if (origin.control().isEmpty()) {
            return new Grantee(distribution.arn(), new Actor.Anyone(), Map.of());
        }
        // Whether the edge also sends its account is not said in the guide.
        Map<String, ContextValue> source = new HashMap<>(THROUGH_NO_ACCESS_POINT);
        source.put("aws:SourceArn", ContextValue.Known.of(distribution.arn()));
        source.put("aws:SourceAccount", new ContextValue.OneOf(Language.of(account.number()), true));
        return new Grantee(distribution.arn(), new Actor.Service(CDN), source);
    }

    /** The account's own users and roles have rows of their own, and so have the edges for which the CDN acts. */
    private boolean hasRow(NamedCallers.Caller caller) {
        boolean own = caller.account().filter(account.number()::equals).isPresent();
        return !own || (caller.grantee().settled().isEmpty() && caller.grantee().who() instanceof Actor.AccountRoot);
    }
}
