package warden.gather.aws;

import java.net.URI;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.AwsCredentialsProvider;
import software.amazon.awssdk.auth.credentials.DefaultCredentialsProvider;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.awscore.client.builder.AwsClientBuilder;
import software.amazon.awssdk.awscore.exception.AwsErrorDetails;
import software.amazon.awssdk.awscore.exception.AwsServiceException;
import software.amazon.awssdk.awscore.retry.AwsRetryStrategy;
import software.amazon.awssdk.core.client.config.ClientOverrideConfiguration;
import software.amazon.awssdk.core.exception.SdkClientException;
import software.amazon.awssdk.core.interceptor.Context;
import software.amazon.awssdk.core.interceptor.ExecutionAttributes;
import software.amazon.awssdk.core.interceptor.ExecutionInterceptor;
import software.amazon.awssdk.http.SdkHttpClient;
import software.amazon.awssdk.http.SdkHttpRequest;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.regions.providers.DefaultAwsRegionProviderChain;
import software.amazon.awssdk.retries.api.BackoffStrategy;
import software.amazon.awssdk.services.acm.AcmClient;
import software.amazon.awssdk.services.amplify.AmplifyClient;
import software.amazon.awssdk.services.cloudfront.CloudFrontClient;
import software.amazon.awssdk.services.codepipeline.CodePipelineClient;
import software.amazon.awssdk.services.iam.IamClient;
import software.amazon.awssdk.services.kms.KmsClient;
import software.amazon.awssdk.services.organizations.OrganizationsClient;
import software.amazon.awssdk.services.route53.Route53Client;
import software.amazon.awssdk.services.route53domains.Route53DomainsClient;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3control.S3ControlClient;
import software.amazon.awssdk.services.sts.StsClient;
import warden.core.survey.SurveyHeader;

/** The clients of the provider's library, made when first asked for. */
final class Clients implements AutoCloseable {
    private static final int TRIES = 12;
    /** Whether anybody answers at all should be known soon. */
    private static final int FIRST_TRIES = 3;

    private static final Duration FIRST_PATIENCE = Duration.ofSeconds(5);

    private static final Duration SHORTEST_PAUSE = Duration.ofMillis(250);
    private static final Duration LONGEST_PAUSE = Duration.ofSeconds(20);
    private final LiveSettings settings;
    private final SdkHttpClient http;
    private final SdkHttpClient firstHttp;
    private final boolean ownsHttp;
    private @Nullable Clients organizationBy;
    private final AwsCredentialsProvider credentials;
    private final Region region;
    private final Map<String, AutoCloseable> made = new ConcurrentHashMap<>();

    Clients(LiveSettings settings) {
        this.settings = settings;
        this.http = patient();
        this.firstHttp = UrlConnectionHttpClient.builder()
                .connectionTimeout(FIRST_PATIENCE)
                .socketTimeout(FIRST_PATIENCE)
                .build();
        this.ownsHttp = true;
        this.credentials = settings.simulatedKey()
                .<AwsCredentialsProvider>map(
                        key -> StaticCredentialsProvider.create(AwsBasicCredentials.create(key, "simulated")))
                .orElseGet(() -> DefaultCredentialsProvider.builder()
                        .profileName(settings.profile().orElse(null))
                        .build());
        this.region = settings.region().map(Region::of).orElseGet(() -> chosen(settings));
    }

    /**
     * Makes clients of another account, which share the connections.
     *
     * @param shared stays open when these are closed
     */
    Clients(LiveSettings settings, SdkHttpClient shared, Region region, AwsCredentialsProvider credentials) {
        this.settings = settings;
        this.http = shared;
        this.firstHttp = shared;
        this.ownsHttp = false;
        this.credentials = credentials;
        this.region = region;
    }

    /** Makes a client that waits for slow answers. */
    static SdkHttpClient patient() {
        return UrlConnectionHttpClient.builder()
                .connectionTimeout(Duration.ofSeconds(10))
                .socketTimeout(Duration.ofSeconds(60))
                .build();
    }

    /** The official command line reads a variable that the library does not. */
    private static Region chosen(LiveSettings settings) {
        String usual = System.getenv().getOrDefault("AWS_DEFAULT_REGION", "");
        if (settings.profile().isEmpty() && System.getenv("AWS_REGION") == null && usual.matches("[a-z0-9-]{1,40}")) {
            return Region.of(usual);
        }
        try {
            return DefaultAwsRegionProviderChain.builder()
                    .profileName(settings.profile().orElse(null))
                    .build()
                    .getRegion();
        } catch (RuntimeException none) {
            return Region.US_EAST_1;
        }
    }

    String region() {
        return region.id();
    }

    private <B extends AwsClientBuilder<B, C>, C> B set(B builder, Region where) {
        return set(builder, where, TRIES);
    }

    private <B extends AwsClientBuilder<B, C>, C> B set(B builder, Region where, int tries) {
        ClientOverrideConfiguration.Builder override = ClientOverrideConfiguration.builder()
                .retryStrategy(AwsRetryStrategy.standardRetryStrategy().toBuilder()
                        .maxAttempts(tries)
                        // Pauses that grow with each refusal slow the survey down to what the account takes. Giving up
                        // early, as the library would after many refusals, would leave readings unread for no reason.
                        .circuitBreakerEnabled(false)
                        .retryOnException(Clients::isCutOff)
                        .throttlingBackoffStrategy(BackoffStrategy.exponentialDelay(SHORTEST_PAUSE, LONGEST_PAUSE))
                        .build())
                .putAdvancedOption(
                        software.amazon.awssdk.core.client.config.SdkAdvancedClientOption.USER_AGENT_PREFIX,
                        "gentle-warden/" + SurveyHeader.VERSION);
        settings.endpoint().ifPresent(address -> {
            builder.endpointOverride(URI.create(address));
            override.addExecutionInterceptor(new HostKept(URI.create(address).getHost()));
        });
        return builder.region(where).credentialsProvider(credentials).overrideConfiguration(override.build());
    }

    /** True for an answer that ended in its middle, which the library cannot read; asked again, it may come whole. */
    private static boolean isCutOff(Throwable failure) {
        if (failure instanceof AwsServiceException refusal && refusal.awsErrorDetails() != null) {
            // A refusal without a code, though it came with a body. Answers to HEAD have none.
            AwsErrorDetails details = refusal.awsErrorDetails();
            boolean nameless =
                    details.errorCode() == null || details.errorCode().isEmpty();
            boolean hasBody = details.sdkHttpResponse() != null
                    && details.sdkHttpResponse()
                            .firstMatchingHeader("Content-Length")
                            .filter(length -> !length.equals("0"))
                            .isPresent();
            return nameless && hasBody;
        }
        String said = String.valueOf(failure.getMessage());
        return failure instanceof SdkClientException
                && (said.contains("parse") || said.contains("nmarshall") || said.contains("Content-Length"));
    }

    /** Some calls put the account's number before the host, which an endpoint of one's own has no name for. */
    private record HostKept(String host) implements ExecutionInterceptor {
        @Override
        public SdkHttpRequest modifyHttpRequest(Context.ModifyHttpRequest context, ExecutionAttributes attributes) {
            return context.httpRequest().toBuilder().host(host).build();
        }
    }

    @SuppressWarnings("unchecked")
    private <C extends AutoCloseable> C once(String name, Supplier<C> make) {
        return (C) made.computeIfAbsent(name, key -> make.get());
    }

    S3Client storage(String where) {
        return once("s3 " + where, () -> set(S3Client.builder(), Region.of(where))
                .httpClient(http)
                .forcePathStyle(settings.endpoint().isPresent())
                .crossRegionAccessEnabled(settings.endpoint().isEmpty())
                .build());
    }

    S3ControlClient storageControl() {
        return once("s3control", () -> {
            var builder = set(S3ControlClient.builder(), region).httpClient(http);
            // The account's number is put before the host, which makes no host name out of an address; HostKept puts
            // the host back.
            settings.endpoint()
                    .map(URI::create)
                    .ifPresent(address -> builder.endpointOverride(URI.create(address.getScheme() + "://localhost"
                            + (address.getPort() < 0 ? "" : ":" + address.getPort()))));
            return builder.build();
        });
    }

    IamClient identities() {
        return once("iam", () -> set(IamClient.builder(), Region.AWS_GLOBAL)
                .httpClient(http)
                .build());
    }

    /** Returns the client that asks for sessions of roles, as patient as the others. */
    StsClient roles() {
        return once(
                "sts roles",
                () -> set(StsClient.builder(), region).httpClient(http).build());
    }

    AwsCredentialsProvider credentials() {
        return credentials;
    }

    StsClient sessions() {
        // Among many accounts one that is told to slow down is no sign that nobody answers.
        return once("sts", () -> set(StsClient.builder(), region, ownsHttp ? FIRST_TRIES : TRIES)
                .httpClient(firstHttp)
                .build());
    }

    CloudFrontClient cdn() {
        return once("cloudfront", () -> set(CloudFrontClient.builder(), Region.AWS_GLOBAL)
                .httpClient(http)
                .build());
    }

    Route53Client dns() {
        return once("route53", () -> set(Route53Client.builder(), Region.AWS_GLOBAL)
                .httpClient(http)
                .build());
    }

    Route53DomainsClient domains() {
        return once("route53domains", () -> set(Route53DomainsClient.builder(), Region.US_EAST_1)
                .httpClient(http)
                .build());
    }

    /** Has the organization asked by another account's clients, such as those of the account that manages it. */
    void askOrganizationBy(Clients others) {
        organizationBy = others;
    }

    OrganizationsClient organization() {
        return organizationBy != null
                ? organizationBy.organization()
                : once("organizations", () -> set(OrganizationsClient.builder(), Region.AWS_GLOBAL)
                        .httpClient(http)
                        .build());
    }

    AcmClient certificates(String where) {
        return once("acm " + where, () -> set(AcmClient.builder(), Region.of(where))
                .httpClient(http)
                .build());
    }

    KmsClient keys(String where) {
        return once("kms " + where, () -> set(KmsClient.builder(), Region.of(where))
                .httpClient(http)
                .build());
    }

    CodePipelineClient pipelines(String where) {
        return once("codepipeline " + where, () -> set(CodePipelineClient.builder(), Region.of(where))
                .httpClient(http)
                .build());
    }

    AmplifyClient apps(String where) {
        return once("amplify " + where, () -> set(AmplifyClient.builder(), Region.of(where))
                .httpClient(http)
                .build());
    }

    @Override
    public void close() {
        made.values().forEach(client -> {
            try {
                client.close();
            } catch (Exception ignored) {
                // Nothing more is asked of it.
            }
        });
        if (ownsHttp) {
            http.close();
            firstHttp.close();
        }
    }
}
