package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.trace.Tracer;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.WebAddress;

/**
 * Finds addresses that visitors use and that do not give their page, by following each through the trace. What keeps the page away may have
 * no check of its own; where it has one, that one speaks.
 */
final class PageNotServed implements SiteBucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "page-not-served",
            Area.HOSTING,
            Severity.HIGH,
            "an address that visitors use (the front page, a listed page) does not give its page, and no other check names the cause",
            "bucket-policy, bucket-acl, bucket-public-access, bucket-website, bucket-objects, distribution, zone-records, certificate",
            "Visitors get an error where the page should be.",
            "Follow the address with \"gentle-warden trace\": it shows the step that decides, and what to change there.",
            "S3 User Guide, \"Hosting a static website using Amazon S3\"; CloudFront Developer Guide, \"Troubleshooting error responses from your origin\"");

    /** Pages of one listing are mostly served alike; more of them would tell little more. */
    private static final int MOST_PAGES = 25;

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** An address that was followed. */
    private record Visited(WebAddress address, Trace trace) {
        boolean surelyFails() {
            return trace.isCertain() && trace.outcomes().get(0).isError();
        }
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        Optional<PageProbe> probe = PageProbe.of(subject);
        if (probe.isEmpty()) {
            // No edge serves it; whether a website endpoint does, its configuration would tell.
            return subject.bucket().website().missing().stream()
                    .map(need -> subject.unknown(List.of(need)))
                    .toList();
        }
        BucketSite site = probe.get().site();
        List<Visited> failing = new ArrayList<>();
        Visited front = visit(subject, probe.get().address("/"));
        for (Visited visited : visits(subject, probe.get(), front)) {
            if (visited.surelyFails()) {
                failing.add(visited);
            }
        }
        if (!failing.isEmpty()) {
            return List.of(new Verdict.Flagged(finding(subject, site, failing)));
        }
        boolean mayFail = !front.trace().isCertain() && front.trace().possibly(Outcome::isError);
        return List.of(mayFail ? subject.unknown(probe.get().needs(front.trace())) : subject.clean());
    }

    private static List<Visited> visits(Subject subject, PageProbe probe, Visited front) {
        List<Visited> visits = new ArrayList<>(List.of(front));
        Tracer tracer = new Tracer(subject.cloud(), false);
        for (String host : probe.site().hosts()) {
            if (!host.startsWith("*")) {
                tracer.frontPage(host).ifPresent(address -> visits.add(visit(subject, address)));
            }
        }
        listedPages(subject, probe.site()).forEach(path -> visits.add(visit(subject, probe.address(path))));
        return visits;
    }

    private static Visited visit(Subject subject, WebAddress address) {
        return new Visited(address, subject.visits().to(address));
    }

    /** Returns the paths of listed pages, where all that is asked of the site comes from this bucket. */
    private static List<String> listedPages(Subject subject, BucketSite site) {
        String prefix = "";
        for (Distribution distribution : site.distributions()) {
            if (distribution.origins().size() != 1) {
                return List.of();
            }
            Origin origin = distribution.origins().get(0);
            prefix = origin.path().isEmpty() ? "" : origin.path().substring(1) + "/";
        }
        if (site.buckets().size() != 1 || site.distributions().size() > 1) {
            return List.of();
        }
        String below = prefix;
        return subject.bucket().objects().found().stream()
                .flatMap(listing -> pages(listing, below).stream())
                .map(key -> "/" + WebAddress.escapedKey(key.substring(below.length())))
                .toList();
    }

    private static List<String> pages(ObjectListing listing, String below) {
        return listing.keys().stream()
                .filter(key -> key.endsWith(".html") && key.startsWith(below))
                .sorted()
                .limit(MOST_PAGES)
                .toList();
    }

    private static Finding finding(Subject subject, BucketSite site, List<Visited> failing) {
        Visited first = failing.get(0);
        Outcome outcome = first.trace().outcomes().get(0);
        String rest =
                failing.size() == 1 ? "" : " The same or another error comes at " + (failing.size() - 1) + " more.";
        String says = "Visitors of " + first.address() + " get " + outcome.said() + ": "
                + first.trace().why().replaceFirst("\\.$", "") + "." + rest;
        return Finding.of(
                        CARD, subject.bucket().arn(), Optional.of(site.name()), says, PageProbe.evidence(first.trace()))
                .at(first.address().toString());
    }
}
