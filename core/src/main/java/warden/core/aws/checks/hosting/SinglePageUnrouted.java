package warden.core.aws.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Website;
import warden.core.checks.HostingCards;
import warden.core.site.SiteFile.Routing;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.trace.Trace;

/** Finds single-page sites whose deep links do not lead to the index document. */
final class SinglePageUnrouted implements BucketCheck {
    private static final CheckCard CARD = HostingCards.SINGLE_PAGE_UNROUTED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<PageProbe> probe =
                PageProbe.of(subject).filter(each -> each.site().routing() == Routing.SINGLE_PAGE);
        if (probe.isEmpty()) {
            return List.of();
        }
        Trace front = probe.get().frontPage();
        Optional<String> index = probe.get().index();
        if (index.isEmpty()) {
            // A front page that fails is a fault of its own, and hides this one; one that is not known leaves this open
            // too.
            return List.of(
                    front.isCertain()
                            ? behindAnotherFault(subject, probe.get().site())
                            : subject.unknown(probe.get().needs(front)));
        }
        Trace deep = probe.get().deepLink();
        if (deep.surely(outcome -> outcome.object().equals(index))) {
            return List.of(subject.clean());
        }
        if (!deep.isCertain()) {
            return List.of(subject.unknown(probe.get().needs(deep)));
        }
        String says = "A deep link into the application gets "
                + deep.outcomes().get(0).said() + ", not the index document.";
        return List.of(subject.flagged(CARD, says, PageProbe.evidence(deep)));
    }

    /** Judges by the configuration alone: once the pages are served, links into the application still have to lead to the index. */
    private static Verdict behindAnotherFault(Subject subject, BucketSite site) {
        String says =
                "Nothing leads a deep link to the index document: it will fail still when what keeps the front page away is mended.";
        Optional<Distribution> edge = PageProbe.edge(subject, site);
        if (edge.isPresent()) {
            Distribution distribution = edge.get();
            Optional<String> function = distribution.defaultBehavior().stream()
                    .flatMap(behavior -> behavior.edgeFunctions().stream())
                    .map(Behavior.EdgeFunction::arn)
                    .findFirst();
            if (function.isPresent()) {
                return subject.unknown(List.of(
                        new Need("edge-function", function.get(), "it may lead links to the index document", "")));
            }
            boolean routed = distribution.errorResponses().stream()
                    .filter(response -> response.code() == 403 || response.code() == 404)
                    .anyMatch(response -> response.page()
                            .filter(page -> isIndex(page, distribution))
                            .isPresent());
            return routed ? subject.clean() : subject.flagged(CARD, says, List.of(distribution.at()));
        }
        Optional<Reading.Found<Website>> hosted = subject.bucket().website() instanceof Reading.Found<Website> found
                ? Optional.of(found)
                : Optional.empty();
        return hosted.filter(website -> !website.value().redirectsAll())
                .filter(website ->
                        !website.value().error().equals(website.value().index()))
                .map(website -> subject.flagged(CARD, says, List.of(website.at())))
                .orElse(subject.clean());
    }

    private static boolean isIndex(String page, Distribution distribution) {
        String root = distribution.rootObject().isEmpty() ? "index.html" : distribution.rootObject();
        return page.equals("/" + root);
    }
}
