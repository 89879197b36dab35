package warden.core.aws.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.aws.audit.BucketCheck.Subject;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.trace.Step;
import warden.core.trace.Trace;
import warden.core.trace.WebAddress;

/** What visitors of a site get, names and certificates aside: asked at the edge's own name, or at the website endpoint. */
final class PageProbe {
    private static final String MISSING = "/no-such-page-7f3a.html";
    private static final String DEEP_LINK = "/no/such/view-7f3a";
    private final Subject subject;
    private final BucketSite site;
    private final String base;

    private PageProbe(Subject subject, BucketSite site, String base) {
        this.subject = subject;
        this.site = site;
        this.base = base;
    }

    /** Makes a probe of the bucket's first site; absent when nothing serves the bucket. */
    static Optional<PageProbe> of(Subject subject) {
        for (BucketSite site : subject.sites()) {
            Optional<Distribution> edge = edge(subject, site);
            if (edge.isPresent() && !edge.get().domain().isEmpty()) {
                return Optional.of(
                        new PageProbe(subject, site, "https://" + edge.get().domain()));
            }
            if (edge.isEmpty()
                    && site.distributions().isEmpty()
                    && subject.bucket().website().found().isPresent()) {
                String region = subject.bucket().region().found().orElse("us-east-1");
                return Optional.of(new PageProbe(
                        subject,
                        site,
                        "http://" + subject.bucket().name() + "." + StorageEndpoint.websiteHost(region)));
            }
        }
        return Optional.empty();
    }

    /** Returns the distribution whose pages come from the bucket; absent when none of the site's does. */
    static Optional<Distribution> edge(Subject subject, BucketSite site) {
        return site.distributions().stream()
                .filter(each -> each.defaultOrigin()
                        .flatMap(Origin::bucket)
                        .filter(subject.bucket().name()::equals)
                        .isPresent())
                .findFirst();
    }

    BucketSite site() {
        return site;
    }

    Trace frontPage() {
        return trace("/");
    }

    Trace missingPage() {
        return trace(MISSING);
    }

    Trace deepLink() {
        return trace(DEEP_LINK);
    }

    /** Returns the address of a path, which begins with a slash. */
    WebAddress address(String path) {
        return WebAddress.parse(base + path).address().orElseThrow();
    }

    private Trace trace(String path) {
        return subject.visits().to(address(path));
    }

    /** Returns the object that visitors of the front page get; absent when that is not certain, or they get none. */
    Optional<String> index() {
        Trace front = frontPage();
        return front.isCertain() && front.outcomes().get(0).isPage()
                ? front.outcomes().get(0).object()
                : Optional.empty();
    }

    /** Returns the evidence of a trace: what its deciding step rests on, or all that it cites. */
    static List<Citation> evidence(Trace trace) {
        List<Citation> deciding = trace.steps().stream()
                .filter(Step::decides)
                .flatMap(step -> step.because().stream())
                .toList();
        return deciding.isEmpty()
                ? trace.steps().stream()
                        .flatMap(step -> step.because().stream())
                        .toList()
                : deciding;
    }

    /** Returns what would settle a trace. */
    List<Need> needs(Trace trace) {
        return trace.needs().isEmpty()
                ? List.of(new Need("bucket-objects", subject.bucket().arn(), trace.why(), ""))
                : trace.needs();
    }
}
