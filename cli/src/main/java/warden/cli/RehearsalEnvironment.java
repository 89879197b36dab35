package warden.cli;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import warden.standin.aws.StandIn;

/**
 * The environment in which a rehearsed command runs: every client that people use is led to the simulated account, and no credential or setting of the
 * real one is left in it.
 *
 * <p>Source: AWS SDKs and Tools Reference Guide, "Environment variables support list" and "Service-specific endpoints"; of the bundles of certificates,
 * the documentation of each client.
 */
final class RehearsalEnvironment {
    /** Variables of the provider's clients begin so. */
    private static final List<String> PROVIDER = List.of("AWS_", "AMAZON_", "BOTO_");

    private static final List<String> BUNDLES =
            List.of("REQUESTS_CA_BUNDLE", "SSL_CERT_FILE", "NODE_EXTRA_CA_CERTS", "CURL_CA_BUNDLE", "GIT_SSL_CAINFO");

    private static final List<String> SYSTEM_BUNDLES =
            List.of("/etc/ssl/certs/ca-certificates.crt", "/etc/pki/tls/certs/ca-bundle.crt", "/etc/ssl/cert.pem");

    private RehearsalEnvironment() {}

    /**
     * Returns the whole environment.
     *
     * @param outer the program's own
     * @param credentials of who is rehearsed
     * @param region of the account's buckets
     * @param proxyPort where everything else is refused
     * @param authority the throw-away authority's certificate
     * @param folder where empty configuration files are put
     */
    static Map<String, String> of(
            Map<String, String> outer,
            StandIn standIn,
            StandIn.Credentials credentials,
            String region,
            int proxyPort,
            Path authority,
            boolean letsThrough,
            Path folder)
            throws IOException {
        Map<String, String> inner = new TreeMap<>(outer);
        inner.keySet().removeIf(name -> PROVIDER.stream().anyMatch(name::startsWith));
        inner.put("AWS_ACCESS_KEY_ID", credentials.keyId());
        inner.put("AWS_SECRET_ACCESS_KEY", credentials.secret());
        credentials.token().ifPresent(token -> inner.put("AWS_SESSION_TOKEN", token));
        inner.put("AWS_REGION", region);
        inner.put("AWS_DEFAULT_REGION", region);
        inner.put("AWS_ENDPOINT_URL", standIn.endpoint());
        inner.put("AWS_CONFIG_FILE", Files.createFile(folder.resolve("config")).toString());
        inner.put(
                "AWS_SHARED_CREDENTIALS_FILE",
                Files.createFile(folder.resolve("credentials")).toString());
        inner.put("AWS_EC2_METADATA_DISABLED", "true");
        inner.put("AWS_PAGER", "");
        inner.put("BOTO_CONFIG", "/dev/null");
        String proxy = "http://127.0.0.1:" + proxyPort;
        for (String name : List.of("HTTPS_PROXY", "HTTP_PROXY", "ALL_PROXY")) {
            inner.put(name, proxy);
            inner.put(name.toLowerCase(java.util.Locale.ROOT), proxy);
        }
        inner.put("NO_PROXY", "127.0.0.1,localhost,::1");
        inner.put("no_proxy", "127.0.0.1,localhost,::1");
        // Node takes proxies from the environment only when it is told to, and only from 24 on.
        inner.put("NODE_USE_ENV_PROXY", "1");
        String options = outer.getOrDefault("NODE_OPTIONS", "");
        inner.put("NODE_OPTIONS", (options + " --require=" + throughProxy(folder)).strip());
        Path bundle = letsThrough ? withSystems(authority, folder) : authority;
        BUNDLES.forEach(name -> inner.put(name, bundle.toString()));
        return inner;
    }

    private static Path throughProxy(Path folder) throws IOException {
        Path file = folder.resolve("through-proxy.cjs");
        try (InputStream in = RehearsalEnvironment.class.getResourceAsStream("/rehearsal/through-proxy.cjs")) {
            Files.copy(Objects.requireNonNull(in), file);
        }
        return file;
    }

    /** Where hosts are let through, their certificates have to be known too. */
    private static Path withSystems(Path authority, Path folder) throws IOException {
        List<String> certificates = new ArrayList<>(Files.readAllLines(authority));
        for (String file : SYSTEM_BUNDLES) {
            if (Files.isReadable(Path.of(file))) {
                certificates.addAll(Files.readAllLines(Path.of(file)));
                break;
            }
        }
        return Files.write(folder.resolve("authorities.pem"), certificates);
    }
}
