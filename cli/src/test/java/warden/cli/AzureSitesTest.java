package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.List;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLHandshakeException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;
import org.junit.jupiter.api.Test;

/** What visitors get from the simulated subscription's sites, by host, as the trace says. */
class AzureSitesTest extends QuaysideStandIn {
    private static String exchange(Socket socket, String request) throws IOException {
        OutputStream out = socket.getOutputStream();
        out.write(request.getBytes(StandardCharsets.UTF_8));
        out.flush();
        return new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    }

    private static String request(String head, String host, String more) {
        return head + " HTTP/1.1\r\nHost: " + host + "\r\nConnection: close\r\n" + more + "\r\n";
    }

    /** Asks over TLS, where the certificate must fit the host. */
    private String secure(String host, String request) throws Exception {
        int port = Integer.parseInt(standIn.endpoint().replaceFirst(".*:", ""));
        try (SSLSocket socket = (SSLSocket)
                Trust.in(standIn.authority()).getSocketFactory().createSocket(InetAddress.getLoopbackAddress(), port)) {
            SSLParameters parameters = socket.getSSLParameters();
            parameters.setServerNames(List.of(new SNIHostName(host)));
            parameters.setEndpointIdentificationAlgorithm("");
            socket.setSSLParameters(parameters);
            socket.startHandshake();
            java.security.cert.X509Certificate shown =
                    (java.security.cert.X509Certificate) socket.getSession().getPeerCertificates()[0];
            if (shown.getSubjectAlternativeNames().stream().noneMatch(name -> host.equals(name.get(1)))) {
                throw new SSLHandshakeException("no certificate for " + host);
            }
            return exchange(socket, request);
        }
    }

    private String get(String host, String path) throws Exception {
        return secure(host, request("GET " + path, host, ""));
    }

    private String plain(String host, String path) throws Exception {
        try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), standIn.plainPort())) {
            return exchange(socket, request("GET " + path, host, ""));
        }
    }

    @Test
    void edgesServeTheirHosts() throws Exception {
        assertThat(get("menu.quayside.example", "/"))
                .startsWith("HTTP/1.1 200")
                .containsIgnoringCase("Content-Type: text/html")
                .contains("made up: index.html");
        assertThat(get("menu-c5hmfgb3d0a5e4fr.z01.azurefd.net", "/")).startsWith("HTTP/1.1 200");
        assertThat(get("menu.quayside.example", "/no-such-page.html"))
                .startsWith("HTTP/1.1 404")
                .contains("made up: 404.html");
        assertThat(plain("wifi.quayside.example", "/")).startsWith("HTTP/1.1 400");
    }

    @Test
    void storageServesByItsOwnHosts() throws Exception {
        assertThat(get("quaysidewifi.z6.web.core.windows.net", "/")).contains("made up: index.html");
        assertThat(get("quaysidewifi.blob.core.windows.net", "/exports?restype=container&comp=list"))
                .startsWith("HTTP/1.1 200");
        assertThat(get("management.azure.com", "/subscriptions")).startsWith("HTTP/1.1 401");
    }

    @Test
    void whatIsNotCertainIsNotServed() throws Exception {
        assertThat(get("harbourmenu.z6.web.core.windows.net", "/"))
                .startsWith("HTTP/1.1 501")
                .contains("not certain");
        assertThat(plain("menu.quayside.example", "/")).startsWith("HTTP/1.1 501");
        assertThatThrownBy(() -> get("stranger.example", "/")).isInstanceOf(SSLHandshakeException.class);
    }

    @Test
    void aPageThatWasUploadedIsVisited() throws Exception {
        assertThat(get("wifi.quayside.example", "/islands.html")).startsWith("HTTP/1.1 404");
        AzureSdkTest.blob(standIn, "quaysidewifi", "$web", "islands.html")
                .upload(com.azure.core.util.BinaryData.fromString("<title>islands</title>"));
        assertThat(get("wifi.quayside.example", "/islands.html"))
                .startsWith("HTTP/1.1 200")
                .contains("<title>islands</title>");
        AzureSdkTest.blob(standIn, "quaysidewifi", "$web", "islands.html").delete();
        assertThat(get("wifi.quayside.example", "/islands.html")).startsWith("HTTP/1.1 404");
    }
}
