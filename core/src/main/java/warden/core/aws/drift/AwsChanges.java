package warden.core.aws.drift;

import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;
import warden.core.access.Ability;
import warden.core.access.Gain;
import warden.core.algebra.Language;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.drift.AccountPair.PrincipalPair;
import warden.core.aws.drift.AccountPair.State;
import warden.core.aws.identity.Principal;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.permission.RightsDifference;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.reach.Grantee;
import warden.core.aws.reach.ReachDifference;
import warden.core.aws.reach.TrustDifference;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.cloud.Changes;
import warden.core.cloud.Changes.Allowed;
import warden.core.cloud.Changes.NameChange;
import warden.core.cloud.Changes.NameKind;
import warden.core.cloud.Changes.OfCredential;
import warden.core.cloud.Changes.OfName;
import warden.core.cloud.Changes.OfReach;
import warden.core.cloud.Changes.Presence;
import warden.core.cloud.Changes.Trusted;
import warden.core.drift.Incomparable;
import warden.core.drift.ZoneChanges;
import warden.core.survey.Need;

/** What changed between two states of the first provider's accounts. What reads the same in both is not compared. */
public final class AwsChanges {
    private static final String CDN = "cloudfront.amazonaws.com";

    /** The trust of a role that is not there. */
    private static final PolicyDocument NOBODY =
            new PolicyDocument(PolicyKind.TRUST, "2012-10-17", false, List.of(), List.of(), 0);

    private final AwsCloud oldCloud;
    private final AwsCloud newCloud;
    private final Set<String> publishers;
    private final List<OfReach> reach = new ArrayList<>();
    private final List<OfCredential> credentials = new ArrayList<>();
    private final List<OfName> names = new ArrayList<>();
    private final Incomparable open = new Incomparable();
    private final Map<String, String> partners = new LinkedHashMap<>();

    private AwsChanges(AwsCloud oldCloud, AwsCloud newCloud, Set<String> publishers) {
        this.oldCloud = oldCloud;
        this.newCloud = newCloud;
        this.publishers = publishers;
    }

    /**
     * Compares.
     *
     * @param publishers the ARNs of those who publish a site in either state
     */
    public static Changes between(AwsCloud oldCloud, AwsCloud newCloud, Set<String> publishers) {
        AwsChanges changes = new AwsChanges(oldCloud, newCloud, publishers);
        for (AccountPair pair : changes.pairs()) {
            changes.partners.putAll(pair.partners());
            changes.reach(pair);
            changes.credentials(pair);
            changes.names(pair);
        }
        return new Changes(changes.reach, changes.credentials, changes.names, changes.open.needs(), changes.partners);
    }

    /** Accounts go by their numbers; where each side is one account, one of them may not know its number yet. */
    private List<AccountPair> pairs() {
        List<AccountPair> pairs = new ArrayList<>();
        boolean single = oldCloud.accounts().size() == 1 && newCloud.accounts().size() == 1;
        for (Account old : oldCloud.accounts()) {
            newCloud.accounts().stream()
                    .filter(now -> single || now.number().equals(old.number()))
                    .findFirst()
                    .ifPresent(now -> pairs.add(
                            new AccountPair(new State(old, oldCloud.reach(old)), new State(now, newCloud.reach(now)))));
        }
        return pairs;
    }

    // --- who gained, who lost

    private void reach(AccountPair pair) {
        boolean sameRules = pair.isSame("account")
                && pair.old()
                        .account()
                        .canonicalIds()
                        .canonicalId()
                        .equals(pair.now().account().canonicalIds().canonicalId());
        List<PrincipalPair> principals =
                pair.principals().stream().filter(PrincipalPair::isInBoth).toList();
        boolean sameIdentity = pair.isSame("identity");
        Set<PrincipalPair> same = Collections.newSetFromMap(new IdentityHashMap<>());
        principals.stream().filter(each -> sameIdentity && isSame(pair, each)).forEach(same::add);
        List<PrincipalPair> changed =
                principals.stream().filter(each -> !same.contains(each)).toList();
        boolean sameEdges = pair.isSame("edges");
        for (String name : pair.buckets()) {
            Optional<Need> unknown =
                    pair.old().unknownBucket(name).or(() -> pair.now().unknownBucket(name));
            if (unknown.isPresent()) {
                open.add(unknown.get());
                continue;
            }
            boolean sameBucket = sameRules && pair.isSame(Bucket.arnOf(name));
            // Where neither the bucket nor any edge differs, only who differs may do something else.
            Map<Ability, OfAnyone> byAnyone = sameBucket && sameEdges ? Map.of() : outsiders(pair, name, sameBucket);
            // Those of whom neither their own policies nor the bucket's say anything in particular all gained and lost
            // the same.
            Optional<Boolean> plainTold = Optional.empty();
            for (PrincipalPair principal : sameBucket ? changed : principals) {
                boolean samePrincipal = same.contains(principal);
                boolean isPlain = samePrincipal && sameRules && isNobodyInParticular(pair, principal, name);
                if (isPlain && plainTold.filter(told -> !told).isPresent()) {
                    continue;
                }
                if (!concerns(pair.old(), principal.old().get(), name)
                        && !concerns(pair.now(), principal.now().get(), name)) {
                    continue;
                }
                int before = reach.size();
                compare(
                        pair,
                        name,
                        principal.now().get().arn().toString(),
                        Optional.of(grantee(principal.old().get())),
                        Optional.of(grantee(principal.now().get())),
                        false,
                        byAnyone);
                plainTold = isPlain ? Optional.of(reach.size() > before) : plainTold;
            }
        }
    }

    private static boolean isSame(AccountPair pair, PrincipalPair principal) {
        return pair.isSame(principal.any().arn().toString())
                && principal.old().map(Principal::arn).equals(principal.now().map(Principal::arn));
    }

    private static final Pattern OF_CALLERS =
            Pattern.compile("(?i)aws:(principal|username|userid|sourceidentity|rolesession|token)");

    private static boolean isNobodyInParticular(AccountPair pair, PrincipalPair principal, String bucket) {
        return isNobodyInParticular(pair.old(), principal.old().get(), bucket)
                && isNobodyInParticular(pair.now(), principal.now().get(), bucket);
    }

    private static boolean isNobodyInParticular(State state, Principal principal, String bucket) {
        List<String> texts = state.about(Bucket.arnOf(bucket));
        boolean isNamed = texts.stream()
                .anyMatch(text -> text.contains(principal.name())
                        || (text.startsWith("bucket-policy")
                                && OF_CALLERS.matcher(text).find()));
        return !isNamed
                && state.bucket(bucket)
                        .filter(there -> state.reach().isNobodyInParticular(principal, there))
                        .isPresent();
    }

    private static boolean concerns(State state, Principal principal, String bucket) {
        return state.bucket(bucket).isPresent()
                && state.reach().mayConcern(principal, state.bucket(bucket).get());
    }

    private static Grantee grantee(Principal principal) {
        return new Grantee(principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn()));
    }

    /** Returns what strangers gained, by ability, so that it is not told again of everybody else. */
    private Map<Ability, OfAnyone> outsiders(AccountPair pair, String name, boolean sameBucket) {
        Map<String, Grantee> before = outsiders(pair.old(), name, label -> label);
        Map<String, Grantee> after = outsiders(pair.now(), name, pair::oldName);
        Map<Ability, OfAnyone> byAnyone = new EnumMap<>(Ability.class);
        Set<String> labels = new LinkedHashSet<>(after.keySet());
        labels.addAll(before.keySet());
        for (String label : labels) {
            Grantee one = before.get(label);
            Grantee other = after.get(label);
            if (sameBucket && one != null && other != null && one.settled().equals(other.settled())) {
                continue;
            }
            // The account's own edges are no outsiders: what visitors get through them is told by itself.
            // Somebody whom only one side names is the same caller on the other; an edge is there, or it is not.
            boolean isEdge = label.contains(":distribution/");
            Optional<Grantee> oldSide = Optional.ofNullable(one != null || isEdge ? one : other);
            Optional<Grantee> newSide = Optional.ofNullable(other != null || isEdge ? other : one);
            if (isEdge && (one == null || other == null)) {
                State without = one == null ? pair.old() : pair.now();
                Optional<Need> unread = without.unknownEdge(label);
                if (unread.isPresent()) {
                    open.add(unread.get());
                    continue;
                }
            }
            compare(pair, name, label, oldSide, newSide, !isEdge, byAnyone);
        }
        return byAnyone;
    }

    private static Map<String, Grantee> outsiders(State state, String name, UnaryOperator<String> called) {
        Map<String, Grantee> all = new LinkedHashMap<>();
        if (state.bucket(name).isPresent()) {
            new BucketMatrix(state.reach())
                    .outsiders(state.bucket(name).get())
                    .forEach(each -> all.putIfAbsent(called.apply(each.label()), each));
            // A policy that lets in everybody lets in the provider's services, which a block of public access does not
            // keep out.
            Grantee edges = new Grantee(new Actor.Service(CDN));
            all.putIfAbsent(edges.label(), edges);
        }
        return all;
    }

    private void compare(
            AccountPair pair,
            String bucket,
            String who,
            Optional<Grantee> oldCaller,
            Optional<Grantee> newCaller,
            boolean isOutsider,
            Map<Ability, OfAnyone> byAnyone) {
        ReachDifference.Side before =
                new ReachDifference.Side(pair.old().reach(), pair.old().bucket(bucket), oldCaller);
        ReachDifference.Side after =
                new ReachDifference.Side(pair.now().reach(), pair.now().bucket(bucket), newCaller);
        for (Ability ability : Ability.values()) {
            ReachDifference.Result gained = new ReachDifference(after, before).of(ability);
            ReachDifference.Result lost = new ReachDifference(before, after).of(ability);
            needs(pair, gained.open());
            needs(pair, lost.open());
            OfAnyone anyone = byAnyone.get(ability);
            if (who.equals("anyone")) {
                byAnyone.put(ability, new OfAnyone(gained, lost));
            }
            // What everybody gained or lost is not told again of each.
            Optional<Gain> gain = gained.gain().filter(each -> anyone == null || !gained.isWithin(anyone.gained()));
            Optional<Gain> loss = lost.gain().filter(each -> anyone == null || !lost.isWithin(anyone.lost()));
            if (gain.isPresent() || loss.isPresent()) {
                // A service that has to act for an edge of the account's own, or for the account, is no more of an
                // outsider than those.
                boolean actsForOwn = newCaller
                                .filter(each -> each.who() instanceof Actor.Service)
                                .isPresent()
                        && (gained.needsOneOf("aws:sourcearn", edges(pair.now()))
                                || gained.needsOneOf(
                                        "aws:sourceaccount",
                                        Language.of(List.of(pair.now().account().number()))));
                reach.add(new OfReach(Bucket.arnOf(bucket), who, isOutsider && !actsForOwn, ability, gain, loss));
            }
        }
    }

    private static Language edges(State state) {
        return Language.of(state.account().edges().distributions().stream()
                .map(Distribution::arn)
                .toList());
    }

    /** What unsigned callers gained and lost, and with them everybody. */
    private record OfAnyone(ReachDifference.Result gained, ReachDifference.Result lost) {}

    private void needs(AccountPair pair, List<Need> needs) {
        open.add(needs, pair.old().account().survey(), pair.now().account().survey());
    }

    // --- credentials

    private void credentials(AccountPair pair) {
        boolean sameIdentity = pair.isSame("identity") && pair.isSame("account");
        for (PrincipalPair principal : pair.principals()) {
            String arn = principal.any().arn().toString();
            if (!principal.isInBoth()) {
                State without = principal.old().isEmpty() ? pair.old() : pair.now();
                if (!without.showsPrincipals(principal.any().aspect())) {
                    open.add(new Need(
                            principal.any().aspect(),
                            arn,
                            "users and roles were not read",
                            "iam:GetAccountAuthorizationDetails"));
                    continue;
                }
            } else if (sameIdentity && pair.isSame(arn)) {
                continue;
            }
            OfCredential change = credential(pair, principal);
            if (change.isTold()) {
                credentials.add(change);
            }
        }
    }

    private OfCredential credential(AccountPair pair, PrincipalPair principal) {
        Presence presence =
                principal.old().isEmpty() ? Presence.NEW : principal.now().isEmpty() ? Presence.GONE : Presence.CHANGED;
        boolean publishes = principal
                        .old()
                        .filter(each -> publishers.contains(each.arn().toString()))
                        .isPresent()
                || principal
                        .now()
                        .filter(each -> publishers.contains(each.arn().toString()))
                        .isPresent();
        List<Allowed> gained = new ArrayList<>();
        List<Allowed> lost = new ArrayList<>();
        if (presence != Presence.CHANGED || publishes || writesToSite(pair, principal)) {
            Optional<EffectivePermissions> before = permissions(pair.old(), principal.old());
            Optional<EffectivePermissions> after = permissions(pair.now(), principal.now());
            after.ifPresent(now -> rights(pair, now, before, gained));
            before.ifPresent(then -> rights(pair, then, after, lost));
        }
        List<Trusted> trustGained = new ArrayList<>();
        List<Trusted> trustLost = new ArrayList<>();
        if (principal.any().isRole()) {
            trust(pair, principal, trustGained, trustLost);
        }
        return new OfCredential(
                principal.any().arn().toString(), presence, publishes, gained, lost, trustGained, trustLost);
    }

    private static Optional<EffectivePermissions> permissions(State state, Optional<Principal> principal) {
        return principal.map(each -> new EffectivePermissions(state.reach(), each));
    }

    private void rights(
            AccountPair pair, EffectivePermissions more, Optional<EffectivePermissions> less, List<Allowed> found) {
        RightsDifference.Result result = new RightsDifference(more, less).find();
        needs(pair, result.open());
        result.gained().forEach(each -> found.add(new Allowed(each.action().name(), each.on(), each.because())));
    }

    private boolean writesToSite(AccountPair pair, PrincipalPair principal) {
        return principal
                        .old()
                        .filter(each -> writesToSite(oldCloud, pair.old(), each))
                        .isPresent()
                || principal
                        .now()
                        .filter(each -> writesToSite(newCloud, pair.now(), each))
                        .isPresent();
    }

    private static boolean writesToSite(AwsCloud cloud, State state, Principal principal) {
        return state.reach().candidates(principal).stream()
                .filter(bucket -> !cloud.sitesOf(bucket).isEmpty())
                .anyMatch(bucket -> state.reach()
                        .extent(bucket, grantee(principal), Ability.WRITE)
                        .truth()
                        .isPossible());
    }

    private void trust(AccountPair pair, PrincipalPair principal, List<Trusted> gained, List<Trusted> lost) {
        Optional<PolicyDocument> before = principal.old().flatMap(Principal::trust);
        Optional<PolicyDocument> after = principal.now().flatMap(Principal::trust);
        boolean isUnread = principal.old().isPresent() && before.isEmpty()
                || principal.now().isPresent() && after.isEmpty();
        if (isUnread) {
            open.add(new Need(
                    "iam-role", principal.any().arn().toString(), "its trust policy was not read", "iam:GetRole"));
            return;
        }
        TrustDifference.Side then = side(pair.old(), principal, before);
        TrustDifference.Side now = side(pair.now(), principal, after);
        trusted(pair, new TrustDifference(now, then), principal.now(), gained);
        trusted(pair, new TrustDifference(then, now), principal.old(), lost);
    }

    private static TrustDifference.Side side(State state, PrincipalPair principal, Optional<PolicyDocument> trust) {
        return new TrustDifference.Side(state.reach(), principal.any().arn().toString(), trust.orElse(NOBODY));
    }

    private void trusted(
            AccountPair pair, TrustDifference difference, Optional<Principal> principal, List<Trusted> found) {
        TrustDifference.Result result = difference.find();
        needs(pair, result.open());
        principal.ifPresent(each ->
                result.letIn().forEach(in -> found.add(new Trusted(in.who(), in.claims(), List.of(each.at())))));
    }

    // --- names

    private void names(AccountPair pair) {
        Account old = pair.old().account();
        Account now = pair.now().account();
        ZoneChanges zones = ZoneChanges.between(
                old.names().zones(),
                old.survey().unlisted("zone-list", old.number()),
                now.names().zones(),
                now.survey().unlisted("zone-list", now.number()),
                pair::oldName);
        names.addAll(zones.changes());
        needs(pair, zones.open());
        certificates(pair, old, now);
    }

    private void certificates(AccountPair pair, Account old, Account now) {
        Map<String, Certificate> before = new TreeMap<>();
        old.names().certificates().forEach(each -> before.putIfAbsent(AccountPair.names(each), each));
        Map<String, Certificate> after = new TreeMap<>();
        now.names().certificates().forEach(each -> after.putIfAbsent(AccountPair.names(each), each));
        Set<String> all = new TreeSet<>(before.keySet());
        all.addAll(after.keySet());
        for (String key : all) {
            Certificate one = before.get(key);
            Certificate other = after.get(key);
            Optional<String> ended =
                    Optional.ofNullable(one).flatMap(Certificate::expires).map(Object::toString);
            Optional<String> ends =
                    Optional.ofNullable(other).flatMap(Certificate::expires).map(Object::toString);
            if (one != null && other != null) {
                boolean sooner = one.expires().isPresent()
                        && other.expires().isPresent()
                        && other.expires().get().isBefore(one.expires().get());
                if (sooner) {
                    names.add(new OfName(key, NameKind.CERTIFICATE, NameChange.ENDS_SOONER, ended, ends));
                }
                continue;
            }
            // There is no list of certificates: one that a whole account's survey neither shows nor names is not there.
            Account without = one == null ? old : now;
            Optional<Need> unread = without.names().namedCertificates().stream()
                    .flatMap(arn -> without.survey().missing("certificate", arn).stream())
                    .findFirst();
            if (unread.isPresent()) {
                open.add(unread.get());
            } else if (without.survey().header().isOfTemplate()
                    || without.survey().header().isPartial()) {
                open.add(new Need(
                        "certificate", (one == null ? other : one).arn(), "not in the survey", "acm:ListCertificates"));
            } else {
                names.add(new OfName(
                        key, NameKind.CERTIFICATE, one == null ? NameChange.NEW : NameChange.GONE, ended, ends));
            }
        }
    }
}
