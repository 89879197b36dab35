package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.storage.Website;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.trace.Outcome;
import warden.core.trace.Step;
import warden.core.trace.Trace;
import warden.core.trace.WebAddress;

/** Finds redirects that lead nowhere, or round in a circle. */
final class RedirectBroken implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "redirect-broken",
            Area.HOSTING,
            Severity.HIGH,
            "redirect-all or a routing rule leads to a host that does not answer for this site, to itself, or round in a circle",
            "bucket-website, zone-records, distribution, certificate",
            "Visitors are sent to an error, or their browser gives up after many hops.",
            "Name the host that serves the site as the target of the redirect.",
            "S3 User Guide, \"Configuring a webpage redirect\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final int MOST_HOPS = 10;

    @Override
    public List<Verdict> examine(Subject subject) {
        if (!(subject.bucket().website() instanceof Reading.Found<Website> website)) {
            return List.of();
        }
        List<Verdict> verdicts = new ArrayList<>();
        for (Redirects.Redirect redirect : Redirects.of(website)) {
            verdicts.add(judge(subject, redirect));
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Redirects.Redirect redirect) {
        String url = (redirect.secure() ? "https://" : "http://") + redirect.host() + "/";
        List<String> seen = new ArrayList<>();
        Trace trace = null;
        for (int hop = 0; hop < MOST_HOPS; hop++) {
            if (seen.contains(url)) {
                return flagged(
                        subject, redirect, "comes round in a circle: " + String.join(", then ", seen) + ", and again");
            }
            seen.add(url);
            Optional<WebAddress> address = WebAddress.parse(url).address();
            if (address.isEmpty()) {
                return flagged(subject, redirect, "names no host that can be asked");
            }
            trace = subject.visits().to(address.get());
            if (!trace.isCertain() || trace.outcomes().get(0).location().isEmpty()) {
                break;
            }
            url = trace.outcomes().get(0).location().get();
        }
        if (trace == null || !trace.isCertain()) {
            // A host that no survey knows may well answer; one that is known and open is reported where it is open.
            return trace == null ? subject.clean() : subject.unknown(needs(subject, trace, redirect));
        }
        Outcome outcome = trace.outcomes().get(0);
        if (outcome.failure().isPresent()) {
            return flagged(subject, redirect, "does not answer for it (" + outcome.said() + ": " + trace.why() + ")");
        }
        boolean unlisted = outcome.is(403) && trace.steps().stream().noneMatch(step -> step.at() == Step.At.BUCKET);
        return unlisted
                ? flagged(subject, redirect, "answers " + outcome.said() + " (" + trace.why() + ")")
                : subject.clean();
    }

    private static List<Need> needs(Subject subject, Trace trace, Redirects.Redirect redirect) {
        return trace.needs().isEmpty()
                ? List.of(new Need("zone-records", redirect.host(), "never asked", "route53:ListResourceRecordSets"))
                : trace.needs();
    }

    private static Verdict flagged(Subject subject, Redirects.Redirect redirect, String how) {
        String says = (redirect.all() ? "The redirect of every request to " : "A routing rule's redirect to ")
                + redirect.host() + " " + how.replaceAll("\\.\\)$", ")") + ".";
        return new Verdict.Flagged(
                Finding.of(CARD, subject.bucket().arn(), subject.site(), says, List.of(redirect.at()))
                        .at(redirect.host()));
    }
}
