package warden.gather.visit;

import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManagerFactory;
import warden.core.trace.Outcome.Failure;
import warden.core.trace.WebAddress;

/**
 * Sends single requests over HTTP/1.1, to addresses that may be named by hand. The platform's own client cannot be told to ask another
 * address than the one that DNS gives, so this speaks the little of the protocol that a head takes.
 */
public final class Visitor {
    private static final int PATIENCE_MILLIS = 15_000;
    private static final int LONGEST_HEAD = 256 * 1024;

    /** Sends what is meant for {@code host} and {@code port} to {@code address} (and {@code atPort}) instead. */
    public record Detour(String host, int port, String address, int atPort) {
        private static final Pattern DETOUR =
                Pattern.compile("([^:\\s]+):([0-9]{1,5}):(\\[[0-9A-Fa-f:.]+\\]|[^:\\s]+)(?::([0-9]{1,5}))?");
        private static final int LARGEST_PORT = 65_535;

        /** Parses HOST:PORT:ADDRESS or HOST:PORT:ADDRESS:PORT, an IPv6 address in brackets; absent when the text is neither. */
        public static Optional<Detour> parse(String text) {
            Matcher parts = DETOUR.matcher(text);
            if (!parts.matches()) {
                return Optional.empty();
            }
            int port = Integer.parseInt(parts.group(2));
            int atPort = parts.group(4) == null ? port : Integer.parseInt(parts.group(4));
            if (port > LARGEST_PORT || atPort > LARGEST_PORT) {
                return Optional.empty();
            }
            return Optional.of(new Detour(parts.group(1).toLowerCase(Locale.ROOT), port, parts.group(3), atPort));
        }
    }

    private final List<Detour> detours;
    private final SSLContext tls;

    /**
     * Makes ready.
     *
     * @param authority the file of a certificate authority to trust beside none other; absent for the platform's own
     * @throws IOException when the file is not there or holds no certificate
     */
    public Visitor(List<Detour> detours, Optional<Path> authority) throws IOException {
        this.detours = List.copyOf(detours);
        this.tls = context(authority);
    }

    private static SSLContext context(Optional<Path> authority) throws IOException {
        try {
            SSLContext context = SSLContext.getInstance("TLS");
            TrustManagerFactory trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
            trust.init(authority.isPresent() ? store(authority.get()) : null);
            context.init(null, trust.getTrustManagers(), null);
            return context;
        } catch (GeneralSecurityException unusable) {
            throw new IOException("it holds no certificate that can be used", unusable);
        }
    }

    private static KeyStore store(Path file) throws IOException, GeneralSecurityException {
        KeyStore store = KeyStore.getInstance(KeyStore.getDefaultType());
        store.load(null, null);
        try (InputStream in = new BufferedInputStream(Files.newInputStream(file))) {
            int count = 0;
            for (Certificate certificate :
                    CertificateFactory.getInstance("X.509").generateCertificates(in)) {
                store.setCertificateEntry("authority-" + count++, certificate);
            }
        }
        return store;
    }

    /** Sends one request and reads the head of the answer. Never throws for what the network does. */
    public Observation visit(WebAddress address, String method) {
        int port = address.port().orElse(address.secure() ? 443 : 80);
        Optional<Detour> detour = detours.stream()
                .filter(each -> each.host().equals(address.host()) && each.port() == port)
                .findFirst();
        String target = detour.map(Detour::address).orElse(address.host());
        int targetPort = detour.map(Detour::atPort).orElse(port);
        InetAddress found;
        try {
            found = InetAddress.getByName(target);
        } catch (UnknownHostException unknown) {
            return failed(Failure.NAME_NOT_FOUND, target + " is not known");
        }
        try (Socket plain = new Socket()) {
            plain.connect(new InetSocketAddress(found, targetPort), PATIENCE_MILLIS);
            plain.setSoTimeout(PATIENCE_MILLIS);
            if (!address.secure()) {
                return exchange(plain, address, method, Optional.empty());
            }
            return secured(plain, address, method);
        } catch (IOException unreachable) {
            return failed(Failure.CANNOT_CONNECT, String.valueOf(unreachable.getMessage()));
        }
    }

    private Observation secured(Socket plain, WebAddress address, String method) throws IOException {
        try (SSLSocket socket =
                (SSLSocket) tls.getSocketFactory().createSocket(plain, address.host(), plain.getPort(), true)) {
            SSLParameters parameters = socket.getSSLParameters();
            parameters.setEndpointIdentificationAlgorithm("HTTPS");
            parameters.setServerNames(List.of(new SNIHostName(address.host())));
            socket.setSSLParameters(parameters);
            socket.startHandshake();
            String subject = socket.getSession().getPeerCertificates()[0] instanceof X509Certificate shown
                    ? shown.getSubjectX500Principal().getName()
                    : "";
            return exchange(socket, address, method, Optional.of(subject));
        } catch (SSLException refused) {
            return failed(Failure.TLS, String.valueOf(refused.getMessage()));
        }
    }

    private static Observation failed(Failure failure, String detail) {
        return new Observation(OptionalInt.empty(), Map.of(), Optional.of(failure), Optional.empty(), detail);
    }

    private static Observation exchange(Socket socket, WebAddress address, String method, Optional<String> certificate)
            throws IOException {
        String target =
                address.path() + address.query().map(query -> "?" + query).orElse("");
        String host = address.host()
                + (address.port().isPresent() ? ":" + address.port().getAsInt() : "");
        String request = method + " " + target + " HTTP/1.1\r\nHost: " + host
                + "\r\nUser-Agent: gentle-warden\r\nAccept: */*\r\nConnection: close\r\n\r\n";
        socket.getOutputStream().write(request.getBytes(StandardCharsets.US_ASCII));
        socket.getOutputStream().flush();
        String[] lines = head(new BufferedInputStream(socket.getInputStream())).split("\r?\n");
        String[] status = lines[0].split(" ", 3);
        if (status.length < 2 || !status[0].startsWith("HTTP/") || !status[1].matches("[0-9]{3}")) {
            return failed(Failure.CANNOT_CONNECT, "what answers does not speak HTTP");
        }
        Map<String, String> headers = new TreeMap<>();
        for (int i = 1; i < lines.length; i++) {
            int colon = lines[i].indexOf(':');
            if (colon > 0) {
                headers.putIfAbsent(
                        lines[i].substring(0, colon).toLowerCase(Locale.ROOT),
                        lines[i].substring(colon + 1).strip());
            }
        }
        return new Observation(OptionalInt.of(Integer.parseInt(status[1])), headers, Optional.empty(), certificate, "");
    }

    private static String head(InputStream in) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        int ends = 0;
        for (int b = in.read(); b >= 0 && out.size() < LONGEST_HEAD; b = in.read()) {
            out.write(b);
            ends = b == '\n' ? ends + 1 : b == '\r' ? ends : 0;
            if (ends == 2) {
                break;
            }
        }
        return out.toString(StandardCharsets.ISO_8859_1);
    }
}
