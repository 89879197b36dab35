package warden.gather.aws;

import java.util.Optional;

/**
 * How to reach the account.
 *
 * @param endpoint another address than the provider's own
 * @param parallel how many calls may be under way at once
 * @param objects how many object names to list for each bucket
 * @param heads of how many of those objects to ask the headers and the ACL
 * @param host follow only the chain of this host
 * @param simulatedKey an access key id of a simulated account, which takes any secret; absent to use the usual configuration
 */
public record LiveSettings(
        Optional<String> profile,
        Optional<String> region,
        Optional<String> endpoint,
        int parallel,
        int objects,
        int heads,
        Optional<String> host,
        Optional<String> simulatedKey) {
    public LiveSettings {
        if (parallel < 1 || parallel > 64 || objects < 0 || heads < 0) {
            throw new IllegalArgumentException("parallel is 1 to 64, objects and heads 0 or more");
        }
    }
}
