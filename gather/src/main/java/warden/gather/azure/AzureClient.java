package warden.gather.azure;

import com.azure.core.credential.TokenCredential;
import com.azure.core.credential.TokenRequestContext;
import com.azure.core.http.HttpClient;
import com.azure.core.http.HttpHeaderName;
import com.azure.core.http.HttpMethod;
import com.azure.core.http.HttpPipeline;
import com.azure.core.http.HttpPipelineBuilder;
import com.azure.core.http.HttpRequest;
import com.azure.core.http.HttpResponse;
import com.azure.core.http.jdk.httpclient.JdkHttpClientBuilder;
import com.azure.core.http.policy.BearerTokenAuthenticationPolicy;
import com.azure.core.http.policy.ExponentialBackoffOptions;
import com.azure.core.http.policy.RetryOptions;
import com.azure.core.http.policy.RetryPolicy;
import com.azure.core.util.Context;
import com.azure.identity.AzureCliCredentialBuilder;
import com.azure.identity.ChainedTokenCredentialBuilder;
import com.azure.identity.ClientSecretCredentialBuilder;
import com.azure.identity.EnvironmentCredentialBuilder;
import com.azure.identity.ManagedIdentityCredentialBuilder;
import com.azure.identity.WorkloadIdentityCredentialBuilder;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.security.cert.CertificateFactory;
import java.time.Duration;
import java.util.Base64;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;
import org.jspecify.annotations.Nullable;
import warden.core.azure.survey.AzureCalls.Interface;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.gather.live.LiveException;

/**
 * Asks the provider's interfaces by plain GETs, signed in as its usual tools are: by the environment, a workload's token, the official command's
 * login, or the machine's identity. Safe for use by several threads.
 */
final class AzureClient implements AutoCloseable {
    private static final int RETRIES = 7;
    private static final int BROKEN_ANSWERS = 4;
    private static final String STORAGE_VERSION = "2023-11-03";

    private final AzureSettings settings;
    private final ClientInTheMaking http;
    private final TokenCredential credential;
    /** How many calls are under way at once; what is done with the answers takes no turn. */
    private final Semaphore turns;

    private final Map<Interface, HttpPipeline> pipelines = new EnumMap<>(Interface.class);

    /**
     * What came back.
     *
     * @param status the HTTP status; 0 where none came
     * @param code the provider's word for a refusal; empty where it gives none
     */
    record Answer(int status, String code, String body) {
        boolean isFound() {
            return status == 200;
        }
    }

    /** Who asks: the directory's object id and kind, and the directory. */
    record Asker(String takenBy, String tenant) {}

    AzureClient(AzureSettings settings) {
        this.settings = settings;
        this.http = new ClientInTheMaking(() -> http(settings.authority()));
        this.credential = credential(settings, http);
        this.turns = new Semaphore(settings.parallel());
        for (Interface asked : Interface.values()) {
            pipelines.put(
                    asked,
                    new HttpPipelineBuilder()
                            .httpClient(http)
                            .policies(
                                    new RetryPolicy(new RetryOptions(new ExponentialBackoffOptions()
                                            .setMaxRetries(RETRIES)
                                            .setBaseDelay(Duration.ofMillis(400))
                                            .setMaxDelay(Duration.ofSeconds(20)))),
                                    new BearerTokenAuthenticationPolicy(credential, scope(asked)))
                            .build());
        }
    }

    /** Ends what it holds open; nothing is asked any more. */
    @Override
    public void close() {
        http.close();
    }

    private String scope(Interface asked) {
        return switch (asked) {
            case MANAGEMENT -> settings.management() + "/.default";
            case DIRECTORY -> settings.directory() + "/.default";
            case BLOBS -> "https://storage.azure.com/.default";
        };
    }

    private static TokenCredential credential(AzureSettings settings, HttpClient http) {
        if (settings.client().isPresent()) {
            return new ClientSecretCredentialBuilder()
                    .clientId(settings.client().get().clientId())
                    .tenantId(settings.client().get().tenant())
                    .clientSecret("simulated")
                    .authorityHost(settings.endpoint().orElseThrow())
                    .disableInstanceDiscovery()
                    .httpClient(http)
                    .build();
        }
        Map<String, String> variables = System.getenv();
        if (settings.endpoint().isPresent()
                && variables.containsKey("AZURE_CLIENT_ID")
                && variables.containsKey("AZURE_CLIENT_SECRET")) {
            // The library asks the public directory about any other one first, unless it is told not to.
            return new ClientSecretCredentialBuilder()
                    .clientId(variables.get("AZURE_CLIENT_ID"))
                    .tenantId(variables.getOrDefault("AZURE_TENANT_ID", "common"))
                    .clientSecret(variables.get("AZURE_CLIENT_SECRET"))
                    .authorityHost(settings.endpoint().get())
                    .disableInstanceDiscovery()
                    .httpClient(http)
                    .build();
        }
        ChainedTokenCredentialBuilder chain = new ChainedTokenCredentialBuilder();
        chain.addLast(new EnvironmentCredentialBuilder().httpClient(http).build());
        if (variables.containsKey("AZURE_FEDERATED_TOKEN_FILE")) {
            WorkloadIdentityCredentialBuilder workload = new WorkloadIdentityCredentialBuilder().httpClient(http);
            settings.endpoint().ifPresent(url -> workload.authorityHost(url).disableInstanceDiscovery());
            chain.addLast(workload.build());
        }
        if (variables.containsKey("IDENTITY_ENDPOINT") || variables.containsKey("MSI_ENDPOINT")) {
            chain.addLast(
                    new ManagedIdentityCredentialBuilder().httpClient(http).build());
        }
        chain.addLast(new AzureCliCredentialBuilder().build());
        if (settings.endpoint().isEmpty()) {
            chain.addLast(
                    new ManagedIdentityCredentialBuilder().httpClient(http).build());
        }
        return chain.build();
    }

    private static HttpClient http(Optional<Path> authority) throws LiveException {
        java.net.http.HttpClient.Builder builder = java.net.http.HttpClient.newBuilder()
                .version(java.net.http.HttpClient.Version.HTTP_1_1)
                .connectTimeout(Duration.ofSeconds(15));
        if (authority.isPresent()) {
            builder.sslContext(trusting(authority.get()));
        }
        return new JdkHttpClientBuilder(builder)
                .responseTimeout(Duration.ofSeconds(60))
                .build();
    }

    /** The official command reads the file of further authorities from a variable; so does the survey. */
    private static SSLContext trusting(Path file) throws LiveException {
        try (InputStream in = Files.newInputStream(file)) {
            KeyStore store = KeyStore.getInstance(KeyStore.getDefaultType());
            store.load(null, null);
            int i = 0;
            for (Certificate each : CertificateFactory.getInstance("X.509").generateCertificates(in)) {
                store.setCertificateEntry("authority-" + i++, each);
            }
            TrustManagerFactory managers = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
            managers.init(store);
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, managers.getTrustManagers(), null);
            return context;
        } catch (IOException | GeneralSecurityException unusable) {
            throw new LiveException(file + ": the certificates of authorities cannot be read (" + unusable.getMessage()
                    + "); check REQUESTS_CA_BUNDLE");
        }
    }

    /**
     * Signs in.
     *
     * @throws LiveException with one sentence that says why not, and what to do
     */
    Asker signIn() throws LiveException {
        String token;
        try {
            token = token(Interface.MANAGEMENT);
            http.made();
        } catch (RuntimeException failed) {
            http.made();
            throw new LiveException("signing in failed: no way of the usual tools led to a token ("
                    + firstSentence(failed) + "); try az login, or set AZURE_TENANT_ID, AZURE_CLIENT_ID and"
                    + " AZURE_CLIENT_SECRET");
        }
        JsonPart claims = claims(token);
        String object = claims.text("oid").orElse("");
        boolean isApplication = claims.text("idtyp").filter("app"::equals).isPresent()
                || claims.text("upn").isEmpty() && claims.text("unique_name").isEmpty();
        return new Asker(
                object.isEmpty() ? "" : (isApplication ? "servicePrincipals/" : "users/") + object,
                claims.text("tid").orElse(""));
    }

    /** Asks as the calls themselves will, so that the first of them finds this token again. */
    private String token(Interface asked) {
        return credential
                .getTokenSync(new TokenRequestContext().addScopes(scope(asked)).setCaeEnabled(true))
                .getToken();
    }

    private static JsonPart claims(String token) throws LiveException {
        String[] parts = token.split("\\.");
        try {
            return JsonReader.read(new String(
                            Base64.getUrlDecoder().decode(parts.length > 1 ? parts[1] : ""), StandardCharsets.UTF_8))
                    .root()
                    .orElseThrow();
        } catch (RuntimeException noToken) {
            throw new LiveException(
                    "signing in gave a token that says nothing of who asks; check AZURE_AUTHORITY_HOST");
        }
    }

    private static String firstSentence(Throwable failed) {
        String message =
                String.valueOf(failed.getMessage()).replaceAll("\\s+", " ").strip();
        int end = message.indexOf(". ");
        String first = end > 0 ? message.substring(0, end) : message;
        return first.length() > 160 ? first.substring(0, 159) + "…" : first;
    }

    /** Returns the address of an interface. */
    String address(Interface asked) {
        return asked == Interface.DIRECTORY ? settings.directory() : settings.management();
    }

    /** Asks once, again where the provider says so or an answer breaks off. */
    Answer get(Interface asked, String url) {
        String problem = "";
        for (int i = 0; i < BROKEN_ANSWERS; i++) {
            HttpRequest request = new HttpRequest(HttpMethod.GET, url);
            request.setHeader(HttpHeaderName.ACCEPT, asked == Interface.BLOBS ? "application/xml" : "application/json");
            if (asked == Interface.BLOBS) {
                request.setHeader(HttpHeaderName.fromString("x-ms-version"), STORAGE_VERSION);
            }
            turns.acquireUninterruptibly();
            try (HttpResponse response = sent(asked, request)) {
                @Nullable byte[] bytes = response.getBodyAsBinaryData().toBytes();
                String body = bytes == null ? "" : new String(bytes, StandardCharsets.UTF_8);
                Optional<String> length = Optional.ofNullable(response.getHeaderValue(HttpHeaderName.CONTENT_LENGTH));
                if (length.filter(text -> bytes != null && !text.equals(Integer.toString(bytes.length)))
                        .isPresent()) {
                    problem = "the answer broke off";
                    continue;
                }
                return new Answer(
                        response.getStatusCode(), response.getStatusCode() == 200 ? "" : code(response, body), body);
            } catch (RuntimeException failed) {
                problem = firstSentence(failed);
            } finally {
                turns.release();
            }
        }
        return new Answer(0, "Unreachable", problem);
    }

    private HttpResponse sent(Interface asked, HttpRequest request) {
        HttpPipeline pipeline = pipelines.get(asked);
        if (pipeline == null) {
            throw new IllegalStateException("no way to " + asked);
        }
        return pipeline.sendSync(request, Context.NONE);
    }

    private static String code(HttpResponse response, String body) {
        String header = response.getHeaderValue(HttpHeaderName.fromString("x-ms-error-code"));
        if (header != null && !header.isEmpty()) {
            return header;
        }
        return JsonReader.read(body)
                .root()
                .flatMap(part -> part.text("error", "code"))
                .or(() -> xmlCode(body))
                .orElse("Http" + response.getStatusCode());
    }

    private static Optional<String> xmlCode(String body) {
        int at = body.indexOf("<Code>");
        int end = body.indexOf("</Code>", Math.max(0, at));
        return at >= 0 && end > at ? Optional.of(body.substring(at + 6, end).strip()) : Optional.empty();
    }
}
