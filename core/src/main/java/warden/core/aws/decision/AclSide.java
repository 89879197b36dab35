package warden.core.aws.decision;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.policy.Actor;
import warden.core.aws.storage.AccessList;
import warden.core.aws.storage.AccessList.Grant;
import warden.core.aws.storage.AccessList.Grantee;
import warden.core.aws.storage.AccessList.Permission;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * What access control lists grant.
 * Source: S3 User Guide, "Access control list (ACL) overview", section "Mapping of ACL permissions and access policy
 * permissions"; "Controlling ownership of objects and disabling ACLs".
 */
public final class AclSide {
    private static final Map<String, Permission> ON_BUCKET = Map.of(
            "s3:listbucket", Permission.READ,
            "s3:listbucketversions", Permission.READ,
            "s3:listbucketmultipartuploads", Permission.READ,
            "s3:putobject", Permission.WRITE,
            "s3:deleteobject", Permission.WRITE,
            "s3:deleteobjectversion", Permission.WRITE,
            "s3:getbucketacl", Permission.READ_ACP,
            "s3:putbucketacl", Permission.WRITE_ACP);
    /**
     * The guide's table maps WRITE on a bucket to putting objects, and speaks of deleting only for the owners of bucket and object;
     * stores have been seen to let every grantee delete. So deleting through WRITE is unknown.
     */
    private static final Set<String> UNSETTLED = Set.of("s3:deleteobject", "s3:deleteobjectversion");

    /** Each version has a list of its own, and the one that is read is that of the current version. */
    private static final Set<String> OF_OLD_VERSIONS =
            Set.of("s3:getobjectversion", "s3:getobjectversionacl", "s3:putobjectversionacl");

    private static final Map<String, Permission> ON_OBJECT = Map.of(
            "s3:getobject", Permission.READ,
            "s3:getobjectversion", Permission.READ,
            "s3:getobjecttorrent", Permission.READ,
            "s3:getobjectacl", Permission.READ_ACP,
            "s3:getobjectversionacl", Permission.READ_ACP,
            "s3:putobjectacl", Permission.WRITE_ACP,
            "s3:putobjectversionacl", Permission.WRITE_ACP);

    private final Account account;

    public AclSide(Account account) {
        this.account = account;
    }

    /** Returns whether ACLs count at all in this bucket. */
    public static Truth inForce(Bucket bucket) {
        return bucket.ownership()
                .fold(
                        found -> Truth.of(found.value() != Bucket.Ownership.BUCKET_OWNER_ENFORCED),
                        absent -> Truth.TRUE,
                        unread -> Truth.UNKNOWN);
    }

    /** Returns whether a public access block, the bucket's or the account's, takes away what ACLs grant to everyone. */
    public Truth publicGrantsIgnored(Bucket bucket) {
        return PublicAccessBlock.isOn(bucket.publicAccessBlock(), PublicAccessBlock::ignorePublicAcls)
                .or(PublicAccessBlock.isOn(account.publicAccessBlock(), PublicAccessBlock::ignorePublicAcls));
    }

    /** Why an upload fails, as the end of a sentence, and where that is read. */
    public record Refusal(String says, Citation at) {}

    /**
     * Returns why a bucket surely refuses an upload because of the canned ACL that it carries: one that grants to everyone where a block bars
     * them, and any but that of the bucket's owner where ACLs are off. Source: S3 User Guide, "Controlling ownership of objects and disabling
     * ACLs for your bucket"; "Blocking public access to your Amazon S3 storage".
     *
     * @param owner the account that owns the bucket; absent where it is not known, and its own block not looked at
     */
    public static Optional<Refusal> uploadRefusal(Bucket bucket, Optional<Account> owner, String cannedAcl) {
        if (inForce(bucket) == Truth.FALSE && !cannedAcl.equals("bucket-owner-full-control")) {
            return bucket.ownership().citation().map(at -> new Refusal("the bucket does not take ACLs", at));
        }
        return cannedAcl.startsWith("public-read")
                ? barred(bucket.publicAccessBlock())
                        .or(() -> owner.flatMap(account -> barred(account.publicAccessBlock())))
                : Optional.empty();
    }

    private static Optional<Refusal> barred(Reading<PublicAccessBlock> block) {
        return block.found()
                .filter(PublicAccessBlock::blockPublicAcls)
                .flatMap(found -> block.citation())
                .map(at -> new Refusal("the public access block refuses public ACLs", at));
    }

    /** Returns a text that actions (in lower case) share when ACLs treat them alike; empty when no ACL speaks of the action. */
    public static String kind(String lowerCaseAction) {
        Permission permission = ON_OBJECT.getOrDefault(lowerCaseAction, ON_BUCKET.get(lowerCaseAction));
        return permission == null ? "" : permission + " " + lowerCaseAction;
    }

    /** Returns the objects' actions that an object's own list may grant, in lower case. */
    public static boolean isObjectAction(String lowerCaseAction) {
        return ON_OBJECT.containsKey(lowerCaseAction);
    }

    /**
     * Returns whether ACLs grant the request. A grant to the bucket owner's own account delegates to identity-based
     * policies, which are weighed elsewhere, so it does not count here.
     */
    Truth grants(Bucket bucket, Request request, String action, DecisionEvidence ledger) {
        Optional<Reading<AccessList>> list = listFor(bucket, request.resource(), action);
        if (list.isEmpty()) {
            return Truth.FALSE;
        }
        Truth inForce = inForce(bucket);
        if (inForce == Truth.FALSE) {
            ledger.step(() -> "ACLs are disabled: the bucket's owner is enforced.");
            return Truth.FALSE;
        }
        Truth granted = list.get()
                .fold(
                        found -> granted(bucket, found, request.who(), action, ledger),
                        absent -> Truth.FALSE,
                        unread -> unreadList(bucket, request.who(), unread, ledger));
        if (granted.isPossible() && inForce == Truth.UNKNOWN) {
            bucket.ownership().missing().ifPresent(ledger::need);
        }
        return granted.and(inForce);
    }

    private Truth unreadList(Bucket bucket, Actor who, Reading.Unread<AccessList> unread, DecisionEvidence ledger) {
        boolean onlyPublicGrants = who instanceof Actor.Anyone || who instanceof Actor.AnyAccount;
        if (who instanceof Actor.Service || (onlyPublicGrants && publicGrantsIgnored(bucket) == Truth.TRUE)) {
            return Truth.FALSE;
        }
        ledger.need(unread.need());
        return Truth.UNKNOWN;
    }

    /** Returns whether ACLs grant the request, without saying why. */
    public Truth grants(Bucket bucket, Request request, String action) {
        return grants(bucket, request, action, new DecisionEvidence(false));
    }

    /** Returns the list that could grant the action: the object's for reading it, the bucket's for the rest. */
    private Optional<Reading<AccessList>> listFor(Bucket bucket, String resource, String action) {
        Optional<String> key = Bucket.keyIn(resource);
        if (ON_OBJECT.containsKey(action)) {
            return key.flatMap(bucket::objectAccessList);
        }
        return ON_BUCKET.containsKey(action) ? Optional.of(bucket.accessList()) : Optional.empty();
    }

    private Truth granted(
            Bucket bucket, Reading.Found<AccessList> list, Actor who, String action, DecisionEvidence ledger) {
        Permission wanted = ON_OBJECT.getOrDefault(action, ON_BUCKET.get(action));
        Truth best = Truth.FALSE;
        for (Grant grant : list.value().grants()) {
            if (!grant.includes(wanted)) {
                continue;
            }
            Truth truth = admits(bucket, grant, who, ledger);
            if (UNSETTLED.contains(action)) {
                truth = truth.and(Truth.UNKNOWN);
                if (truth.isPossible()) {
                    ledger.open(list.at(), "whether WRITE in an ACL lets others delete is not settled");
                }
            }
            if (OF_OLD_VERSIONS.contains(action)) {
                truth = truth.and(Truth.UNKNOWN);
                if (truth.isPossible()) {
                    ledger.open(list.at(), "the ACL of the current version says nothing about older ones");
                }
            }
            if (truth == Truth.TRUE && best != Truth.TRUE) {
                ledger.allows.add(list.at().at(grant.at().toString(), grant.permission() + " to " + spelled(grant)));
                ledger.step(() -> "The ACL grants " + grant.permission() + " to " + spelled(grant) + ".");
            }
            best = best.or(truth);
        }
        return best;
    }

    private static String spelled(Grant grant) {
        if (grant.grantee() instanceof Grantee.Canonical canonical) {
            return "the canonical user " + canonical.id();
        }
        return grant.grantee() instanceof Grantee.AllUsers
                ? "all users"
                : grant.grantee() instanceof Grantee.AuthenticatedUsers
                        ? "all authenticated users"
                        : "a group of the provider";
    }

    private Truth admits(Bucket bucket, Grant grant, Actor who, DecisionEvidence ledger) {
        if (who instanceof Actor.Service) {
            return Truth.FALSE;
        }
        if (grant.grantee() instanceof Grantee.Canonical canonical) {
            boolean own = who.home().filter(account.number()::equals).isPresent();
            Truth stands = own ? Truth.FALSE : account.canonicalIds().standsFor(canonical.id(), who);
            if (stands == Truth.UNKNOWN) {
                ledger.need(
                        new Need("bucket-acl", bucket.arn(), "whose canonical user id the ACL names is not known", ""));
            }
            return stands;
        }
        Truth group = inGroup(grant.grantee(), who);
        if (group == Truth.FALSE) {
            return group;
        }
        Truth ignored = publicGrantsIgnored(bucket);
        if (ignored == Truth.UNKNOWN) {
            bucket.publicAccessBlock().missing().ifPresent(ledger::need);
            account.publicAccessBlock().missing().ifPresent(ledger::need);
        } else if (ignored == Truth.TRUE) {
            ledger.step(() -> "A public access block ignores what the ACL grants to everyone.");
            bucket.publicAccessBlock().citation().ifPresent(ledger.limits::add);
        }
        return group.and(ignored.not());
    }

    /** Whether an origin identity counts among "authenticated users" is not said anywhere. */
    private static Truth inGroup(Grantee grantee, Actor who) {
        if (grantee instanceof Grantee.AllUsers) {
            return Truth.TRUE;
        }
        if (!(grantee instanceof Grantee.AuthenticatedUsers) || who instanceof Actor.Anyone) {
            return Truth.FALSE;
        }
        return who instanceof Actor.OriginIdentity ? Truth.UNKNOWN : Truth.TRUE;
    }

    /**
     * Returns whether the object belongs to somebody other than the bucket's owner, as its ACL shows it.
     * Absent ACLs and disabled ones mean the bucket's owner.
     */
    public Truth foreignOwned(Bucket bucket, String resource) {
        if (inForce(bucket) == Truth.FALSE) {
            return Truth.FALSE;
        }
        Optional<Reading<AccessList>> list = Bucket.keyIn(resource).flatMap(bucket::objectAccessList);
        if (list.isEmpty()) {
            return Truth.FALSE;
        }
        Optional<String> owner = list.get().found().flatMap(AccessList::ownerId);
        if (owner.isEmpty()) {
            return list.get().isUnread() ? Truth.UNKNOWN : Truth.FALSE;
        }
        Optional<String> own = account.canonicalIds().canonicalId();
        return own.isEmpty()
                ? Truth.UNKNOWN
                : Truth.of(!own.get().equals(owner.get())).and(inForce(bucket));
    }

    /** Returns whether the object's list grants the action to the bucket owner's own account. */
    public Truth grantsOwnAccount(Bucket bucket, String resource, String action) {
        Optional<Reading<AccessList>> list = Bucket.keyIn(resource).flatMap(bucket::objectAccessList);
        Permission wanted = ON_OBJECT.get(action);
        if (list.isEmpty() || list.get().found().isEmpty() || wanted == null) {
            return Truth.UNKNOWN;
        }
        Optional<String> own = account.canonicalIds().canonicalId();
        return list.get().found().get().grants().stream()
                .filter(grant -> grant.includes(wanted))
                .map(grant -> grant.grantee() instanceof Grantee.Canonical canonical
                        ? own.map(id -> Truth.of(id.equals(canonical.id()))).orElse(Truth.UNKNOWN)
                        : Truth.FALSE)
                .reduce(Truth.FALSE, Truth::or);
    }
}
