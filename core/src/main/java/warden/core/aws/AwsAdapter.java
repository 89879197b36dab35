package warden.core.aws;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.access.Matrix;
import warden.core.access.Questions;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.drift.AwsChanges;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.policy.Arn;
import warden.core.aws.publishing.AwsPublishing;
import warden.core.aws.reach.BucketAnswers;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.SharedSecrets;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.aws.trace.Tracer;
import warden.core.aws.trim.Trimmed;
import warden.core.cloud.Changes;
import warden.core.cloud.Cloud;
import warden.core.cloud.Following;
import warden.core.document.DisplayText;
import warden.core.names.Zone;
import warden.core.pipeline.Pipeline;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SiteFile.StatedSite;
import warden.core.survey.Need;

/** The first provider's answers to what is asked of every cloud. */
public record AwsAdapter(AwsCloud cloud) implements Cloud {
    @Override
    public List<Account> accounts() {
        return cloud.accounts();
    }

    @Override
    public List<BucketSite> sites() {
        return cloud.sites();
    }

    @Override
    public Optional<Account> accountOf(String subject) {
        return cloud.accountOf(subject);
    }

    @Override
    public boolean spells(String subject) {
        return Arn.parse(subject).isPresent();
    }

    @Override
    public boolean isStore(String subject) {
        return Bucket.nameIn(subject).isPresent();
    }

    @Override
    public boolean isBeside(Need need, List<? extends Site> sites) {
        List<BucketSite> own = cloud.sites().stream().filter(sites::contains).toList();
        Optional<String> bucket = Bucket.nameIn(need.of());
        boolean isBucket = bucket.isPresent()
                && own.stream().flatMap(site -> site.buckets().stream()).noneMatch(each -> each.name()
                        .equals(bucket.get()));
        boolean isDistribution = need.aspect().equals("distribution")
                && own.stream()
                        .flatMap(site -> site.unreadDistributions().stream())
                        .noneMatch(each -> each.arn().equals(need.of()));
        return isBucket || isDistribution;
    }

    @Override
    public List<Need> unreadPrincipals() {
        return cloud.unreadPrincipals();
    }

    @Override
    public List<UnreadStore> unreadStores() {
        return cloud.accounts().stream()
                .flatMap(account -> account.buckets().stream())
                .filter(bucket -> cloud.sitesOf(bucket).isEmpty())
                .filter(bucket -> bucket.policy().missing().isPresent()
                        || bucket.website().missing().isPresent())
                .map(bucket -> new UnreadStore(bucket.arn(), bucket.name()))
                .toList();
    }

    @Override
    public Set<String> sharedSecrets() {
        return SharedSecrets.of(cloud);
    }

    @Override
    public AwsPublishing publishing(List<Pipeline> pipelines) {
        return new AwsPublishing(cloud, pipelines);
    }

    @Override
    public List<String> oddities() {
        boolean allListed = cloud.accounts().stream()
                .allMatch(account -> account.listedBuckets().found().isPresent());
        List<String> odd = new ArrayList<>();
        for (StatedSite site : cloud.file().sites()) {
            site.bucket()
                    .filter(bucket -> allListed
                            && !bucket.contains("/")
                            && cloud.ownerOf(bucket).isEmpty())
                    .ifPresent(bucket ->
                            odd.add("the site file's bucket \"" + DisplayText.name(bucket) + "\" of the site \""
                                    + DisplayText.name(site.name())
                                    + "\" is in none of the surveyed accounts; the site is judged without it"));
        }
        return odd;
    }

    @Override
    public Optional<String> shortName(String subject) {
        return Bucket.nameIn(subject)
                .or(() -> subject.startsWith("arn:") || subject.startsWith("hostedzone/")
                        ? Optional.of(subject.substring(subject.lastIndexOf('/') + 1))
                        : Optional.empty());
    }

    @Override
    public Optional<String> statedName(String store) {
        return Bucket.nameIn(store);
    }

    @Override
    public Map<String, String> hostsOfParts() {
        Map<String, String> hosts = new LinkedHashMap<>();
        for (Account account : cloud.accounts()) {
            for (Distribution distribution : account.edges().distributions()) {
                Stream.concat(distribution.aliases().stream(), Stream.of(distribution.domain()))
                        .filter(host -> !host.isEmpty())
                        .findFirst()
                        .ifPresent(host -> hosts.putIfAbsent(distribution.arn(), host));
            }
            for (UnreadDistribution unread : account.edges().unreadDistributions()) {
                unread.aliases().stream().findFirst().ifPresent(host -> hosts.putIfAbsent(unread.arn(), host));
            }
            for (Certificate certificate : account.names().certificates()) {
                certificate.names().stream().findFirst().ifPresent(host -> hosts.putIfAbsent(certificate.arn(), host));
            }
        }
        return hosts;
    }

    @Override
    public List<SiteStore> siteStores() {
        List<SiteStore> stores = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        for (BucketSite site : cloud.sites()) {
            for (Bucket bucket : site.buckets()) {
                boolean redirects = bucket.website()
                        .found()
                        .filter(rules -> rules.redirectsAll())
                        .isPresent();
                if (!redirects && seen.add(bucket.arn())) {
                    stores.add(new SiteStore(bucket, site));
                }
            }
        }
        return stores;
    }

    @Override
    public Set<String> closedStores() {
        return cloud.accounts().stream()
                .flatMap(account -> account.buckets().stream())
                .filter(bucket -> cloud.sitesOf(bucket).stream().allMatch(BucketSite::isMeantSealed))
                .map(Bucket::arn)
                .collect(Collectors.toSet());
    }

    @Override
    public List<Trimmed> trim(List<Pipeline> pipelines, Optional<String> credential, List<Site> sites) {
        AwsPublishing publishing = publishing(pipelines);
        return publishing.publishers().parallelStream()
                .filter(each -> credential
                        .map(word -> each.arn().equals(word)
                                || each.principal().name().equals(word))
                        .orElse(true))
                .filter(each -> sites.isEmpty() || each.sites().stream().anyMatch(sites::contains))
                .map(each -> Trimmed.of(
                        each,
                        publishing.deployments(),
                        new EffectivePermissions(cloud.reach(each.account()), each.principal()),
                        List.of()))
                .toList();
    }

    @Override
    public List<Matrix> matrices(List<? extends Publisher> publishers, Predicate<String> wanted) {
        return cloud.accounts().stream()
                .flatMap(account -> matrices(account, publishers, wanted).stream())
                .toList();
    }

    private List<Matrix> matrices(Account account, List<? extends Publisher> publishers, Predicate<String> wanted) {
        BucketMatrix matrix = new BucketMatrix(cloud.reach(account));
        List<String> always = publishers.stream()
                .filter(publisher -> publisher.account() == account)
                .map(Publisher::id)
                .toList();
        List<Bucket> buckets = account.buckets().stream()
                .filter(bucket -> wanted.test(bucket.arn()))
                .toList();
        return buckets.parallelStream().map(bucket -> matrix.of(bucket, always)).toList();
    }

    @Override
    public UnaryOperator<String> questions(boolean explains) {
        List<Evaluator> evaluators = cloud.accounts().stream()
                .map(account -> cloud.reach(account).evaluator())
                .toList();
        return new Questions(new BucketAnswers(evaluators, explains))::answer;
    }

    @Override
    public boolean isAsked(String question) {
        return question.contains("\"arn:");
    }

    @Override
    public boolean answersFor(String host) {
        return host.endsWith(".cloudfront.net")
                || StorageEndpoint.parse(host).isPresent()
                || cloud.accounts().stream()
                        .flatMap(account -> account.names().zones().stream())
                        .flatMap(zone -> zone.name().stream())
                        .anyMatch(name -> host.equals(name) || host.endsWith("." + name));
    }

    @Override
    public boolean isOwnAddress(String host) {
        // Sites go by names; an address of a store's own is none of their hosts.
        return false;
    }

    @Override
    public Optional<Need> unknownHost(String host) {
        return cloud.accounts().stream()
                .flatMap(account -> Stream.of(
                                account.survey().unlisted("zone-list", account.number()).stream(),
                                account.survey().unlisted("distribution-list", account.number()).stream(),
                                account.edges().unreadDistributions().stream().map(UnreadDistribution::need),
                                account.names().unreadManagedFronts().stream())
                        .flatMap(needs -> needs))
                .findFirst()
                .or(() -> cloud.hosts().zoneOf(host).flatMap(Zone::unlisted));
    }

    @Override
    public Following following(boolean triesRemedies) {
        return new Tracer(cloud, triesRemedies);
    }

    @Override
    public Changes since(Cloud old, Set<String> publishers) {
        return AwsChanges.between(((AwsAdapter) old).cloud(), cloud, publishers);
    }
}
