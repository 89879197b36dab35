package warden.gather.azure;

import java.nio.file.Path;
import java.util.Optional;

/**
 * How to take a survey of a live subscription.
 *
 * @param subscription its GUID; absent for the only one that the credential sees
 * @param endpoint where everything is asked instead of at the provider's own addresses: a simulated one
 * @param authority a file with the certificate of the authority to trust beside the usual ones
 * @param parallel how many calls may be under way at once
 * @param objects how many names of blobs to list for each web container, by pages of 5,000
 * @param host follow only the chain of this host
 * @param client a client id and tenant that sign in with any password at a simulated provider; absent for the usual ways of signing in
 */
public record AzureSettings(
        Optional<String> subscription,
        Optional<String> endpoint,
        Optional<Path> authority,
        int parallel,
        int objects,
        Optional<String> host,
        Optional<SimulatedClient> client) {
    /** Who signs in at a simulated provider. */
    public record SimulatedClient(String clientId, String tenant) {}

    String management() {
        return endpoint.orElse("https://management.azure.com");
    }

    String directory() {
        return endpoint.map(url -> url + "/graph").orElse("https://graph.microsoft.com");
    }
}
