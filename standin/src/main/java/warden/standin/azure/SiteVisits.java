package warden.standin.azure;

import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.azure.account.ResourceId;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.trace.AzureTracer;
import warden.core.site.SiteFile;
import warden.core.trace.Outcome.Failure;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;
import warden.standin.Refusal;
import warden.standin.Reply;

/**
 * Serves the visitors of the simulated subscription's sites, edges and storage as the trace of the address says, with what was uploaded since. What
 * is not certain is not simulated.
 */
final class SiteVisits {
    private final SubscriptionState state;
    private final Clock clock;
    private AzureTracer tracer;
    private SubscriptionState.View traced;

    SiteVisits(SubscriptionState state, Clock clock) {
        this.state = state;
        this.clock = clock;
        this.traced = state.view();
        this.tracer = tracer(traced);
    }

    private AzureTracer tracer(SubscriptionState.View view) {
        return new AzureTracer(
                new AzureCloud(List.of(view.account()), List.of(), SiteFile.empty(), Optional.of(clock.instant())));
    }

    private synchronized AzureTracer current() {
        SubscriptionState.View now = state.view();
        if (now != traced) {
            traced = now;
            tracer = tracer(now);
        }
        return tracer;
    }

    /** True for a host, in lower case, at which a visitor is shown a certificate that fits. */
    boolean hasCertificate(String host) {
        return WebAddress.parse("https://" + host + "/")
                .address()
                .map(address -> current().trace(Visit.get(address, clock.instant())))
                .filter(trace -> !trace.outcomes().isEmpty())
                .filter(trace -> !trace.possibly(outcome -> outcome.failure().isPresent()))
                .isPresent();
    }

    /** Answers a visitor. */
    Reply answer(String method, String host, String rawPath, Map<String, String> query, boolean isSecure) {
        Optional<WebAddress> address = WebAddress.parse((isSecure ? "https://" : "http://") + host + rawPath)
                .address();
        if (address.isEmpty()) {
            throw new Refusal(400, "InvalidUri", "The requested URI does not represent any resource on the server.");
        }
        Optional<String> asked = query.isEmpty()
                ? Optional.empty()
                : Optional.of(query.entrySet().stream()
                        .map(entry ->
                                entry.getValue().isEmpty() ? entry.getKey() : entry.getKey() + "=" + entry.getValue())
                        .collect(Collectors.joining("&")));
        WebAddress whole = new WebAddress(
                isSecure, host, address.get().port(), address.get().path(), asked, List.of());
        AzureTracer followed = current();
        Trace trace = followed.trace(new Visit(whole, method.toUpperCase(Locale.ROOT), clock.instant()));
        if (!trace.isCertain() || trace.outcomes().isEmpty()) {
            throw new Refusal(501, "NotImplemented", "What answers here is not certain: " + trace.why());
        }
        warden.core.trace.Outcome outcome = trace.outcomes().get(0);
        if (outcome.failure().isPresent()) {
            boolean isTls = outcome.failure().get() == Failure.TLS;
            throw new Refusal(isTls ? 421 : 502, "NoAnswer", trace.why());
        }
        int status = outcome.status().orElseThrow();
        Reply reply = outcome.object()
                .flatMap(this::blob)
                .map(blob -> new Reply(status, BlobApi.headers(blob), blob.content()))
                .orElseGet(() -> Reply.page(status));
        outcome.location().ifPresent(to -> reply.headers().put("Location", to));
        return reply;
    }

    private Optional<BlobStore.Blob> blob(String object) {
        Optional<String> name = ResourceId.blobIn(object);
        Optional<String> container = ResourceId.containerIn(object);
        if (name.isEmpty() || container.isEmpty()) {
            return Optional.empty();
        }
        return state.view().account().subscription().account(object).flatMap(each -> state.store()
                .get(each.container(ResourceId.name(container.get())), name.get()));
    }
}
