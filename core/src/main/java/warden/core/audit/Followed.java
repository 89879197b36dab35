package warden.core.audit;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.aws.account.Account;
import warden.core.aws.storage.Bucket;
import warden.core.site.Estate;
import warden.core.site.Site;
import warden.core.survey.Need;

/**
 * Keeps an audit to what its surveys followed. A survey that followed some hosts only shows a part of the account's other sites, and nothing
 * can be said from a part; what it asked for and was refused stays open.
 *
 * @param sites the sites that the surveys are about
 * @param others the names of the sites that they are not about
 */
record Followed(Estate estate, List<Site> sites, Set<String> others) {
    Followed {
        sites = List.copyOf(sites);
        others = Set.copyOf(others);
    }

    static Followed of(Estate estate) {
        List<Site> sites = estate.sites().stream()
                .filter(site -> isFollowed(site.account().survey().header().hosts(), site))
                .toList();
        Set<String> names = sites.stream().map(Site::name).collect(Collectors.toSet());
        return new Followed(
                estate,
                sites,
                estate.sites().stream()
                        .map(Site::name)
                        .filter(name -> !names.contains(name))
                        .collect(Collectors.toSet()));
    }

    private static boolean isFollowed(List<String> hosts, Site site) {
        return hosts.isEmpty() || site.hosts().stream().anyMatch(hosts::contains) || hosts.contains(site.name());
    }

    /** Returns the verdicts that the surveys can speak of. */
    List<Verdict> only(List<Verdict> verdicts) {
        boolean followsAll = estate.accounts().stream()
                .noneMatch(account -> account.survey().header().isPartial());
        return followsAll
                ? verdicts
                : verdicts.stream().filter(this::isSpokenOf).toList();
    }

    private boolean isSpokenOf(Verdict verdict) {
        if (verdict instanceof Verdict.Flagged flagged) {
            return isOfFollowedSite(flagged.finding().site())
                    && (flagged.finding().site().isPresent()
                            || !isBucketOfPart(flagged.finding().subject()));
        }
        if (verdict instanceof Verdict.Unknown unknown) {
            return isOfFollowedSite(unknown.site())
                    && unknown.needs().stream()
                            .anyMatch(need ->
                                    unknown.site().isPresent() ? !isBeside(need) : wasAsked(unknown.subject(), need));
        }
        return isOfFollowedSite(((Verdict.Clean) verdict).site());
    }

    private boolean isOfFollowedSite(Optional<String> site) {
        return site.isEmpty() || !others.contains(site.get());
    }

    /** A bucket that no followed site uses may be the bucket of a site that was not followed. */
    private boolean isBucketOfPart(String subject) {
        return accountOf(subject)
                        .filter(account -> account.survey().header().isPartial())
                        .isPresent()
                && Bucket.nameIn(subject).isPresent();
    }

    /** Another bucket or distribution of the account, which the survey had no reason to ask about. */
    private boolean isBeside(Need need) {
        Optional<String> bucket = Bucket.nameIn(need.of());
        boolean isBucket = bucket.isPresent()
                && sites.stream().flatMap(site -> site.buckets().stream()).noneMatch(own -> own.name()
                        .equals(bucket.get()));
        boolean isDistribution = need.aspect().equals("distribution")
                && sites.stream()
                        .flatMap(site -> site.unreadDistributions().stream())
                        .noneMatch(own -> own.arn().equals(need.of()));
        return (isBucket || isDistribution) && !wasAsked(need.of(), need);
    }

    private boolean wasAsked(String subject, Need need) {
        return accountOf(subject)
                .map(account -> !account.survey().header().isPartial()
                        || account.survey().asked(need.aspect(), need.of()))
                .orElse(true);
    }

    /** What no account owns is taken for the first's. */
    private Optional<Account> accountOf(String subject) {
        return estate.accountOf(subject).or(() -> estate.accounts().stream().findFirst());
    }
}
