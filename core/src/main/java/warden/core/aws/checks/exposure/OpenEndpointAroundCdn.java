package warden.core.aws.checks.exposure;

import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.cdn.Origin;
import warden.core.aws.storage.Website;
import warden.core.checks.ExposureCards;
import warden.core.site.SitePattern;
import warden.core.survey.Need;

/** Finds website endpoints behind an edge that nothing keeps visitors from using directly. */
final class OpenEndpointAroundCdn implements BucketCheck {
    private static final Map<String, String> KEY_OF_HEADER =
            Map.of("referer", "aws:referer", "user-agent", "aws:useragent");
    private static final CheckCard CARD = ExposureCards.OPEN_ENDPOINT_AROUND_CDN;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Origin> origins = subject.sites().stream()
                .flatMap(site -> site.originsAt(subject.bucket()).stream())
                .filter(Origin::isWebsite)
                .toList();
        boolean stated = subject.sites().stream().anyMatch(site -> site.meant()
                .filter(SitePattern.OPEN_BUCKET_BEHIND_CDN::equals)
                .isPresent());
        Optional<Website> website = subject.bucket().website().found();
        boolean onlyRedirects = website.filter(Website::redirectsAll).isPresent();
        List<Need> unreadEdges = origins.isEmpty() && website.isPresent() ? subject.unreadEdges() : List.of();
        if (stated || onlyRedirects || (origins.isEmpty() && unreadEdges.isEmpty())) {
            return List.of();
        }
        Extent extent = subject.reach().strangersReading(subject.bucket(), secrets(origins));
        if (extent.isSome() && origins.isEmpty()) {
            return List.of(subject.unknown(unreadEdges));
        }
        if (extent.isSome()) {
            String says =
                    "Visitors can read the website endpoint directly, around the CDN" + Strangers.scope(extent) + ".";
            return List.of(
                    new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, extent.because())
                            .with(extent.witness())));
        }
        return List.of(extent.kind() == Extent.Kind.NONE ? subject.clean() : subject.unknown(subject.needs(extent)));
    }

    /** Returns the values that the edge adds to each request, by the condition key under which a policy sees them. */
    private static Map<String, Set<String>> secrets(List<Origin> origins) {
        Map<String, Set<String>> secrets = new TreeMap<>();
        origins.forEach(origin -> origin.headers().forEach((name, value) -> {
            String key = KEY_OF_HEADER.get(name.toLowerCase(Locale.ROOT));
            if (key != null) {
                secrets.computeIfAbsent(key, any -> new HashSet<>()).add(value);
            }
        }));
        return secrets;
    }
}
