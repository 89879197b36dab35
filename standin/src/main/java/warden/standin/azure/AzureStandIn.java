package warden.standin.azure;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.azure.survey.AzureAspects;
import warden.core.document.Json;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;
import warden.core.survey.SurveyWriter;
import warden.standin.Faults;
import warden.standin.Loopback;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.ServerCertificates;
import warden.standin.UrlText;
import warden.standin.WireRequest;

/**
 * A simulated subscription of the second provider as a server on loopback: its interfaces over HTTPS only, since its clients send no token otherwise, sites and signed URLs over
 * plain HTTP too. It signs
 * in, answers what a survey reads, blobs that are put, read, listed and deleted, keys, purges and changes of settings, each call decided by the core, serves sites, edges and
 * storage by the host that is asked for, and refuses with 501 whatever else it is asked.
 */
public final class AzureStandIn implements AutoCloseable {
    /** The provider's own hosts, and where their paths begin here. */
    private static final Map<String, String> SERVICES =
            Map.of("management.azure.com", "", "graph.microsoft.com", "/graph", "login.microsoftonline.com", "");

    private final SubscriptionApi api;
    private final Loopback servers;
    private final int port;
    private final int plainPort;
    private final ServerCertificates certificates;

    private AzureStandIn(Survey survey, List<SurveyLine> lines, Faults faults, int port, Path folder, Clock clock)
            throws IOException {
        this.servers = new Loopback(new Answers(), faults);
        this.certificates = ServerCertificates.make(folder, this::isShownACertificate);
        this.port = servers.secure(port, certificates.context());
        this.api = new SubscriptionApi(survey, lines, endpoint(), faults.refused(), clock);
        this.plainPort = servers.plain(0);
    }

    private boolean isShownACertificate(String host) {
        return SERVICES.containsKey(host) || api.visits().hasCertificate(host);
    }

    /**
     * Starts it.
     *
     * @param text a survey's text
     * @param file the survey's name, for messages
     * @param port the port on loopback; 0 for any that is free
     * @param folder where the key and the certificate are put
     * @throws SurveyException when the text is no survey
     * @throws IOException when the port cannot be had
     */
    public static AzureStandIn start(String text, String file, Faults faults, int port, Path folder, Clock clock)
            throws SurveyException, IOException {
        Survey.Collector collector = new Survey.Collector(AzureAspects.TABLE);
        List<SurveyLine> lines = new ArrayList<>();
        SurveyHeader header =
                SurveyReader.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), file, line -> {
                    collector.add(line);
                    lines.add(line);
                });
        return new AzureStandIn(collector.toSurvey(header), lines, faults, port, folder, clock);
    }

    /** Returns the address at which everything is asked. */
    public String endpoint() {
        return "https://localhost:" + port;
    }

    /** Returns the file of the certificate authority to trust. */
    public Path authority() {
        return certificates.authority();
    }

    /** Returns the port at which sites and signed URLs answer over plain HTTP. */
    public int plainPort() {
        return plainPort;
    }

    /** Returns how many requests were answered so far. */
    public long calls() {
        return servers.calls();
    }

    @Override
    public void close() {
        servers.close();
    }

    /** What is asked, and by whom. */
    private final class Answers implements Loopback.Provider {
        @Override
        public boolean isSpared(WireRequest request) {
            return request.rawPath().contains("/oauth2/") || request.rawPath().contains("/.well-known/");
        }

        @Override
        public Reply throttled(WireRequest request) {
            Reply reply = refusal(429, "TooManyRequests", "The request is being throttled.");
            reply.headers().put("Retry-After", "1");
            return signed(reply);
        }

        @Override
        public Reply answer(WireRequest request) {
            return signed(answered(request));
        }
    }

    private static Reply signed(Reply reply) {
        reply.headers().put("x-ms-version", "2023-11-03");
        reply.headers().put("x-ms-request-id", "00000000-0000-4000-8000-000000000000");
        return reply;
    }

    private Reply answered(WireRequest request) {
        Optional<String> token = Optional.of(request.header("authorization"))
                .filter(value -> value.startsWith("Bearer "))
                .map(value -> value.substring("Bearer ".length()));
        String path = UrlText.unescaped(request.rawPath());
        boolean isLocal = request.isToLoopback();
        Optional<String> service = Optional.ofNullable(SERVICES.get(request.host()));
        Optional<String> storage = api.storageAt(request.host());
        boolean isOwn = service.isPresent() || isLocal && SubscriptionApi.isOwn(path);
        try {
            if (isLocal && path.equals(Loopback.STATE_PATH)) {
                return Reply.of(200, "application/x-ndjson", state());
            }
            if (isOwn) {
                if (!request.isSecure()) {
                    throw new Refusal(403, "AuthenticationFailed", "This service is asked over HTTPS only");
                }
                return api.answer(request.method(), service.orElse("") + path, request.query(), request.body(), token);
            }
            if (isLocal) {
                return api.blobs(request, path, token);
            }
            return storage.isPresent()
                    ? api.blobs(request, "/" + storage.get() + path, token)
                    : api.visits()
                            .answer(
                                    request.method(),
                                    request.host(),
                                    request.rawPath(),
                                    request.query(),
                                    request.isSecure());
        } catch (Refusal refused) {
            return isOwn
                    ? refusal(refused.status(), refused.code(), String.valueOf(refused.getMessage()))
                    : BlobApi.refusal(refused);
        } catch (RuntimeException bug) {
            return refusal(500, "InternalError", "The simulated subscription failed: " + bug);
        }
    }

    private static Reply refusal(int status, String code, String message) {
        Reply reply = Reply.of(
                status,
                "application/json",
                Json.text(Json.object("error", Json.object("code", code, "message", message))));
        reply.headers().put("x-ms-error-code", code);
        return reply;
    }

    /**
     * Returns a storage account's made-up key.
     *
     * @param account its name
     * @throws java.util.NoSuchElementException when the survey shows no such account
     */
    public String accountKey(String account) {
        return api.accountKey(account);
    }

    /** Returns the state as a survey's text. */
    public String state() {
        return SurveyWriter.text(api.state().header(), api.state().current());
    }

    /** Returns the client ids that can sign in, with any secret. */
    public List<String> clients() {
        return api.clients();
    }
}
