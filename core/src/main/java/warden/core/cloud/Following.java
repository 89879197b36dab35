package warden.core.cloud;

import java.util.List;
import warden.core.trace.Case;
import warden.core.trace.Trace;
import warden.core.trace.Visit;

/** Follows visitors' requests through one cloud. */
public interface Following {
    /** Follows a request from the name to the answer; nothing is sent. */
    Trace trace(Visit visit);

    /** Returns the addresses of a host that tell most: pages, what is missing, plain HTTP, and the ways around the edge. */
    List<Case> cases(String host);
}
