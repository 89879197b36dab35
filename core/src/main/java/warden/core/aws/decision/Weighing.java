package warden.core.aws.decision;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import warden.core.access.Truth;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * In what the rules of access are weighed: truths for one request, sets of requests, sets of resources. A weighing knows one caller, one
 * action and, but for sets of resources, what is asked for; it says what each statement and each setting comes to, and {@link AccessRules}
 * puts that together.
 *
 * @param <V> a value between nothing and everything, which may be known in part only
 */
public interface Weighing<V> {
    /** Whose policy a statement stands in. */
    enum Part {
        ORGANIZATION,
        IDENTITY,
        BOUNDARY,
        /** The policy of what is asked for: a bucket, a key, a role. */
        RESOURCE
    }

    /** Returns everything, nothing, or what may be either. */
    V of(Truth truth);

    V union(V one, V other);

    V intersect(V one, V other);

    V minus(V whole, V taken);

    /** True when surely nothing is left. */
    boolean isNone(V value);

    /** True when it surely is everything, as far as that is seen without work. */
    boolean isAll(V value);

    /** Returns the statements that say something about the action, or may. */
    List<Statement> speaking(PolicyDocument document);

    /**
     * Returns what a statement allows.
     *
     * @param statement absent for a document that could not be made out as a whole
     * @param named whether, and how, it names the caller
     */
    V allow(HeldPolicy policy, Optional<Statement> statement, PrincipalClause.Named named, Part part);

    /**
     * Returns what a statement denies.
     *
     * @param statement absent for a document that could not be made out as a whole
     * @param means whether the statement means the caller
     */
    V deny(HeldPolicy policy, Optional<Statement> statement, Truth means, Part part);

    /** Returns what the access lists of a bucket and its objects grant. */
    V byAccessLists(Bucket bucket);

    /** Returns where objects belong to others than the bucket's owner, so that only their own lists open them for reading. */
    V foreignOwned(Bucket bucket);

    /** Returns where an object's own list admits the account of the bucket's owner. */
    V ownAccountByAccessLists(Bucket bucket);

    /** Returns what the encryption key, where one is needed, lets through. */
    V keyLets(Bucket bucket);

    /**
     * Returns what an organization lets through none of whose policies that were read allows anything. A request is refused by them; but
     * since an account under such policies alone could do nothing at all, what is said of all requests leaves open that one was not read.
     */
    V underDenyingOrganization();

    /** Notes what would have to be read to be sure. */
    default void need(Need need) {}

    /** Notes a setting that takes a grant back. */
    default void limit(Citation setting) {}

    /** Notes what was taken for granted, in words. */
    default void assume(String what) {}

    /** Notes a step of the reasoning. */
    default void step(Supplier<String> sentence) {}
}
