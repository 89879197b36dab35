package warden.gather.visit;

import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import warden.core.trace.Outcome.Failure;

/**
 * What came back.
 *
 * @param status empty when no HTTP answer came
 * @param headers by lower-case name; of several of one name the first
 * @param failure why no HTTP answer came
 * @param certificate the subject of the certificate that was shown; absent without TLS
 * @param detail what the network said of a failure; empty otherwise
 */
public record Observation(
        OptionalInt status,
        Map<String, String> headers,
        Optional<Failure> failure,
        Optional<String> certificate,
        String detail) {
    public Observation {
        headers = Map.copyOf(headers);
    }

    /** Returns where the answer redirects to, as it was sent. */
    public Optional<String> location() {
        return Optional.ofNullable(headers.get("location"));
    }
}
