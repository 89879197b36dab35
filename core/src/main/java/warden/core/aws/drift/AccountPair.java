package warden.core.aws.drift;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.identity.Principal;
import warden.core.aws.reach.Reach;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Need;
import warden.core.survey.SurveyLine;

/**
 * One account in two states, its things paired: buckets by name, distributions by a host that they share, else by identifier, users and roles by
 * name, certificates by their hosts.
 */
final class AccountPair {
    private final State old;
    private final State now;
    private final Map<String, String> partners = new LinkedHashMap<>();

    /** One state: the account, and its readings by what they are about. */
    static final class State {
        private final Account account;
        private final Reach reach;
        private final Map<String, List<String>> bySubject = new LinkedHashMap<>();
        private final Set<String> bucketNames = new HashSet<>();

        State(Account account, Reach reach) {
            this.account = account;
            this.reach = reach;
            for (SurveyLine line : account.survey().lines()) {
                bySubject
                        .computeIfAbsent(subject(line), key -> new ArrayList<>())
                        .add(line.aspect() + " " + line.of() + " " + line.outcome() + " " + line.body());
            }
            account.buckets().forEach(bucket -> bucketNames.add(bucket.name()));
        }

        Account account() {
            return account;
        }

        Reach reach() {
            return reach;
        }

        /** What many subjects have in common goes by one name. */
        private static String subject(SurveyLine line) {
            String aspect = line.aspect();
            if (aspect.equals("bucket-objects") || aspect.equals("bucket-inventory") || aspect.equals("object")) {
                // Which objects exist says nothing of who may do what; their keys' encryption does.
                return aspect.equals("object") ? bucket(line) : "objects";
            }
            if (aspect.startsWith("bucket-") && !aspect.equals("bucket-list") || aspect.equals("object-acl")) {
                return bucket(line);
            }
            if (aspect.equals("iam-user") || aspect.equals("iam-role")) {
                return line.of();
            }
            if (aspect.equals("iam-policy") || aspect.equals("iam-group")) {
                return "identity";
            }
            if (aspect.equals("distribution")
                    || aspect.equals("distribution-list")
                    || aspect.equals("origin-control")) {
                return "edges";
            }
            boolean concernsAll = aspect.startsWith("account-")
                    || aspect.startsWith("organization-")
                    || aspect.equals("key-policy")
                    || aspect.equals("origin-identity");
            return concernsAll ? "account" : "rest";
        }

        private static String bucket(SurveyLine line) {
            return Bucket.nameIn(line.of()).map(Bucket::arnOf).orElse(line.of());
        }

        List<String> about(String subject) {
            return bySubject.getOrDefault(subject, List.of());
        }

        /** Returns the bucket; absent where there surely is none of this name. */
        Optional<Bucket> bucket(String name) {
            return account.ownsBucket(name) == Truth.FALSE ? Optional.empty() : Optional.of(account.bucket(name));
        }

        /** Returns what keeps from telling whether there is a bucket of this name; absent where it can be told. */
        Optional<Need> unknownBucket(String name) {
            Truth owns = account.ownsBucket(name);
            boolean isKnown = owns == Truth.FALSE || owns == Truth.TRUE && bucketNames.contains(name);
            return isKnown
                    ? Optional.empty()
                    : Optional.of(new Need(
                            "bucket-list",
                            account.number(),
                            "whether there is the bucket " + name + " was not read",
                            "s3:ListAllMyBuckets"));
        }

        private Map<String, Principal> principals() {
            Map<String, Principal> all = new LinkedHashMap<>();
            account.directory().principals().forEach(each -> all.put(name(each), each));
            return all;
        }

        /** Returns what keeps from telling whether there is an edge with this ARN; absent where there surely is none. */
        Optional<Need> unknownEdge(String arn) {
            return account.edges().unreadDistributions().stream()
                    .filter(edge -> edge.arn().equals(arn))
                    .map(UnreadDistribution::need)
                    .findFirst()
                    .or(() -> account.survey().unlisted("distribution-list", account.number()));
        }

        /**
         * A user or role without a line is not there only where the lines of others of its kind show that they were read.
         *
         * @param aspect what reads its kind
         */
        boolean showsPrincipals(String aspect) {
            return account.directory().principals().stream()
                            .anyMatch(each -> each.aspect().equals(aspect))
                    && account.directory().unreadPrincipals().isEmpty();
        }
    }

    AccountPair(State old, State now) {
        this.old = old;
        this.now = now;
        Map<String, Distribution> byHost = new LinkedHashMap<>();
        old.account().edges().distributions().forEach(each -> hosts(each)
                .forEach(host -> byHost.putIfAbsent(host, each)));
        for (Distribution each : now.account().edges().distributions()) {
            hosts(each)
                    .map(byHost::get)
                    .filter(Objects::nonNull)
                    .findFirst()
                    .filter(partner -> !partner.arn().equals(each.arn()))
                    .ifPresent(partner -> {
                        partners.put(each.arn(), partner.arn());
                        partners.put(each.domain(), partner.domain());
                    });
        }
        Map<String, Certificate> byNames = new LinkedHashMap<>();
        old.account().names().certificates().forEach(each -> byNames.putIfAbsent(names(each), each));
        for (Certificate each : now.account().names().certificates()) {
            Optional.ofNullable(byNames.get(names(each)))
                    .filter(partner -> !partner.arn().equals(each.arn()))
                    .ifPresent(partner -> partners.put(each.arn(), partner.arn()));
        }
        Map<String, Principal> before = old.principals();
        now.principals().forEach((name, each) -> Optional.ofNullable(before.get(name))
                .filter(partner -> !partner.arn().equals(each.arn()))
                .ifPresent(partner ->
                        partners.put(each.arn().toString(), partner.arn().toString())));
        Map<String, String> zones = new LinkedHashMap<>();
        Set<String> kept = new HashSet<>();
        old.account().names().zones().forEach(zone -> {
            kept.add(zone.id());
            zone.name().ifPresent(name -> zones.putIfAbsent(name, zone.id()));
        });
        now.account().names().zones().stream()
                .filter(zone -> !kept.contains(zone.id()))
                .forEach(zone -> zone.name().map(zones::get).ifPresent(id -> partners.put(zone.id(), id)));
        if (!old.account().number().equals(now.account().number())) {
            partners.put(now.account().number(), old.account().number());
        }
    }

    State old() {
        return old;
    }

    State now() {
        return now;
    }

    /** Returns what things of the new state are called in the old one, where that is another identifier. */
    Map<String, String> partners() {
        return partners;
    }

    String oldName(String newName) {
        return partners.getOrDefault(newName, newName);
    }

    private static Stream<String> hosts(Distribution distribution) {
        return Stream.concat(distribution.aliases().stream(), Stream.of(distribution.domain()))
                .filter(host -> !host.isEmpty());
    }

    static String names(Certificate certificate) {
        return certificate.names().stream().sorted().collect(Collectors.joining(" "))
                + (certificate.arn().contains(":us-east-1:") ? " us-east-1" : "");
    }

    private static String name(Principal principal) {
        return (principal.isRole() ? "role " : "user ") + principal.name();
    }

    /** Returns the names of all buckets of either state, in the order of the alphabet. */
    Set<String> buckets() {
        Set<String> names = new TreeSet<>();
        old.account().buckets().forEach(bucket -> names.add(bucket.name()));
        now.account().buckets().forEach(bucket -> names.add(bucket.name()));
        return names;
    }

    /**
     * A user or role in both states.
     *
     * @param old absent where it is not there, or not read
     */
    record PrincipalPair(Optional<Principal> old, Optional<Principal> now) {
        boolean isInBoth() {
            return old.isPresent() && now.isPresent();
        }

        Principal any() {
            return now.or(() -> old).orElseThrow();
        }
    }

    /** Returns the users and roles of either state. */
    List<PrincipalPair> principals() {
        Map<String, Principal> before = old.principals();
        Map<String, Principal> after = now.principals();
        Set<String> names = new LinkedHashSet<>(before.keySet());
        names.addAll(after.keySet());
        return names.stream()
                .sorted()
                .map(name ->
                        new PrincipalPair(Optional.ofNullable(before.get(name)), Optional.ofNullable(after.get(name))))
                .toList();
    }

    /** True when everything that was read of a subject reads the same in both states. */
    boolean isSame(String subject) {
        return old.about(subject).equals(now.about(subject));
    }
}
