package warden.core.aws.site;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Truth;
import warden.core.algebra.Glob;
import warden.core.aws.account.Account;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.aws.reach.Grantee;
import warden.core.aws.reach.Reach;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Need;

/**
 * Finds the credentials that publish sites: those the site file names; roles that a pipeline can assume and users that only machines
 * use, when they can write to a site's bucket; and whoever carries a site's name together with a word for publishing.
 */
public final class PublisherFinder {
    private static final Set<String> PUBLISHING_WORDS =
            Set.of("publish", "deploy", "upload", "pipeline", "release", "website");
    private static final Set<String> PIPELINE_SERVICES =
            Set.of("codebuild.amazonaws.com", "codepipeline.amazonaws.com");
    private static final int SHORTEST_LABEL = 3;
    /** What would settle a question is not told better by very many readings than by some of them. */
    private static final int MOST_NEEDS = 5;

    private final AwsCloud cloud;
    private final Map<String, List<BucketSite>> byCredential = new HashMap<>();
    /** By each name of a site, and by the first label of each: the sites. */
    private final Map<String, Set<BucketSite>> byName = new HashMap<>();

    private final Map<String, Set<BucketSite>> byLabel = new HashMap<>();
    private final Map<BucketSite, Integer> order = new IdentityHashMap<>();

    public PublisherFinder(AwsCloud cloud) {
        this.cloud = cloud;
        for (BucketSite site : cloud.sites()) {
            order.put(site, order.size());
            site.stated().stream()
                    .flatMap(stated -> stated.credentials().stream())
                    .forEach(arn -> byCredential
                            .computeIfAbsent(arn, key -> new ArrayList<>())
                            .add(site));
            names(site).forEach(name -> {
                byName.computeIfAbsent(name, key -> new LinkedHashSet<>()).add(site);
                byLabel.computeIfAbsent(label(name), key -> new LinkedHashSet<>())
                        .add(site);
            });
        }
    }

    private static Stream<String> names(BucketSite site) {
        return Stream.concat(
                Stream.of(site.name()),
                Stream.concat(site.hosts().stream(), site.buckets().stream().map(Bucket::name)));
    }

    /** Returns the publishers of all accounts that are known to be such, users first, in the order of the surveys. */
    public List<PublishingPrincipal> find() {
        return findAll().known();
    }

    /** Returns the publishers of all accounts, and those who may be. */
    public Publishers findAll() {
        List<PublishingPrincipal> known = new ArrayList<>();
        List<PossiblePublisher> possible = new ArrayList<>();
        for (Account account : cloud.accounts()) {
            List<Answer> answers = account.directory().principals().parallelStream()
                    .map(principal -> answer(account, principal))
                    .toList();
            for (Answer answer : answers) {
                if (answer.publishes() == Truth.TRUE) {
                    known.add(publisher(account, answer.principal(), Extent::isSome));
                } else if (answer.publishes() == Truth.UNKNOWN) {
                    possible.add(new PossiblePublisher(possible(account, answer.principal()), answer.needs()));
                }
            }
        }
        return new Publishers(known, possible);
    }

    /** Whether a user or role publishes, and what would settle it where that is not known. */
    private record Answer(Principal principal, Truth publishes, List<Need> needs) {}

    private Answer answer(Account account, Principal principal) {
        boolean told =
                !statedSites(principal).isEmpty() || (!namedSites(principal).isEmpty() && hasPublishingWord(principal));
        if (told) {
            return new Answer(principal, Truth.TRUE, List.of());
        }
        List<Need> needs = new ArrayList<>(unreadSitesNamed(principal));
        if (!needs.isEmpty() && hasPublishingWord(principal)) {
            return new Answer(principal, Truth.UNKNOWN, needs);
        }
        needs.clear();
        Truth forMachines =
                principal.isRole() ? isAssumedByPipeline(principal, needs) : isMachineUser(account, principal, needs);
        if (forMachines == Truth.FALSE) {
            return new Answer(principal, Truth.FALSE, List.of());
        }
        Truth writes = Truth.FALSE;
        for (BucketSite site : candidates(principal)) {
            List<Need> open = new ArrayList<>();
            Truth here = canWrite(principal, site, open);
            if (here == Truth.TRUE) {
                writes = here;
                break;
            }
            if (here == Truth.UNKNOWN && needs.size() < MOST_NEEDS) {
                needs.addAll(open);
            }
            writes = writes.or(here);
        }
        if (writes == Truth.FALSE) {
            writes = mayWriteToPossibleSite(principal, needs);
        }
        return new Answer(principal, forMachines.and(writes), needs);
    }

    /** Returns what would tell whether the buckets that the principal is named for serve sites. */
    private List<Need> unreadSitesNamed(Principal principal) {
        String text = describe(principal);
        return cloud.possibleSites().stream()
                .filter(site -> names(site).anyMatch(name -> mentions(text, name)))
                .flatMap(site -> site.buckets().stream())
                .flatMap(bucket -> bucket.website().missing().stream())
                .limit(MOST_NEEDS)
                .toList();
    }

    /** Returns unknown for whoever may write to a bucket of which it is not known whether it serves a site; else false. */
    private Truth mayWriteToPossibleSite(Principal principal, List<Need> needs) {
        Set<Bucket> buckets = candidateBuckets(principal);
        Truth writes = Truth.FALSE;
        for (BucketSite site : cloud.possibleSites()) {
            boolean open =
                    buckets.containsAll(site.buckets()) && canWrite(principal, site, new ArrayList<>()) != Truth.FALSE;
            if (open && needs.size() < MOST_NEEDS) {
                site.buckets().forEach(bucket -> bucket.website().missing().ifPresent(needs::add));
            }
            writes = open ? Truth.UNKNOWN : writes;
        }
        return writes;
    }

    /** Returns somebody who may publish, with all sites that may be its own, those included that may be none. */
    private PublishingPrincipal possible(Account account, Principal principal) {
        PublishingPrincipal publisher = publisher(account, principal, extent -> extent.kind() != Extent.Kind.NONE);
        List<BucketSite> sites = new ArrayList<>(publisher.sites());
        String text = describe(principal);
        Set<Bucket> buckets = candidateBuckets(principal);
        cloud.possibleSites().stream()
                .filter(site ->
                        buckets.containsAll(site.buckets()) || names(site).anyMatch(name -> mentions(text, name)))
                .forEach(sites::add);
        return new PublishingPrincipal(account, principal, sites);
    }

    private PublishingPrincipal publisher(Account account, Principal principal, Predicate<Extent> counts) {
        return new PublishingPrincipal(account, principal, sitesOf(principal, counts));
    }

    /** Returns its sites: as stated, else by its name or tags, else those whose buckets its policies name. */
    private List<BucketSite> sitesOf(Principal principal, Predicate<Extent> counts) {
        List<BucketSite> stated = statedSites(principal);
        if (!stated.isEmpty()) {
            return stated;
        }
        List<BucketSite> named = namedSites(principal);
        if (!named.isEmpty()) {
            return named;
        }
        return candidates(principal).stream()
                .filter(site -> site.buckets().stream().anyMatch(bucket -> isNamedForWriting(principal, bucket)))
                .filter(site -> extents(principal, site).anyMatch(counts))
                .toList();
    }

    private List<BucketSite> statedSites(Principal principal) {
        return byCredential.getOrDefault(principal.arn().toString(), List.of());
    }

    private List<BucketSite> namedSites(Principal principal) {
        String text = describe(principal);
        List<BucketSite> matches = inOrder(mentioned(text));
        // A credential named for one host also mentions the parent domain's label; the longest mention is meant.
        int longest = matches.stream()
                .mapToInt(site -> longestMention(text, site))
                .max()
                .orElse(0);
        List<BucketSite> named = matches.stream()
                .filter(site -> longestMention(text, site) == longest)
                .toList();
        // Accounts that are stamped from one template call their sites and credentials alike; each means its own.
        List<BucketSite> own = named.stream()
                .filter(site -> site.account().number().equals(principal.arn().account()))
                .toList();
        return own.isEmpty() ? named : own;
    }

    /** Returns the sites of which a name, or its first label, stands in the text as a whole. */
    private Set<BucketSite> mentioned(String text) {
        Set<BucketSite> mentioned = new LinkedHashSet<>();
        List<Integer> bounds = new ArrayList<>();
        for (int i = 0; i <= text.length(); i++) {
            boolean before = i > 0 && isPartOfHost(text.charAt(i - 1));
            boolean after = i < text.length() && isPartOfHost(text.charAt(i));
            if (before != after) {
                bounds.add(i);
            }
        }
        for (int from = 0; from < bounds.size(); from++) {
            for (int to = from + 1; to < bounds.size(); to++) {
                String part = text.substring(bounds.get(from), bounds.get(to));
                mentioned.addAll(byName.getOrDefault(part, Set.of()));
            }
        }
        for (String word : text.split("[^a-z0-9.]+")) {
            if (word.length() >= SHORTEST_LABEL && !word.equals("www")) {
                mentioned.addAll(byLabel.getOrDefault(word, Set.of()));
            }
        }
        mentioned.removeIf(site -> names(site).noneMatch(name -> mentions(text, name)));
        return mentioned;
    }

    private List<BucketSite> inOrder(Set<BucketSite> sites) {
        return sites.stream().sorted(Comparator.comparing(order::get)).toList();
    }

    private static int longestMention(String text, BucketSite site) {
        return names(site)
                .mapToInt(name -> mentionsWhole(text, name)
                        ? 1000 + name.length()
                        : mentions(text, name) ? label(name).length() : 0)
                .max()
                .orElse(0);
    }

    private static boolean mentions(String text, String name) {
        String label = label(name);
        // Words keep their dots: the label of a parent domain inside a longer host does not mean the parent.
        return mentionsWhole(text, name)
                || (label.length() >= SHORTEST_LABEL
                        && !label.equals("www")
                        && List.of(text.split("[^a-z0-9.]+")).contains(label));
    }

    /** True when the name stands in the text, and not as a part of a longer host. */
    private static boolean mentionsWhole(String text, String name) {
        for (int at = text.indexOf(name); at >= 0; at = text.indexOf(name, at + 1)) {
            int end = at + name.length();
            boolean begins = at == 0 || !isPartOfHost(text.charAt(at - 1));
            boolean ends = end == text.length() || !isPartOfHost(text.charAt(end));
            if (begins && ends) {
                return true;
            }
        }
        return false;
    }

    private static boolean isPartOfHost(char letter) {
        return letter == '.' || Character.isLetterOrDigit(letter);
    }

    private static String label(String name) {
        int dot = name.indexOf('.');
        return (dot < 0 ? name : name.substring(0, dot)).toLowerCase(Locale.ROOT);
    }

    private static String describe(Principal principal) {
        return (principal.name() + " " + String.join(" ", principal.tags().values())).toLowerCase(Locale.ROOT);
    }

    private static boolean hasPublishingWord(Principal principal) {
        String text = describe(principal);
        return PUBLISHING_WORDS.stream().anyMatch(text::contains);
    }

    private static Truth isAssumedByPipeline(Principal role, List<Need> needs) {
        if (role.trust().isEmpty() || role.trust().get().isPartlyOpaque()) {
            needs.add(new Need(
                    "iam-role",
                    role.arn().toString(),
                    role.trust().isEmpty()
                            ? "shows no trust policy"
                            : "its trust policy is not one that the provider accepts",
                    "iam:GetAccountAuthorizationDetails"));
        }
        boolean named = role.trust().stream()
                .flatMap(trust -> trust.statements().stream())
                .filter(statement -> statement.mayAllow() && !statement.isOpaque())
                .flatMap(statement -> statement.principals().stream())
                .flatMap(clause -> clause.elements().stream())
                .anyMatch(PublisherFinder::isPipeline);
        return named ? Truth.TRUE : needs.isEmpty() ? Truth.FALSE : Truth.UNKNOWN;
    }

    private static boolean isPipeline(PrincipalElement element) {
        if (element instanceof PrincipalElement.Federated federated) {
            return federated.provider().contains(":oidc-provider/");
        }
        return element instanceof PrincipalElement.ServiceName service && PIPELINE_SERVICES.contains(service.name());
    }

    /** A user with an active access key and without a console password. */
    private static Truth isMachineUser(Account account, Principal user, List<Need> needs) {
        String arn = user.arn().toString();
        Truth hasKey = account.survey()
                .reading("iam-user-keys", arn)
                .fold(
                        found -> Truth.of(found.value().list("AccessKeyMetadata").stream()
                                .map(key -> key.text("Status").orElse(""))
                                .anyMatch("Active"::equals)),
                        absent -> Truth.FALSE,
                        unread -> {
                            needs.add(unread.need());
                            return Truth.UNKNOWN;
                        });
        if (hasKey == Truth.FALSE) {
            return hasKey;
        }
        Truth noLogin = account.survey()
                .reading("iam-login", arn)
                .fold(found -> Truth.FALSE, absent -> Truth.TRUE, unread -> {
                    needs.add(unread.need());
                    return Truth.UNKNOWN;
                });
        return hasKey.and(noLogin);
    }

    /** Returns the sites of the buckets in which it may be able to write. */
    private List<BucketSite> candidates(Principal principal) {
        Set<BucketSite> sites = new LinkedHashSet<>();
        for (Bucket bucket : candidateBuckets(principal)) {
            sites.addAll(cloud.sitesOf(bucket));
        }
        return inOrder(sites);
    }

    private Set<Bucket> candidateBuckets(Principal principal) {
        Set<Bucket> buckets = new LinkedHashSet<>();
        cloud.accounts().forEach(each -> buckets.addAll(cloud.reach(each).candidates(principal)));
        return buckets;
    }

    /** A bucket answers by the rules of the account that owns it, for callers of any account. */
    private Stream<Extent> extents(Principal principal, BucketSite site) {
        Actor actor = principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn());
        return site.buckets().stream().map(bucket -> {
            Reach reach = cloud.reach(cloud.ownerOf(bucket.name()).orElse(site.account()));
            return reach.extent(bucket, new Grantee(actor), Ability.WRITE);
        });
    }

    private Truth canWrite(Principal principal, BucketSite site, List<Need> needs) {
        Truth writes = Truth.FALSE;
        for (Extent extent : extents(principal, site).toList()) {
            if (extent.kind() == Extent.Kind.UNKNOWN) {
                needs.addAll(extent.needsOr(principal.aspect(), principal.arn().toString()));
            }
            writes = writes.or(extent.truth());
        }
        return writes;
    }

    private static boolean isNamedForWriting(Principal principal, Bucket bucket) {
        for (HeldPolicy policy : principal.holdings().policies()) {
            for (Statement statement : policy.document().statements()) {
                boolean writes = !statement.isOpaque()
                        && statement.effect() == Effect.ALLOW
                        && statement.actions().covers("s3:putobject");
                boolean names = statement.resources().stream()
                        .flatMap(clause -> clause.constants().stream())
                        .map(Glob::toString)
                        .anyMatch(text -> text.startsWith(bucket.arn() + "/"));
                if (writes && names) {
                    return true;
                }
            }
        }
        return false;
    }
}
