package warden.core.aws.trace;

import java.time.Instant;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import warden.core.aws.site.AwsCloud;
import warden.core.trace.Trace;
import warden.core.trace.WebAddress;

/** Follows visitors' requests, each address once; for who asks what comes, not what to do about it. Safe for use by several threads. */
public final class Visits {
    private final Tracer tracer;
    private final Instant at;
    private final Map<WebAddress, Trace> followed = new ConcurrentHashMap<>();

    /**
     * Makes an empty memory.
     *
     * @param at the instant as of which certificates and the like are judged
     */
    public Visits(AwsCloud cloud, Instant at) {
        this.tracer = new Tracer(cloud, false);
        this.at = at;
    }

    /** Returns what a GET request comes to. */
    public Trace to(WebAddress address) {
        Trace known = followed.get(address);
        if (known == null) {
            known = tracer.trace(address, at);
            followed.put(address, known);
        }
        return known;
    }

    /** Lets go of what was followed. */
    public void clear() {
        followed.clear();
    }
}
