package warden.standin;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import javax.net.ssl.SSLContext;

/** Servers on loopback that give one provider's answers, with the misfortunes that were asked for. */
public final class Loopback implements AutoCloseable {
    /** Where the state can be read back as a survey, by a plain GET. */
    public static final String STATE_PATH = "/_warden/survey";

    private static final int LONGEST_REQUEST_SECONDS = 20;
    private static final int WAITING = 256;
    private static final int SEED = 4711;

    static {
        // What the JDK's server reads once, when it is first used. Without the first it waits for the client's
        // acknowledgement between an
        // answer's head and its body, which costs some 40 ms a call; who sends half a request holds a thread until the
        // second.
        System.setProperty("sun.net.httpserver.nodelay", "true");
        System.setProperty("sun.net.httpserver.maxReqTime", Integer.toString(LONGEST_REQUEST_SECONDS));
    }

    /** A provider's answers. */
    public interface Provider {
        Reply answer(WireRequest request);

        /** Returns what a caller is told who has to slow down. */
        Reply throttled(WireRequest request);

        /** True for requests that no misfortune befalls. */
        default boolean isSpared(WireRequest request) {
            return false;
        }
    }

    private final Provider provider;
    private final Faults faults;
    private final List<HttpServer> servers = new ArrayList<>();
    private final ExecutorService threads = Executors.newCachedThreadPool(Loopback::daemon);
    private final Random random = new Random(SEED);
    private final AtomicLong calls = new AtomicLong();

    public Loopback(Provider provider, Faults faults) {
        this.provider = provider;
        this.faults = faults;
    }

    private static Thread daemon(Runnable work) {
        Thread thread = new Thread(work, "stand-in");
        thread.setDaemon(true);
        return thread;
    }

    /**
     * Answers at a port over plain HTTP.
     *
     * @param port 0 for any that is free
     * @return the port
     * @throws IOException when the port cannot be had
     */
    public int plain(int port) throws IOException {
        return start(HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), WAITING), false);
    }

    /** Answers at a port over TLS, as {@link #plain}. */
    public int secure(int port, SSLContext context) throws IOException {
        HttpsServer server = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), WAITING);
        server.setHttpsConfigurator(new HttpsConfigurator(context));
        return start(server, true);
    }

    private int start(HttpServer server, boolean isSecure) {
        server.createContext("/", exchange -> serve(exchange, isSecure));
        server.setExecutor(threads);
        server.start();
        servers.add(server);
        return server.getAddress().getPort();
    }

    /** Returns how many requests came so far. */
    public long calls() {
        return calls.get();
    }

    @Override
    public void close() {
        servers.forEach(server -> server.stop(0));
        threads.shutdownNow();
    }

    private void serve(HttpExchange exchange, boolean isSecure) throws IOException {
        calls.incrementAndGet();
        try (exchange) {
            long arrived = System.nanoTime();
            WireRequest request = WireRequest.of(exchange, isSecure);
            Faults.Misfortune misfortune;
            synchronized (random) {
                misfortune = provider.isSpared(request) ? Faults.Misfortune.NONE : faults.next(random);
            }
            if (misfortune == Faults.Misfortune.RESET) {
                faults.waitSince(arrived);
                // Closing before any answer makes clients see a cut connection.
                return;
            }
            Reply reply =
                    misfortune == Faults.Misfortune.THROTTLE ? provider.throttled(request) : provider.answer(request);
            faults.waitSince(arrived);
            send(exchange, reply, misfortune == Faults.Misfortune.TRUNCATE);
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
        }
    }

    private static void send(HttpExchange exchange, Reply reply, boolean truncated) throws IOException {
        reply.headers()
                .forEach((name, value) -> exchange.getResponseHeaders().set(name, value.replaceAll("[\\r\\n]", " ")));
        long length = reply.body().size();
        if (exchange.getRequestMethod().equals("HEAD")) {
            exchange.getResponseHeaders().set("Content-Length", Long.toString(length));
        }
        boolean isBodiless = exchange.getRequestMethod().equals("HEAD")
                || reply.status() == 204
                || reply.status() == 304
                || length == 0;
        exchange.sendResponseHeaders(reply.status(), isBodiless ? -1 : length);
        if (!isBodiless) {
            OutputStream out = exchange.getResponseBody();
            reply.body().writeTo(out, truncated ? length / 2 : length);
            if (!truncated) {
                out.close();
            }
        }
    }
}
