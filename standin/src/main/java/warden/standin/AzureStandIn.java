package warden.standin;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import warden.core.azure.survey.AzureAspects;
import warden.core.document.Json;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;
import warden.core.survey.SurveyWriter;

/**
 * A simulated subscription of the second provider as a server on loopback: its interfaces over HTTPS only, since its clients send no token otherwise, sites and signed URLs over
 * plain HTTP too. It signs
 * in, answers what a survey reads, blobs that are put, read, listed and deleted, keys, purges and changes of settings, each call decided by the core, serves sites, edges and
 * storage by the host that is asked for, and refuses with 501 whatever else it is asked.
 */
public final class AzureStandIn implements AutoCloseable {
    private static final int SEED = 4711;

    /** The provider's own hosts, and where their paths begin here. */
    private static final Map<String, String> SERVICES =
            Map.of("management.azure.com", "", "graph.microsoft.com", "/graph", "login.microsoftonline.com", "");

    static {
        StandIn.setUpServers();
    }

    private final SubscriptionApi api;
    private final Faults faults;
    private final HttpsServer server;
    private final HttpServer plain;
    private final ServerCertificates certificates;
    private final ExecutorService threads = Executors.newCachedThreadPool(AzureStandIn::daemon);
    private final Random random = new Random(SEED);
    private final AtomicLong calls = new AtomicLong();

    private AzureStandIn(Survey survey, List<SurveyLine> lines, Faults faults, int port, Path folder, Clock clock)
            throws IOException {
        this.faults = faults;
        this.server = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 256);
        this.plain = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 256);
        this.api = new SubscriptionApi(survey, lines, endpoint(), faults.refused(), clock);
        this.certificates = ServerCertificates.make(
                folder, host -> SERVICES.containsKey(host) || api.visits().hasCertificate(host));
        this.server.setHttpsConfigurator(new HttpsConfigurator(certificates.context()));
        start(server, true);
        start(plain, false);
    }

    private void start(HttpServer each, boolean isSecure) {
        each.createContext("/", exchange -> serve(exchange, isSecure));
        each.setExecutor(threads);
        each.start();
    }

    private static Thread daemon(Runnable work) {
        Thread thread = new Thread(work, "stand-in");
        thread.setDaemon(true);
        return thread;
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
        return "https://localhost:" + server.getAddress().getPort();
    }

    /** Returns the file of the certificate authority to trust. */
    public Path authority() {
        return certificates.authority();
    }

    /** Returns the port at which sites and signed URLs answer over plain HTTP. */
    public int plainPort() {
        return plain.getAddress().getPort();
    }

    /** Returns how many requests were answered so far. */
    public long calls() {
        return calls.get();
    }

    @Override
    public void close() {
        server.stop(0);
        plain.stop(0);
        threads.shutdownNow();
    }

    private void serve(HttpExchange exchange, boolean isSecure) throws IOException {
        calls.incrementAndGet();
        try (exchange) {
            long arrived = System.nanoTime();
            byte[] body = exchange.getRequestBody().readAllBytes();
            boolean signsIn = exchange.getRequestURI().getPath().contains("/oauth2/")
                    || exchange.getRequestURI().getPath().contains("/.well-known/");
            Faults.Misfortune misfortune;
            synchronized (random) {
                misfortune = signsIn ? Faults.Misfortune.NONE : faults.next(random);
            }
            if (misfortune == Faults.Misfortune.RESET) {
                faults.waitSince(arrived);
                return;
            }
            Reply reply = misfortune == Faults.Misfortune.THROTTLE ? throttled() : answer(exchange, body, isSecure);
            faults.waitSince(arrived);
            send(exchange, reply, misfortune == Faults.Misfortune.TRUNCATE);
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
        }
    }

    private static Reply throttled() {
        Reply reply = refusal(429, "TooManyRequests", "The request is being throttled.");
        reply.headers().put("Retry-After", "1");
        return reply;
    }

    private Reply answer(HttpExchange exchange, byte[] body, boolean isSecure) {
        String target = exchange.getRequestURI().toString();
        int mark = target.indexOf('?');
        Map<String, String> query = Call.form(mark < 0 ? "" : target.substring(mark + 1));
        Optional<String> token = Optional.ofNullable(
                        exchange.getRequestHeaders().getFirst("Authorization"))
                .filter(value -> value.startsWith("Bearer "))
                .map(value -> value.substring("Bearer ".length()));
        String method = exchange.getRequestMethod();
        String rawPath = exchange.getRequestURI().getRawPath();
        String path = Call.unescaped(rawPath);
        Map<String, String> headers = headers(exchange);
        String host =
                headers.getOrDefault("host", "").replaceFirst(":[0-9]+$", "").toLowerCase(Locale.ROOT);
        boolean isLocal = host.equals("localhost") || host.matches("127(\\.[0-9]+){3}") || host.equals("[::1]");
        Optional<String> service = Optional.ofNullable(SERVICES.get(host));
        Optional<String> storage = api.storageAt(host);
        boolean isOwn = service.isPresent() || isLocal && SubscriptionApi.isOwn(path);
        try {
            if (isLocal && path.equals(StandIn.STATE_PATH)) {
                return Reply.of(200, "application/x-ndjson", state());
            }
            if (isOwn) {
                if (!isSecure) {
                    throw new Refusal(403, "AuthenticationFailed", "This service is asked over HTTPS only");
                }
                return api.answer(method, service.orElse("") + path, query, body, token);
            }
            if (isLocal) {
                return api.blobs(method, path, rawPath, query, headers, body, token, isSecure);
            }
            return storage.isPresent()
                    ? api.blobs(method, "/" + storage.get() + path, rawPath, query, headers, body, token, isSecure)
                    : api.visits().answer(method, host, rawPath, query, isSecure);
        } catch (Refusal refused) {
            return isOwn
                    ? refusal(refused.status(), refused.code(), String.valueOf(refused.getMessage()))
                    : BlobApi.refusal(refused);
        } catch (RuntimeException bug) {
            return refusal(500, "InternalError", "The simulated subscription failed: " + bug);
        }
    }

    private static Map<String, String> headers(HttpExchange exchange) {
        Map<String, String> headers = new LinkedHashMap<>();
        exchange.getRequestHeaders()
                .forEach((name, values) -> headers.put(name.toLowerCase(Locale.ROOT), String.join(",", values)));
        return headers;
    }

    private static Reply refusal(int status, String code, String message) {
        Reply reply = Reply.of(
                status,
                "application/json",
                Json.text(Json.object("error", Json.object("code", code, "message", message))));
        reply.headers().put("x-ms-error-code", code);
        return reply;
    }

    private static void send(HttpExchange exchange, Reply reply, boolean truncated) throws IOException {
        reply.headers().forEach((name, value) -> exchange.getResponseHeaders().set(name, value));
        exchange.getResponseHeaders().set("x-ms-version", "2023-11-03");
        exchange.getResponseHeaders().set("x-ms-request-id", "00000000-0000-4000-8000-000000000000");
        int length = reply.body().length;
        if (exchange.getRequestMethod().equals("HEAD")) {
            exchange.getResponseHeaders().set("Content-Length", Integer.toString(length));
            exchange.sendResponseHeaders(reply.status(), -1);
            return;
        }
        boolean isEmpty = length == 0 || reply.status() == 304;
        exchange.sendResponseHeaders(reply.status(), isEmpty ? -1 : length);
        if (!isEmpty) {
            OutputStream out = exchange.getResponseBody();
            out.write(reply.body(), 0, truncated ? length / 2 : length);
            if (!truncated) {
                out.close();
            }
        }
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
        StringWriter text = new StringWriter();
        SurveyWriter out = new SurveyWriter(text);
        try {
            out.header(api.state().header());
            for (SurveyLine line : api.state().current()) {
                out.reading(line);
            }
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        return text.toString();
    }

    /** Returns the client ids that can sign in, with any secret. */
    public List<String> clients() {
        return api.clients();
    }
}
