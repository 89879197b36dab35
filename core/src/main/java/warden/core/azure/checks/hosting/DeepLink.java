package warden.core.azure.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.azure.account.WebHosting;
import warden.core.azure.audit.WebCheck;
import warden.core.survey.Need;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.WebAddress;

/**
 * What a link into a single-page application, which names no blob, comes to.
 *
 * @param index the blob at the root
 */
record DeepLink(Trace trace, Optional<String> index) {
    private static final String PATH = "/a-view-of-the-application";

    static DeepLink of(WebCheck.Of subject) {
        String host = subject.webSite().hosts().stream()
                .filter(each -> !each.startsWith("*"))
                .findFirst()
                .orElse(subject.account().name() + ".invalid");
        WebAddress https = WebAddress.parse("https://" + host + PATH).address().orElseThrow();
        Trace trace = subject.context().tracer().trace(https, subject.context().at());
        if (trace.surely(outcome -> outcome.failure().isPresent())) {
            // Straight at the web endpoint the same shows without names and certificates.
            Optional<String> own = subject.account().webHosts().stream().findFirst();
            if (subject.webSite().edges().isEmpty() && own.isPresent()) {
                trace = subject.context()
                        .tracer()
                        .trace(
                                WebAddress.parse("https://" + own.get() + PATH)
                                        .address()
                                        .orElseThrow(),
                                subject.context().at());
            }
        }
        return new DeepLink(trace, subject.hosting().found().flatMap(WebHosting::root));
    }

    private boolean isIndex(Outcome outcome) {
        return index.isPresent() && outcome.key().equals(index);
    }

    /** Returns whether the index is shown, with whatever status. */
    Truth showsIndex() {
        return truth(trace.surely(this::isIndex), trace.possibly(this::isIndex));
    }

    /** Returns whether the index is shown with status 200. */
    Truth isIndexWith200() {
        return truth(
                trace.surely(outcome -> outcome.isPage() && isIndex(outcome)),
                trace.possibly(outcome -> outcome.isPage() && isIndex(outcome)));
    }

    private static Truth truth(boolean surely, boolean possibly) {
        return surely ? Truth.TRUE : possibly ? Truth.UNKNOWN : Truth.FALSE;
    }

    List<Need> needs() {
        List<Need> needs = new ArrayList<>(trace.needs());
        if (needs.isEmpty()) {
            needs.add(new Need("request", trace.address().toString(), trace.why(), ""));
        }
        return needs;
    }

    /** True when an edge shows a page for unknown addresses, or may. */
    static boolean isRewritten(WebCheck.Of subject) {
        return !subject.webSite().edges().isEmpty() && of(subject).isIndexWith200() == Truth.TRUE;
    }
}
