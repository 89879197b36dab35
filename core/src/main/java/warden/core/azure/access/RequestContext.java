package warden.core.azure.access;

import java.util.Optional;

/**
 * What a request carries, as far as it decides.
 *
 * @param endpoint {@code web} or {@code blob}; absent when either may be meant
 * @param secure true over HTTPS
 * @param sourceIp the caller's address; absent when it is not told
 * @param ofData whether the action is meant as one of data or of control; absent where its name tells
 * @param isListing true for the listing of blobs, which takes the same action as reading them
 */
public record RequestContext(
        Optional<String> endpoint,
        boolean secure,
        Optional<String> sourceIp,
        boolean isListing,
        Optional<Boolean> ofData) {
    /** What is not told: HTTPS, either endpoint, no address, one blob. */
    public static final RequestContext PLAIN =
            new RequestContext(Optional.empty(), true, Optional.empty(), false, Optional.empty());

    /** Returns the same for a listing. */
    public RequestContext listing() {
        return new RequestContext(endpoint, secure, sourceIp, true, ofData);
    }

    /** Returns the same at one of the endpoints. */
    public RequestContext at(String which) {
        return new RequestContext(Optional.of(which), secure, sourceIp, isListing, ofData);
    }
}
