package warden.standin.aws;

import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.policy.Actor;
import warden.standin.WireRequest;

/**
 * One request as it came in, and who signed it.
 *
 * @param body without the frames in which it may have been sent
 * @param trailers what came behind the body, by lower-case name
 * @param service the service that the signature is for; empty for unsigned requests
 * @param region the region that the signature is for; empty for unsigned requests
 * @param session the session whose credentials signed it; absent for others
 * @param needs what the call turns out to need
 */
record Call(
        WireRequest wire,
        byte[] body,
        Map<String, String> trailers,
        Actor who,
        String service,
        String region,
        Optional<Session> session,
        CallNeeds needs) {
    String method() {
        return wire.method();
    }

    String host() {
        return wire.host();
    }

    /** Returns the path as it was sent, with its escapes. */
    String path() {
        return wire.rawPath();
    }

    /** Returns the pairs of the query, unescaped; a name without a value has an empty one. */
    Map<String, String> query() {
        return wire.query();
    }

    /** Returns the headers by lower-case name. */
    Map<String, String> headers() {
        return wire.headers();
    }

    Optional<String> header(String name) {
        return Optional.ofNullable(headers().get(name.toLowerCase(Locale.ROOT)));
    }

    Optional<String> parameter(String name) {
        return Optional.ofNullable(query().get(name));
    }

    boolean has(String parameter) {
        return query().containsKey(parameter);
    }

    String text() {
        return new String(body, StandardCharsets.UTF_8);
    }

    boolean isRead() {
        return method().equals("GET") || method().equals("HEAD");
    }
}
