package warden.standin;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.BiFunction;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import warden.core.aws.policy.Actor;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.aws.trace.Tracer;
import warden.core.document.Json;
import warden.core.survey.SurveyException;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;

/** The simulated account as a server on loopback. Signed calls are the account's; by Host header it serves the sites. */
public final class StandIn implements AutoCloseable {
    /** Where the state can be read back as a survey, by a plain GET. */
    public static final String STATE_PATH = "/_warden/survey";

    private static final int LONGEST_REQUEST_SECONDS = 20;

    static {
        setUpServers();
    }

    /** Sets what the JDK's server reads once, when it is first used. */
    static void setUpServers() {
        // Without this the JDK's server waits for the client's acknowledgement between an answer's head and its body,
        // which costs some 40 ms a call.
        System.setProperty("sun.net.httpserver.nodelay", "true");
        // Who sends half a request holds a thread until then.
        System.setProperty("sun.net.httpserver.maxReqTime", Integer.toString(LONGEST_REQUEST_SECONDS));
    }

    private static final Pattern CREDENTIAL =
            Pattern.compile("Credential=([^/,]+)/[0-9]{8}/([^/]+)/([^/]+)/aws4_request");
    private static final Pattern PRESIGNED = Pattern.compile("([^/]+)/[0-9]{8}/([^/]+)/([^/]+)/aws4_request");
    private static final int SEED = 4711;

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final StorageApi storage;
    private final AccountApi services;
    private final Faults faults;
    private final Clock clock;
    private final HttpServer plain;
    private final ExecutorService threads = Executors.newCachedThreadPool(StandIn::daemon);
    private final Random random = new Random(SEED);
    private final AtomicLong calls = new AtomicLong();
    private @Nullable HttpsServer secure;
    private @Nullable ServerCertificates certificates;

    private StandIn(CloudState state, Faults faults, int port, Clock clock) throws IOException {
        this.state = state;
        this.faults = faults;
        this.clock = clock;
        this.gatekeeper = new Gatekeeper(state, faults.refused());
        this.storage = new StorageApi(state, gatekeeper, clock);
        this.services = new AccountApi(state, gatekeeper, clock);
        this.plain = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 256);
        start(plain, false);
    }

    private static Thread daemon(Runnable work) {
        Thread thread = new Thread(work, "stand-in");
        thread.setDaemon(true);
        return thread;
    }

    private void start(HttpServer server, boolean tls) {
        server.createContext("/", exchange -> serve(exchange, tls));
        server.setExecutor(threads);
        server.start();
    }

    /**
     * Starts it.
     *
     * @param survey a survey's text
     * @param file the survey's name, for messages
     * @param contents what objects hold, by bucket name and key; absent for those whose content is to be made up
     * @param port the port on loopback; 0 for any that is free
     * @throws SurveyException when the text is no survey
     * @throws IOException when the port cannot be had
     */
    public static StandIn start(
            String survey,
            String file,
            BiFunction<String, String, Optional<byte[]>> contents,
            Faults faults,
            int port,
            Clock clock)
            throws SurveyException, IOException {
        return new StandIn(CloudState.parse(survey, file, contents), faults, port, clock);
    }

    /**
     * Serves the sites over TLS too, with a certificate made for the hosts that the surveyed certificates cover.
     *
     * @param folder where the key and the certificate are put
     * @return the port
     */
    public int startTls(Path folder, int port) throws IOException {
        Set<String> hosts = EdgeHosts.of(state.cloud());
        certificates = ServerCertificates.make(folder, hosts::contains);
        secure = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 256);
        secure.setHttpsConfigurator(new HttpsConfigurator(certificates.context()));
        start(secure, true);
        return secure.getAddress().getPort();
    }

    /** Returns the file of the certificate authority to trust; absent before {@link #startTls}. */
    public Optional<Path> authority() {
        return Optional.ofNullable(certificates).map(ServerCertificates::authority);
    }

    /** Returns the address of the API endpoint. */
    public String endpoint() {
        return "http://127.0.0.1:" + plain.getAddress().getPort();
    }

    public int port() {
        return plain.getAddress().getPort();
    }

    /** Returns the access key id that stands for a principal of the account, by its ARN. */
    public static String keyOf(String arn) {
        return Gatekeeper.keyOf(arn);
    }

    /** Returns how many requests were answered so far. */
    public long calls() {
        return calls.get();
    }

    /** Returns the state as a survey's text. */
    public String state() {
        return state.text();
    }

    @Override
    public void close() {
        plain.stop(0);
        if (secure != null) {
            secure.stop(0);
        }
        threads.shutdownNow();
    }

    private void serve(HttpExchange exchange, boolean tls) throws IOException {
        calls.incrementAndGet();
        try (exchange) {
            long arrived = System.nanoTime();
            byte[] body = exchange.getRequestBody().readAllBytes();
            Faults.Misfortune misfortune;
            synchronized (random) {
                misfortune = faults.next(random);
            }
            if (misfortune == Faults.Misfortune.RESET) {
                faults.waitSince(arrived);
                // Closing before any answer makes clients see a cut connection.
                return;
            }
            Reply reply = misfortune == Faults.Misfortune.THROTTLE ? throttled(exchange) : answer(exchange, body, tls);
            faults.waitSince(arrived);
            send(exchange, reply, misfortune == Faults.Misfortune.TRUNCATE);
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
        }
    }

    private static void send(HttpExchange exchange, Reply reply, boolean truncated) throws IOException {
        boolean bodiless = exchange.getRequestMethod().equals("HEAD") || reply.status() == 204 || reply.status() == 304;
        reply.headers()
                .forEach((name, value) -> exchange.getResponseHeaders().set(name, value.replaceAll("[\\r\\n]", " ")));
        exchange.getResponseHeaders().set("x-amz-request-id", "STANDIN0000000000");
        if (bodiless) {
            if (exchange.getRequestMethod().equals("HEAD")) {
                exchange.getResponseHeaders().set("Content-Length", Integer.toString(reply.body().length));
            }
            exchange.sendResponseHeaders(reply.status(), -1);
            return;
        }
        int length = reply.body().length;
        exchange.sendResponseHeaders(reply.status(), length == 0 ? -1 : length);
        if (length > 0) {
            OutputStream out = exchange.getResponseBody();
            out.write(reply.body(), 0, truncated ? length / 2 : length);
            if (!truncated) {
                out.close();
            }
        }
    }

    private Reply throttled(HttpExchange exchange) {
        String service = service(exchange);
        return error(
                service,
                new Refusal(
                        service.equals("s3") ? 503 : 400,
                        service.equals("s3") ? "SlowDown" : "ThrottlingException",
                        "Rate exceeded"));
    }

    private static String service(HttpExchange exchange) {
        if (exchange.getRequestURI().getRawPath().startsWith("/v20180820/")) {
            return "s3control";
        }
        Matcher credential =
                CREDENTIAL.matcher(String.valueOf(exchange.getRequestHeaders().getFirst("Authorization")));
        return credential.find() ? credential.group(3) : "s3";
    }

    private Reply answer(HttpExchange exchange, byte[] body, boolean tls) {
        String service = service(exchange);
        try {
            Call call = call(exchange, body);
            if (call.path().equals(STATE_PATH) && call.service().isEmpty() && isLocal(call.host())) {
                return Reply.of(200, "application/x-ndjson", state.text());
            }
            boolean api = !call.service().isEmpty()
                    || isLocal(call.host())
                    || call.host().endsWith(".localhost");
            if (!api) {
                return visit(call, tls);
            }
            if (call.path().startsWith("/v20180820/configuration/publicAccessBlock")) {
                return services.publicAccessBlock(call);
            }
            return call.service().isEmpty() || call.service().equals("s3") ? toStorage(call) : services.answer(call);
        } catch (Refusal refusal) {
            return exchange.getRequestMethod().equals("HEAD") ? Reply.empty(refusal.status()) : error(service, refusal);
        } catch (IOException | IllegalArgumentException broken) {
            return error(service, new Refusal(400, "InvalidRequest", String.valueOf(broken.getMessage())));
        } catch (RuntimeException bug) {
            return error(service, new Refusal(500, "InternalError", "The simulated account failed: " + bug));
        }
    }

    private static boolean isLocal(String host) {
        return host.equals("localhost")
                || host.matches("127(\\.[0-9]+){3}")
                || host.equals("[::1]")
                || host.endsWith(".127.0.0.1");
    }

    private Reply toStorage(Call call) {
        Optional<String> byHost = StorageEndpoint.parse(call.host()).flatMap(StorageEndpoint::bucket);
        if (byHost.isEmpty() && call.host().endsWith(".localhost")) {
            byHost = Optional.of(call.host().substring(0, call.host().length() - ".localhost".length()));
        }
        String path = Call.unescaped(call.path()).substring(1);
        if (byHost.isPresent()) {
            return storage.answer(call, byHost.get(), path);
        }
        int slash = path.indexOf('/');
        return storage.answer(
                call, slash < 0 ? path : path.substring(0, slash), slash < 0 ? "" : path.substring(slash + 1));
    }

    private Call call(HttpExchange exchange, byte[] raw) throws IOException {
        Map<String, String> headers = new LinkedHashMap<>();
        exchange.getRequestHeaders()
                .forEach((name, values) -> headers.put(name.toLowerCase(Locale.ROOT), String.join(",", values)));
        String target = exchange.getRequestURI().toString();
        int mark = target.indexOf('?');
        String path = exchange.getRequestURI().getRawPath();
        Map<String, String> query = mark < 0 ? Map.of() : Call.form(target.substring(mark + 1));
        String host =
                headers.getOrDefault("host", "").replaceFirst(":[0-9]+$", "").toLowerCase(Locale.ROOT);
        Matcher credential = CREDENTIAL.matcher(headers.getOrDefault("authorization", ""));
        Matcher presigned = PRESIGNED.matcher(query.getOrDefault("X-Amz-Credential", ""));
        Matcher signed = credential.find() ? credential : presigned.matches() ? presigned : null;
        boolean framed = headers.getOrDefault("x-amz-content-sha256", "").startsWith("STREAMING-");
        byte[] body = framed ? Call.unframed(raw) : raw;
        String told = headers.getOrDefault("x-amz-decoded-content-length", "");
        if (framed && !told.isEmpty() && !told.equals(Integer.toString(body.length))) {
            throw new Refusal(400, "IncompleteBody", "The body has not the length that its header tells");
        }
        Actor who = new Actor.Anyone();
        String service = "";
        String region = "";
        Optional<Session> session = Optional.empty();
        if (signed != null) {
            String key = signed.group(1);
            region = signed.group(2);
            service = signed.group(3).equals("s3control") ? "s3" : signed.group(3);
            boolean storageCall = service.equals("s3");
            session = gatekeeper.session(key);
            if (session.filter(each -> each.until().isBefore(clock.instant())).isPresent()) {
                throw new Refusal(storageCall ? 400 : 403, "ExpiredToken", "The provided token has expired.");
            }
            who = gatekeeper
                    .actor(key)
                    .orElseThrow(() -> storageCall
                            ? new Refusal(
                                    403,
                                    "InvalidAccessKeyId",
                                    "The access key id you provided does not exist in our records.")
                            : new Refusal(
                                    403,
                                    "InvalidClientTokenId",
                                    "The security token included in the request is invalid."));
        }
        if (service.isEmpty()
                && path.equals("/")
                && new String(body, StandardCharsets.UTF_8).contains("Action=AssumeRoleWithWebIdentity")) {
            service = "sts";
        }
        return new Call(exchange.getRequestMethod(), host, path, query, headers, body, who, service, region, session);
    }

    /** Serves a visitor as the trace of the address says; what is not certain comes out as its first possibility. */
    private Reply visit(Call call, boolean tls) {
        Optional<WebAddress> address = WebAddress.parse((tls ? "https://" : "http://") + call.host() + call.path())
                .address();
        if (address.isEmpty()) {
            return Reply.of(400, "text/plain", "Bad request\n");
        }
        String query = call.query().isEmpty() ? "" : query(call);
        WebAddress whole = new WebAddress(
                tls,
                call.host(),
                address.get().port(),
                address.get().path(),
                query.isEmpty() ? Optional.empty() : Optional.of(query),
                java.util.List.of());
        Trace trace = new Tracer(state.cloud(), false).trace(new Visit(whole, call.method(), clock.instant()));
        Outcome outcome = trace.outcomes().isEmpty() ? null : trace.outcomes().get(0);
        if (outcome == null || outcome.status().isEmpty()) {
            return Reply.of(
                    502, "text/plain", "The simulated account does not know what answers here: " + trace.why() + "\n");
        }
        Reply page = outcome.object()
                .flatMap(arn -> state.object(
                                Bucket.arnOf(Bucket.nameIn(arn).orElseThrow()),
                                Bucket.keyIn(arn).orElseThrow())
                        .map(object -> page(outcome.status().getAsInt(), arn, object)))
                .orElseGet(() -> Reply.of(
                        outcome.status().getAsInt(),
                        "text/html",
                        "<html><body><h1>" + outcome.status().getAsInt() + "</h1></body></html>\n"));
        outcome.location().ifPresent(to -> page.headers().put("Location", to));
        if (!trace.isCertain()) {
            page.headers().put("x-warden-uncertain", trace.why().replaceAll("[^ -~]", "?"));
        }
        return page;
    }

    private static String query(Call call) {
        StringBuilder out = new StringBuilder();
        call.query()
                .forEach((name, value) ->
                        out.append(out.isEmpty() ? "" : "&").append(name).append(value.isEmpty() ? "" : "=" + value));
        return out.toString();
    }

    private Reply page(int status, String arn, CloudState.StoredObject object) {
        byte[] content = state.content(Bucket.arnOf(Bucket.nameIn(arn).orElseThrow()), object);
        Map<String, String> headers = new LinkedHashMap<>();
        headers.put("Content-Type", "binary/octet-stream");
        if (object.head() != null) {
            WireSpelling.headers(
                    software.amazon.awssdk.services.s3.model.HeadObjectResponse.builder(),
                    CloudState.StoredObject.part(object.head()),
                    headers);
        }
        headers.remove("Content-Length");
        headers.put("Via", "1.1 stand-in");
        return new Reply(status, headers, content);
    }

    private static Reply error(String service, Refusal refusal) {
        String code = WireSpelling.escaped(refusal.code());
        String message = WireSpelling.escaped(String.valueOf(refusal.getMessage()));
        return switch (service) {
            case "s3" ->
                Reply.xml(
                        refusal.status(),
                        "<Error><Code>" + code + "</Code><Message>" + message
                                + "</Message><RequestId>STANDIN0000000000</RequestId><HostId>stand-in</HostId></Error>");
            case "iam", "sts", "cloudfront", "route53", "s3control" ->
                Reply.xml(
                        refusal.status(),
                        "<ErrorResponse><Error><Type>Sender</Type><Code>" + code + "</Code><Message>" + message
                                + "</Message></Error><RequestId>00000000-0000-0000-0000-000000000000</RequestId></ErrorResponse>");
            default -> {
                String type = refusal.code().equals("AccessDenied") ? "AccessDeniedException" : refusal.code();
                Reply reply = Reply.of(
                        refusal.status() == 403 ? 400 : refusal.status(),
                        "application/x-amz-json-1.1",
                        Json.text(Json.object("__type", type, "message", refusal.getMessage())));
                reply.headers().put("x-amzn-ErrorType", type);
                yield reply;
            }
        };
    }
}
