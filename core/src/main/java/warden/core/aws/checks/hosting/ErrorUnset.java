package warden.core.aws.checks.hosting;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Website;
import warden.core.checks.HostingCards;
import warden.core.site.SiteFile.Routing;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds sites with pages of their own that have nothing to show for a missing one. */
final class ErrorUnset implements SiteBucketCheck {
    private static final CheckCard CARD = HostingCards.ERROR_UNSET;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        if (subject.sites().get(0).routing() != Routing.PAGES) {
            return List.of();
        }
        BucketSite site = subject.sites().get(0);
        boolean throughRest = site.originsAt(subject.bucket()).stream().anyMatch(origin -> origin.isRest());
        boolean answered = site.distributions().stream().anyMatch(ErrorUnset::answersMissingPages);
        if (answered) {
            return List.of(subject.clean());
        }
        List<Need> unreadEdges = throughRest ? List.of() : subject.unreadEdges();
        if (!unreadEdges.isEmpty()) {
            return List.of(subject.unknown(unreadEdges));
        }
        if (throughRest) {
            List<Citation> because =
                    site.distributions().stream().map(Distribution::at).toList();
            return List.of(
                    flagged(subject, "The distribution has no custom error response for missing pages.", because));
        }
        if (!(subject.bucket().website() instanceof Reading.Found<Website> website)) {
            return subject.bucket().website().missing().stream()
                    .map(need -> subject.unknown(List.of(need)))
                    .toList();
        }
        boolean fine = website.value().error().isPresent() || website.value().redirectsAll();
        return List.of(
                fine ? subject.clean() : flagged(subject, "The website has no error document.", List.of(website.at())));
    }

    private static boolean answersMissingPages(Distribution distribution) {
        return distribution.errorResponses().stream()
                .anyMatch(
                        response -> response.page().isPresent() && (response.code() == 404 || response.code() == 403));
    }

    private static Verdict flagged(Subject subject, String says, List<Citation> because) {
        return new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, because));
    }
}
