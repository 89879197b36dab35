package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.ErrorResponse;
import warden.core.aws.cdn.Origin;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.storage.Website;
import warden.core.aws.survey.AwsAspects;
import warden.core.checks.HostingCards;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/** Finds error pages that are named and do not exist. */
final class ErrorMissing implements SiteBucketCheck {
    private static final CheckCard CARD = HostingCards.ERROR_MISSING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** A page that is named, and where it is named. */
    private record Named(String key, String what, Citation at) {}

    @Override
    public List<Verdict> judge(Subject subject) {
        List<Named> pages = new ArrayList<>();
        if (subject.servesContent() && subject.bucket().website() instanceof Reading.Found<Website> website) {
            website.value()
                    .error()
                    .ifPresent(key -> pages.add(
                            new Named(key, "The error document ", website.at().at("/ErrorDocument/Key", key))));
        }
        subject.sites().stream()
                .flatMap(site -> site.distributions().stream())
                .forEach(distribution -> customPages(subject, distribution, pages));
        List<Verdict> verdicts = new ArrayList<>();
        pages.stream()
                .collect(Collectors.toMap(Named::key, page -> page, (first, second) -> first, LinkedHashMap::new))
                .values()
                .forEach(page -> verdicts.add(judge(subject, page)));
        return verdicts;
    }

    private static void customPages(Subject subject, Distribution distribution, List<Named> pages) {
        for (ErrorResponse response : distribution.errorResponses()) {
            Optional<Origin> origin = response.page().flatMap(distribution::behaviorFor).stream()
                    .flatMap(behavior -> distribution.originsOf(behavior).stream())
                    .filter(each -> each.bucket()
                            .filter(subject.bucket().name()::equals)
                            .isPresent())
                    .findFirst();
            origin.ifPresent(each -> pages.add(new Named(
                    each.key(response.page().get()),
                    "The custom error page ",
                    distribution
                            .at()
                            .at(response.at().toString(), response.page().get()))));
        }
    }

    private static Verdict judge(Subject subject, Named page) {
        Reading<ObjectListing> objects = subject.bucket().objects();
        if (objects.isUnread()) {
            return subject.unknown(objects.missing().stream().toList());
        }
        return switch (objects.found().map(listing -> listing.has(page.key())).orElse(Truth.UNKNOWN)) {
            case TRUE -> subject.clean();
            case UNKNOWN ->
                subject.unknown(List.of(
                        AwsAspects.cutShort("bucket-objects", subject.bucket().arn())));
            case FALSE ->
                new Verdict.Flagged(Finding.of(
                                CARD,
                                subject.bucket().arn(),
                                subject.site(),
                                page.what() + page.key() + " does not exist in the bucket.",
                                List.of(
                                        page.at(),
                                        objects.citation().orElseThrow().at("", "")))
                        .at(page.key()));
        };
    }
}
