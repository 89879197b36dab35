package warden.core.aws.publishing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.aws.account.Account;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Arn;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineValue;
import warden.core.site.SitePattern;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * A credential that publishes, or may, and of which nothing is known: what it may do is no better known than if it were not surveyed at all.
 *
 * @param subject its ARN, or what stands for all credentials of an account where none could be read
 * @param site the site that it publishes, or whose publisher it may be; absent when nothing tells
 * @param needs what would settle it; never empty
 */
public record UnreadPublisher(String subject, Optional<BucketSite> site, List<Need> needs) {
    private static final int MOST_NEEDS = 5;

    public UnreadPublisher {
        needs = List.copyOf(needs);
    }

    /**
     * Finds them: credentials that the site file or a pipeline names and no line describes; users and roles that were refused; and,
     * for each site whose publisher is not known, whoever could not be read of its account.
     */
    public static List<UnreadPublisher> find(
            AwsCloud cloud, List<PublishingPrincipal> publishers, Deployments deployments) {
        List<UnreadPublisher> all = new ArrayList<>();
        Map<Arn, Set<BucketSite>> named = named(cloud, deployments);
        Set<BucketSite> served = publishers.stream()
                .flatMap(publisher -> publisher.sites().stream())
                .collect(Collectors.toCollection(LinkedHashSet::new));
        named.forEach((arn, sites) -> need(cloud, arn)
                .ifPresent(need -> sites.forEach(site -> {
                    served.add(site);
                    all.add(new UnreadPublisher(arn.toString(), Optional.of(site), List.of(need)));
                })));
        Set<String> known = named.keySet().stream().map(Arn::toString).collect(Collectors.toSet());
        for (Account account : cloud.accounts()) {
            List<Need> unread = account.directory().unreadPrincipals();
            if (unread.isEmpty()) {
                continue;
            }
            List<Need> few = unread.stream().limit(MOST_NEEDS).toList();
            List<BucketSite> open = cloud.sites().stream()
                    .filter(site -> site.account() == account && !served.contains(site) && isPublishedByItself(site))
                    .toList();
            open.forEach(site -> all.add(new UnreadPublisher(few.get(0).of(), Optional.of(site), few)));
            unread.stream()
                    .filter(need -> !known.contains(need.of()))
                    .filter(need -> open.isEmpty() || !need.equals(few.get(0)))
                    .forEach(need -> all.add(new UnreadPublisher(need.of(), Optional.empty(), List.of(need))));
        }
        return all;
    }

    /** A redirect holds no pages, and a managed front is published by its own service. */
    private static boolean isPublishedByItself(BucketSite site) {
        boolean hasContent =
                !site.buckets().isEmpty() || !site.unreadDistributions().isEmpty();
        return hasContent
                && site.pattern()
                        .filter(pattern -> pattern == SitePattern.REDIRECT_ONLY || pattern == SitePattern.MANAGED_FRONT)
                        .isEmpty();
    }

    private static Map<Arn, Set<BucketSite>> named(AwsCloud cloud, Deployments deployments) {
        Map<Arn, Set<BucketSite>> named = new LinkedHashMap<>();
        for (BucketSite site : cloud.sites()) {
            site.stated().stream()
                    .flatMap(stated -> stated.credentials().stream())
                    .flatMap(text -> Arn.parse(text).stream())
                    .forEach(arn -> named.computeIfAbsent(arn, key -> new LinkedHashSet<>())
                            .add(site));
        }
        for (Pipeline pipeline : deployments.pipelines()) {
            for (DeploymentStep step : pipeline.steps()) {
                step.credential()
                        .map(CredentialUse::name)
                        .filter(PipelineValue::isKnown)
                        .flatMap(name -> Arn.parse(name.text()))
                        .ifPresent(arn -> named.computeIfAbsent(arn, key -> new LinkedHashSet<>())
                                .addAll(deployments.sitesOf(pipeline)));
            }
        }
        return named;
    }

    /** Returns what is missing of a user or role; absent when it is described, or is known not to be there. */
    private static Optional<Need> need(AwsCloud cloud, Arn arn) {
        for (Account account : cloud.accounts()) {
            if (account.number().equals(arn.account())) {
                Reading<Principal> principal = account.directory().principal(arn);
                return principal.missing();
            }
        }
        return Optional.of(new Need(
                arn.resource().startsWith("user/") ? "iam-user" : "iam-role",
                arn.toString(),
                "its account was not surveyed",
                "iam:GetAccountAuthorizationDetails"));
    }
}
