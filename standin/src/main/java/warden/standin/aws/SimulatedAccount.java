package warden.standin.aws;

import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.aws.trace.Tracer;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.UrlText;

/** One simulated account: what its services and its sites answer. */
final class SimulatedAccount {
    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final StorageApi storage;
    private final AccountApi services;
    private final Clock clock;

    SimulatedAccount(CloudState state, Gatekeeper.Rules rules, Organization organization, Clock clock) {
        this.state = state;
        this.clock = clock;
        this.gatekeeper = new Gatekeeper(state, rules, organization, clock);
        this.storage = new StorageApi(state, gatekeeper, clock);
        this.services = new AccountApi(state, gatekeeper, organization, clock);
    }

    String number() {
        return state.header().account();
    }

    CloudState state() {
        return state;
    }

    Gatekeeper gatekeeper() {
        return gatekeeper;
    }

    AccountApi services() {
        return services;
    }

    /** Answers a call to one of its services. */
    Reply toService(Call call) {
        if (call.path().startsWith(AccountApi.ACCOUNT_BLOCK)) {
            return services.publicAccessBlock(call);
        }
        return call.service().isEmpty() || call.service().equals("s3") ? toStorage(call) : services.answer(call);
    }

    /** Returns the bucket that a host names; absent for hosts under which the path names it. */
    static Optional<String> bucketOf(String host) {
        Optional<String> byHost = StorageEndpoint.parse(host).flatMap(StorageEndpoint::bucket);
        return byHost.isEmpty() && host.endsWith(".localhost")
                ? Optional.of(host.substring(0, host.length() - ".localhost".length()))
                : byHost;
    }

    private Reply toStorage(Call call) {
        Optional<String> byHost = bucketOf(call.host());
        String path = UrlText.unescaped(call.path()).substring(1);
        if (byHost.isPresent()) {
            return storage.answer(call, byHost.get(), path);
        }
        int slash = path.indexOf('/');
        return storage.answer(
                call, slash < 0 ? path : path.substring(0, slash), slash < 0 ? "" : path.substring(slash + 1));
    }

    /** Serves a visitor as the trace of the address says; what is not certain comes out as its first possibility. */
    Reply visit(Call call) {
        boolean tls = call.wire().isSecure();
        Optional<WebAddress> address = WebAddress.parse((tls ? "https://" : "http://") + call.host() + call.path())
                .address();
        if (address.isEmpty()) {
            return Reply.of(400, "text/plain", "Bad request\n");
        }
        String query = call.query().isEmpty() ? "" : query(call);
        WebAddress whole = new WebAddress(
                tls,
                call.host(),
                address.get().port(),
                address.get().path(),
                query.isEmpty() ? Optional.empty() : Optional.of(query),
                List.of());
        Trace trace = new Tracer(state.cloud(), false).trace(new Visit(whole, call.method(), clock.instant()));
        Outcome outcome = trace.outcomes().isEmpty() ? null : trace.outcomes().get(0);
        if (outcome == null || outcome.status().isEmpty()) {
            return Reply.of(
                    502, "text/plain", "The simulated account does not know what answers here: " + trace.why() + "\n");
        }
        Reply page = outcome.object()
                .flatMap(arn -> {
                    String bucket = Bucket.arnOf(Bucket.nameIn(arn).orElseThrow());
                    return state.objects()
                            .current(bucket, Bucket.keyIn(arn).orElseThrow())
                            .map(object -> page(call, outcome.status().getAsInt(), bucket, object));
                })
                .orElseGet(() -> Reply.page(outcome.status().getAsInt()));
        outcome.location().ifPresent(to -> page.headers().put("Location", to));
        if (!trace.isCertain()) {
            page.headers().put("x-warden-uncertain", trace.why().replaceAll("[^ -~]", "?"));
        }
        return page;
    }

    private static String query(Call call) {
        StringBuilder out = new StringBuilder();
        call.query()
                .forEach((name, value) ->
                        out.append(out.isEmpty() ? "" : "&").append(name).append(value.isEmpty() ? "" : "=" + value));
        return out.toString();
    }

    private Reply page(Call call, int status, String bucketArn, StoredObject object) {
        Map<String, String> headers = ObjectReads.headers(object);
        headers.keySet().removeIf(name -> name.startsWith("x-amz-"));
        headers.put("Via", "1.1 stand-in");
        Reply whole = new Reply(status, headers, state.objects().content(bucketArn, object));
        if (status != 200) {
            return whole;
        }
        try {
            return Preconditions.applied(whole, call.headers());
        } catch (Refusal refused) {
            return Reply.page(refused.status());
        }
    }
}
