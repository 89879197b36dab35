package warden.core.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.check.Area;
import warden.core.check.BucketCheck;
import warden.core.check.CheckCard;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.site.Site;
import warden.core.site.SiteFile.Routing;
import warden.core.trace.Trace;

/** Finds sites with pages of their own where every unknown address shows the front page. */
final class SinglePageMasksErrors implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "single-page-masks-errors",
            Area.HOSTING,
            Severity.LOW,
            "routing is pages and every unknown URL answers 200 with the index",
            "bucket-website, distribution, bucket-objects",
            "Broken links look fine to visitors, crawlers and monitoring.",
            "Answer missing pages by an error page with status 404; or state routing: single-page in the site file if that is meant.",
            "CloudFront Developer Guide, \"Generate custom error responses\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<PageProbe> probe = PageProbe.of(subject).filter(each -> hasPages(subject, each.site()));
        if (probe.isEmpty()) {
            return List.of();
        }
        Optional<String> index = probe.get().index();
        Trace missing = probe.get().missingPage();
        boolean masks = index.isPresent()
                && missing.surely(
                        outcome -> outcome.isPage() && outcome.object().equals(index));
        return List.of(
                masks
                        ? subject.flagged(
                                CARD,
                                "Every unknown address answers 200 with the front page.",
                                missing.steps().stream()
                                        .flatMap(step -> step.because().stream())
                                        .toList())
                        : subject.clean());
    }

    /** Where nothing is stated, further pages beside the front page tell that the site is not a single-page application. */
    private static boolean hasPages(Subject subject, Site site) {
        Optional<Routing> stated = site.stated().flatMap(file -> file.routing());
        return stated.map(Routing.PAGES::equals)
                .orElseGet(() -> subject.bucket().objects().found().stream()
                                .flatMap(listing -> listing.keys().stream())
                                .filter(key -> key.endsWith(".html"))
                                .filter(key -> !key.matches("(.*/)?(404|403|error|50x)\\.html"))
                                .limit(2)
                                .count()
                        > 1);
    }
}
