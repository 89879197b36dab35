package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Matrix;
import warden.core.access.Matrix.Row;
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
public final class BucketMatrix {
    private static final String CDN = "cloudfront.amazonaws.com";

    private final Reach reach;
    private final Account account;

    public BucketMatrix(Reach reach) {
        this.reach = reach;
        this.account = reach.evaluator().account();
    }

    /**
     * Computes the rows of one bucket: strangers, edges, identities, accounts and services that its policy names, and those of the
     * account's own principals that have any ability.
     *
     * @param always principals that get a row even without an ability, by ARN: the publishing credentials
     */
    public Matrix of(Bucket bucket, List<String> always) {
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
        return new Matrix(bucket.arn(), bucket.name(), rows, unread(bucket));
    }

    private List<Row> unread(Bucket bucket) {
        List<Row> rows = new ArrayList<>();
        for (UnreadDistribution edge : account.edges().unreadDistributions()) {
            if (edge.mayServe(bucket.name())) {
                rows.add(unread(edge.arn(), Matrix.Kind.EDGE, edge.need()));
            }
        }
        for (Need need : account.directory().unreadPrincipals()) {
            rows.add(unread(need.of(), Matrix.Kind.NAMED, need));
        }
        return rows;
    }

    private static Row unread(String who, Matrix.Kind kind, Need need) {
        Map<Ability, Extent> abilities = new EnumMap<>(Ability.class);
        for (Ability ability : Ability.values()) {
            abilities.put(ability, Extent.unknown(Need.spelled(List.of(need)), List.of(need)));
        }
        return new Row(who, kind, abilities);
    }

    private Row row(Bucket bucket, Grantee grantee) {
        Map<Ability, Extent> abilities = new EnumMap<>(Ability.class);
        for (Ability ability : Ability.values()) {
            abilities.put(ability, reach.extent(bucket, grantee, ability));
        }
        return new Row(grantee.label(), kind(grantee), abilities);
    }

    private static Matrix.Kind kind(Grantee grantee) {
        boolean strangers = grantee.settled().isEmpty()
                && (grantee.who() instanceof Actor.Anyone || grantee.who() instanceof Actor.AnyAccount)
                && grantee.label().equals(grantee.who().spelled());
        return strangers
                ? Matrix.Kind.STRANGERS
                : grantee.label().contains(":distribution/") ? Matrix.Kind.EDGE : Matrix.Kind.NAMED;
    }

    /** Returns the callers beside the account's own users and roles that have a row: strangers, edges, and whomever the bucket names. */
    public List<Grantee> outsiders(Bucket bucket) {
        Map<String, Grantee> byLabel = new LinkedHashMap<>();
        add(byLabel, new Grantee(new Actor.Anyone()));
        add(byLabel, new Grantee(new Actor.AnyAccount()));
        for (Distribution distribution : account.edges().distributions()) {
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
