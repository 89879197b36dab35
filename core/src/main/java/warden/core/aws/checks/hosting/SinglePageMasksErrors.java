package warden.core.aws.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.survey.AwsAspects;
import warden.core.checks.HostingCards;
import warden.core.document.LatePattern;
import warden.core.site.SiteFile.Routing;
import warden.core.survey.Need;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;

/** Finds sites with pages of their own where every unknown address shows the front page. */
final class SinglePageMasksErrors implements BucketCheck {
    private static final LatePattern ERROR_PAGE = LatePattern.of("(.*/)?(404|403|error|50x)\\.html");
    private static final CheckCard CARD = HostingCards.SINGLE_PAGE_MASKS_ERRORS;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<PageProbe> probe = PageProbe.of(subject);
        if (probe.isEmpty()) {
            return List.of();
        }
        Truth pages = hasPages(subject, probe.get().site());
        if (pages == Truth.FALSE) {
            return List.of();
        }
        Trace front = probe.get().frontPage();
        Optional<String> index = probe.get().index();
        Trace missing = probe.get().missingPage();
        boolean masks = index.isPresent()
                && missing.surely(
                        outcome -> outcome.isPage() && outcome.object().equals(index));
        if (masks && pages == Truth.UNKNOWN) {
            return List.of(subject.unknown(unlisted(subject)));
        }
        if (masks) {
            return List.of(subject.flagged(
                    CARD,
                    "Every unknown address answers 200 with the front page.",
                    missing.steps().stream()
                            .flatMap(step -> step.because().stream())
                            .toList()));
        }
        boolean mayMask = missing.possibly(Outcome::isPage);
        if (mayMask && (!front.isCertain() || !missing.isCertain())) {
            return List.of(subject.unknown(probe.get().needs(front.isCertain() ? missing : front)));
        }
        return List.of(subject.clean());
    }

    private static List<Need> unlisted(Subject subject) {
        return subject.bucket()
                .objects()
                .missing()
                .map(List::of)
                .orElse(List.of(
                        AwsAspects.cutShort("bucket-objects", subject.bucket().arn())));
    }

    /** Where nothing is stated, further pages beside the front page tell that the site is not a single-page application. */
    private static Truth hasPages(Subject subject, BucketSite site) {
        Optional<Routing> stated = site.stated().flatMap(file -> file.routing());
        if (stated.isPresent()) {
            return Truth.of(stated.get() == Routing.PAGES);
        }
        Optional<ObjectListing> listing = subject.bucket().objects().found();
        long pages = listing.stream()
                .flatMap(found -> found.keys().stream())
                .filter(key -> key.endsWith(".html"))
                .filter(key -> !ERROR_PAGE.matcher(key).matches())
                .limit(2)
                .count();
        return pages > 1
                ? Truth.TRUE
                : listing.filter(ObjectListing::isComplete).isPresent() ? Truth.FALSE : Truth.UNKNOWN;
    }
}
