package warden.gather.azure;

import com.azure.core.http.HttpClient;
import com.azure.core.http.HttpRequest;
import com.azure.core.http.HttpResponse;
import com.azure.core.util.Context;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import reactor.core.publisher.Mono;
import warden.gather.live.LiveException;

/**
 * A way to the network that is still being made ready: authorities' certificates and ciphers take a fifth of a second, in which what signs in is
 * made ready too. Who asks first waits for it.
 */
final class ClientInTheMaking implements HttpClient, AutoCloseable {
    /** How the JDK's client calls the thread that waits for the network. */
    private static final String WAITING = "-SelectorManager";

    private static final int ROOM = 16;

    private final FutureTask<HttpClient> making;
    /** All threads that it starts: the JDK's client lets none be named or ended. */
    private final ThreadGroup threads = new ThreadGroup("network");

    ClientInTheMaking(Callable<HttpClient> maker) {
        making = new FutureTask<>(maker);
        Thread thread = new Thread(threads, making, "network");
        thread.setDaemon(true);
        thread.start();
    }

    /**
     * Ends the thread that waits for the network in the system's own code; nothing is asked any more. At its end the JVM would wait 0.3 s for it. The
     * others are asleep, and some of them are shared by the whole process.
     */
    @Override
    public void close() {
        Thread[] all = new Thread[threads.activeCount() + ROOM];
        int count = threads.enumerate(all);
        for (int i = 0; i < count; i++) {
            if (all[i].getName().endsWith(WAITING)) {
                all[i].interrupt();
            }
        }
    }

    /** Waits until it is made, and says why it cannot be. */
    HttpClient made() throws LiveException {
        try {
            return making.get();
        } catch (ExecutionException failed) {
            if (failed.getCause() instanceof LiveException said) {
                throw said;
            }
            throw new IllegalStateException(failed.getCause());
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(stopping);
        }
    }

    private HttpClient client() {
        try {
            return made();
        } catch (LiveException said) {
            throw new IllegalStateException(said.getMessage(), said);
        }
    }

    @Override
    public Mono<HttpResponse> send(HttpRequest request) {
        return client().send(request);
    }

    @Override
    public Mono<HttpResponse> send(HttpRequest request, Context context) {
        return client().send(request, context);
    }

    @Override
    public HttpResponse sendSync(HttpRequest request, Context context) {
        return client().sendSync(request, context);
    }
}
