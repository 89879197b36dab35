package warden.core.aws.account;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.DistributionsByHost;
import warden.core.aws.cdn.EdgePolicies;
import warden.core.aws.cdn.OriginControl;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** The distributions of one account, as its survey shows them, with what they are put together of. Safe for use by several threads. */
public final class AccountEdges {
    private final Survey survey;
    private final EdgePolicies policies;
    private final Map<String, Reading<Distribution>> distributionsByArn = new ConcurrentHashMap<>();
    private final Map<String, Reading<OriginControl>> controls = new ConcurrentHashMap<>();
    private @Nullable Reading<Set<String>> listedDistributionDomains;
    private @Nullable Map<String, List<Distribution>> distributionsByCertificate;
    private @Nullable List<Distribution> distributionsWithoutCertificate;
    private @Nullable List<Distribution> distributions;
    private @Nullable DistributionsByHost distributionsByHost;
    private @Nullable List<UnreadDistribution> unreadDistributions;
    private @Nullable Set<String> usedOriginSigners;

    AccountEdges(Survey survey) {
        this.survey = survey;
        this.policies = new EdgePolicies(survey);
    }

    /** As {@link Account#readAhead}. */
    void readAhead() {
        Account.ahead(survey.subjects("distribution"), this::distribution);
    }

    /** Returns the distributions that the survey describes, in the order of the file. */
    public synchronized List<Distribution> distributions() {
        if (distributions == null) {
            distributions = survey.subjects("distribution").stream()
                    .flatMap(arn -> distribution(arn).found().stream())
                    .toList();
        }
        return distributions;
    }

    /** Returns the distributions that the survey describes, by the hosts that they answer for. */
    public synchronized DistributionsByHost distributionsByHost() {
        if (distributionsByHost == null) {
            distributionsByHost = new DistributionsByHost(distributions());
        }
        return distributionsByHost;
    }

    /** Returns the distributions that exist, or may, and were not read. */
    public synchronized List<UnreadDistribution> unreadDistributions() {
        if (unreadDistributions == null) {
            unreadDistributions = UnreadDistribution.in(survey);
        }
        return unreadDistributions;
    }

    private Reading<Distribution> distribution(String arn) {
        return distributionsByArn.computeIfAbsent(arn, key -> survey.reading("distribution", key)
                .fold(
                        found -> new Reading.Found<>(Distribution.parse(key, found), found.at()),
                        absent -> new Reading.Absent<>(absent.code(), absent.at()),
                        unread -> new Reading.Unread<>(unread.need())));
    }

    /** Returns the distributions that show the certificate of this ARN. */
    public synchronized List<Distribution> distributionsShowing(String certificateArn) {
        if (distributionsByCertificate == null) {
            Map<String, List<Distribution>> all = new HashMap<>();
            distributions()
                    .forEach(
                            distribution -> distribution.certificate().managed().ifPresent(arn -> all.computeIfAbsent(
                                            arn, key -> new ArrayList<>())
                                    .add(distribution)));
            distributionsByCertificate = all;
        }
        return distributionsByCertificate.getOrDefault(certificateArn, List.of());
    }

    /** Returns the distributions that list hosts of their own and show only the CDN's own certificate. */
    public synchronized List<Distribution> distributionsWithoutCertificate() {
        if (distributionsWithoutCertificate == null) {
            distributionsWithoutCertificate = distributions().stream()
                    .filter(distribution -> distribution.certificate().isTheCdns())
                    .filter(distribution -> !distribution.aliases().isEmpty())
                    .toList();
        }
        return distributionsWithoutCertificate;
    }

    /** Returns the names (in lower case) of all distributions as the account lists them; unread when the list is cut short. */
    public synchronized Reading<Set<String>> listedDistributionDomains() {
        if (listedDistributionDomains == null) {
            listedDistributionDomains = readDistributionDomains();
        }
        return listedDistributionDomains;
    }

    private Reading<Set<String>> readDistributionDomains() {
        Reading<Survey.Listing> listing =
                survey.listing("distribution-list", survey.header().account());
        Optional<Need> unlisted =
                survey.unlisted("distribution-list", survey.header().account());
        if (unlisted.isPresent()) {
            return new Reading.Unread<>(unlisted.get());
        }
        return listing.map(pages -> {
            Set<String> names = new LinkedHashSet<>();
            pages.pages().forEach(page -> page.value()
                    .find("DistributionList")
                    .orElse(page.value())
                    .list("Items")
                    .forEach(item ->
                            item.text("DomainName").ifPresent(name -> names.add(name.toLowerCase(Locale.ROOT)))));
            return names;
        });
    }

    /** Returns an origin access control. */
    public Reading<OriginControl> originControl(String id) {
        return controls.computeIfAbsent(id, key -> survey.reading("origin-control", "origin-access-control/" + key)
                .map(OriginControl::parse));
    }

    /** Returns the origin access identities and controls, as surveys name them, that the distributions which were read use. */
    public synchronized Set<String> usedOriginSigners() {
        if (usedOriginSigners == null) {
            Set<String> used = new HashSet<>();
            distributions().forEach(distribution -> distribution.origins().forEach(origin -> {
                origin.identity().ifPresent(id -> used.add("origin-access-identity/" + id));
                origin.control().ifPresent(id -> used.add("origin-access-control/" + id));
            }));
            usedOriginSigners = used;
        }
        return usedOriginSigners;
    }

    /** Returns what the account's distributions are set to by their policies. */
    public EdgePolicies policies() {
        return policies;
    }
}
