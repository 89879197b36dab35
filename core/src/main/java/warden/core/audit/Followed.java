package warden.core.audit;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.site.Site;
import warden.core.survey.Need;
import warden.core.survey.SurveyedAccount;

/**
 * Keeps an audit to what its surveys followed. A survey that followed some hosts only shows a part of the account's other sites, and nothing
 * can be said from a part; what it asked for and was refused stays open.
 *
 * @param sites the sites that the surveys are about
 * @param others the names of the sites that they are not about
 */
record Followed(AuditContext context, List<Site> sites, Set<String> others) {
    Followed {
        sites = List.copyOf(sites);
        others = Set.copyOf(others);
    }

    static Followed of(AuditContext context) {
        List<Site> sites = context.sites().stream()
                .filter(site -> isFollowed(site.account().survey().header().hosts(), site))
                .toList();
        Set<String> names = sites.stream().map(Site::name).collect(Collectors.toSet());
        return new Followed(
                context,
                sites,
                context.sites().stream()
                        .map(Site::name)
                        .filter(name -> !names.contains(name))
                        .collect(Collectors.toSet()));
    }

    private static boolean isFollowed(List<String> hosts, Site site) {
        return hosts.isEmpty() || site.hosts().stream().anyMatch(hosts::contains) || hosts.contains(site.name());
    }

    /** Returns the verdicts that the surveys can speak of. */
    List<Verdict> only(List<Verdict> verdicts) {
        boolean followsAll = context.accounts().stream()
                .noneMatch(account -> account.survey().header().isPartial());
        return followsAll
                ? verdicts
                : verdicts.stream().filter(this::isSpokenOf).toList();
    }

    private boolean isSpokenOf(Verdict verdict) {
        if (verdict instanceof Verdict.Flagged flagged) {
            return isOfFollowedSite(flagged.finding().site())
                    && (flagged.finding().site().isPresent()
                            || !isStoreOfPart(flagged.finding().subject()));
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

    /** A store that no followed site uses may be the store of a site that was not followed. */
    private boolean isStoreOfPart(String subject) {
        return accountOf(subject)
                        .filter(account -> account.survey().header().isPartial())
                        .isPresent()
                && context.clouds().stream().anyMatch(cloud -> cloud.isStore(subject));
    }

    /** Another store or edge of the account, which the survey had no reason to ask about. */
    private boolean isBeside(Need need) {
        return context.clouds().stream().anyMatch(cloud -> cloud.isBeside(need, sites)) && !wasAsked(need.of(), need);
    }

    private boolean wasAsked(String subject, Need need) {
        return accountOf(subject)
                .map(account -> !account.survey().header().isPartial()
                        || account.survey().asked(need.aspect(), need.of()))
                .orElse(true);
    }

    /** What no account owns is taken for the first's. */
    private Optional<SurveyedAccount> accountOf(String subject) {
        return context.accountOf(subject).or(() -> context.accounts().stream().findFirst());
    }
}
