package warden.gather.aws;

import java.io.IOException;
import java.util.concurrent.Semaphore;
import software.amazon.awssdk.http.ExecutableHttpRequest;
import software.amazon.awssdk.http.HttpExecuteRequest;
import software.amazon.awssdk.http.HttpExecuteResponse;
import software.amazon.awssdk.http.SdkHttpClient;

/**
 * Lets so many calls be under way at once, whoever makes them. The pause before a call that was told to slow down is made again takes no
 * place: others go on meanwhile.
 */
final class LimitedHttp implements SdkHttpClient {
    private final SdkHttpClient client;
    private final Semaphore places;

    LimitedHttp(SdkHttpClient client, int most) {
        this.client = client;
        this.places = new Semaphore(most, true);
    }

    @Override
    public ExecutableHttpRequest prepareRequest(HttpExecuteRequest request) {
        ExecutableHttpRequest prepared = client.prepareRequest(request);
        return new ExecutableHttpRequest() {
            @Override
            public HttpExecuteResponse call() throws IOException {
                try {
                    places.acquire();
                } catch (InterruptedException stopped) {
                    Thread.currentThread().interrupt();
                    throw new IOException("stopped", stopped);
                }
                try {
                    return prepared.call();
                } finally {
                    places.release();
                }
            }

            @Override
            public void abort() {
                prepared.abort();
            }
        };
    }

    @Override
    public String clientName() {
        return client.clientName();
    }

    @Override
    public void close() {
        client.close();
    }
}
