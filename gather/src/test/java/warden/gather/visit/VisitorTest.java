package warden.gather.visit;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.trace.Outcome;
import warden.core.trace.WebAddress;
import warden.gather.visit.Visitor.Detour;

class VisitorTest {
    @ParameterizedTest
    @CsvSource({
        "www.heronferry.example:443:127.0.0.1, www.heronferry.example, 443, 127.0.0.1, 443",
        "WWW.heronferry.example:443:127.0.0.1:8443, www.heronferry.example, 443, 127.0.0.1, 8443",
        "www.heronferry.example:80:[::1]:8080, www.heronferry.example, 80, [::1], 8080",
        "www.heronferry.example:80:localhost, www.heronferry.example, 80, localhost, 80"
    })
    void parsesDetours(String text, String host, int port, String address, int atPort) {
        assertThat(Detour.parse(text)).contains(new Detour(host, port, address, atPort));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {"", "a", "a:b", "a:80", "a:80:", ":80:b", "a:99999:b", "a:80:b:c", "a:80:b:80:1", "a:80:b:70000"
            })
    void refusesOthers(String text) {
        assertThat(Detour.parse(text)).isEmpty();
    }

    private static WebAddress address(String url) {
        return WebAddress.parse(url).address().orElseThrow();
    }

    @Test
    void sendsThePathAsWrittenWithoutFollowingOrSigning() throws Exception {
        AtomicReference<String> seen = new AtomicReference<>("");
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", exchange -> {
            seen.set(exchange.getRequestMethod() + " " + exchange.getRequestURI() + " "
                    + exchange.getRequestHeaders().getFirst("Host") + " "
                    + exchange.getRequestHeaders().getFirst("Authorization"));
            exchange.getResponseHeaders().set("Location", "/elsewhere");
            exchange.getResponseHeaders().set("Cache-Control", "no-cache");
            exchange.sendResponseHeaders(302, -1);
            exchange.close();
        });
        server.start();
        try {
            Visitor visitor = new Visitor(
                    List.of(new Detour(
                            "www.heronferry.example",
                            80,
                            "127.0.0.1",
                            server.getAddress().getPort())),
                    Optional.empty());
            Observation observed = visitor.visit(address("http://www.heronferry.example/a%20b/?q=1"), "GET");
            assertThat(observed.status()).hasValue(302);
            assertThat(observed.location()).contains("/elsewhere");
            assertThat(observed.headers()).containsEntry("cache-control", "no-cache");
            assertThat(seen.get()).isEqualTo("GET /a%20b/?q=1 www.heronferry.example null");
        } finally {
            server.stop(0);
        }
    }

    @Test
    void saysThatNobodyAnswers() throws IOException {
        int port;
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
        }
        Visitor visitor =
                new Visitor(List.of(new Detour("www.heronferry.example", 80, "127.0.0.1", port)), Optional.empty());
        Observation observed = visitor.visit(address("http://www.heronferry.example/"), "GET");
        assertThat(observed.status()).isEmpty();
        assertThat(observed.failure().map(Outcome.Failure::word)).contains("cannot-connect");
    }
}
