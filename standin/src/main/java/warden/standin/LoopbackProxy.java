package warden.standin;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A proxy on loopback that leads the hosts which a simulated cloud answers at to its servers, and nothing anywhere else, save to the hosts that are let
 * through. Source: RFC 9110, section 9.3.6 (CONNECT) and RFC 9112, section 3.2.2 (absolute form).
 */
public final class LoopbackProxy implements AutoCloseable {
    private static final Pattern CONNECT =
            Pattern.compile("CONNECT (\\[[0-9a-fA-F:]+\\]|[^:\\s]+):([0-9]{1,5}) HTTP/1\\.[01]");
    private static final Pattern ABSOLUTE = Pattern.compile("([A-Z]{1,20}) (http://[^ ]+) (HTTP/1\\.[01])");
    private static final int LONGEST_HEAD = 64 * 1024;
    private static final int PIECE = 16 * 1024;
    private static final int HTTP_PORT = 80;

    private final ServerSocket server;
    private final ExecutorService threads = Executors.newCachedThreadPool(LoopbackProxy::daemon);
    private final Set<Socket> open = ConcurrentHashMap.newKeySet();
    private final Map<String, Integer> refused = new TreeMap<>();
    private final Predicate<String> isSimulated;
    private final Predicate<String> isLetThrough;
    private final int securePort;
    private final int plainPort;

    /**
     * Starts it at a free port.
     *
     * @param isSimulated whether the simulated cloud answers at a host, in lower case
     * @param isLetThrough whether a host may be reached as it is
     * @param securePort where the simulated cloud answers over TLS
     * @param plainPort where it answers plain HTTP
     */
    public LoopbackProxy(Predicate<String> isSimulated, Predicate<String> isLetThrough, int securePort, int plainPort)
            throws IOException {
        this.isSimulated = isSimulated;
        this.isLetThrough = isLetThrough;
        this.securePort = securePort;
        this.plainPort = plainPort;
        this.server = new ServerSocket(0, 256, InetAddress.getLoopbackAddress());
        threads.execute(this::accept);
    }

    private static Thread daemon(Runnable work) {
        Thread thread = new Thread(work, "proxy");
        thread.setDaemon(true);
        return thread;
    }

    public int port() {
        return server.getLocalPort();
    }

    /** Returns the hosts that were refused, each with how often. */
    public Map<String, Integer> refused() {
        synchronized (refused) {
            return new TreeMap<>(refused);
        }
    }

    @Override
    public void close() {
        closed(server);
        open.forEach(LoopbackProxy::closed);
        threads.shutdownNow();
    }

    private static void closed(AutoCloseable socket) {
        try {
            socket.close();
        } catch (Exception gone) {
            // Who is being left has nothing more to say.
        }
    }

    private void accept() {
        while (!server.isClosed()) {
            try {
                Socket client = server.accept();
                open.add(client);
                threads.execute(() -> serve(client));
            } catch (IOException closing) {
                return;
            }
        }
    }

    private void serve(Socket client) {
        try (client) {
            client.setTcpNoDelay(true);
            String head = head(client.getInputStream());
            String first = head.lines().findFirst().orElse("");
            Matcher connect = CONNECT.matcher(first);
            Matcher absolute = ABSOLUTE.matcher(first);
            if (connect.matches()) {
                tunnel(client, connect.group(1).toLowerCase(Locale.ROOT), Integer.parseInt(connect.group(2)));
            } else if (absolute.matches()) {
                forward(client, head, absolute);
            } else {
                answer(client, "400 Bad Request", "This is a proxy.");
            }
        } catch (IOException gone) {
            // The client has closed, or what it asked for has; neither is told to anybody.
        } finally {
            open.remove(client);
        }
    }

    private void tunnel(Socket client, String host, int port) throws IOException {
        Optional<Socket> found = reached(client, host, port, securePort);
        if (found.isEmpty()) {
            return;
        }
        try (Socket to = found.get()) {
            client.getOutputStream()
                    .write("HTTP/1.1 200 Connection established\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
            join(client, to);
        }
    }

    /** One request a connection, so that each is looked at: the next may be for another host. */
    private void forward(Socket client, String head, Matcher line) throws IOException {
        URI target;
        try {
            target = new URI(line.group(2));
        } catch (URISyntaxException broken) {
            answer(client, "400 Bad Request", "The address cannot be read.");
            return;
        }
        String host = String.valueOf(target.getHost()).toLowerCase(Locale.ROOT);
        int port = target.getPort() < 0 ? HTTP_PORT : target.getPort();
        Optional<Socket> found = reached(client, host, port, plainPort);
        if (found.isEmpty()) {
            return;
        }
        try (Socket to = found.get()) {
            String path = line.group(2).replaceFirst("http://[^/?]*", "");
            StringBuilder sent = new StringBuilder(line.group(1) + " " + (path.startsWith("/") ? path : "/" + path)
                    + " " + line.group(3) + "\r\nHost: " + target.getAuthority() + "\r\nConnection: close\r\n");
            head.lines().skip(1).filter(header -> !isOwn(header)).forEach(header -> sent.append(header)
                    .append("\r\n"));
            to.getOutputStream().write(sent.append("\r\n").toString().getBytes(StandardCharsets.ISO_8859_1));
            join(client, to);
        }
    }

    private static boolean isOwn(String header) {
        String name = header.toLowerCase(Locale.ROOT);
        return name.isBlank()
                || name.startsWith("host:")
                || name.startsWith("connection:")
                || name.startsWith("proxy-");
    }

    /** Returns the way to a host, to the simulated cloud's port where that answers there; absent for one that is refused. */
    private Optional<Socket> reached(Socket client, String host, int port, int simulatedPort) throws IOException {
        if (isSimulated.test(host)) {
            return Optional.of(new Socket(InetAddress.getLoopbackAddress(), simulatedPort));
        }
        if (isLetThrough.test(host)) {
            return Optional.of(new Socket(host, port));
        }
        refuse(client, host);
        return Optional.empty();
    }

    private void refuse(Socket client, String host) throws IOException {
        synchronized (refused) {
            refused.merge(host, 1, Integer::sum);
        }
        answer(client, "403 Forbidden", "The rehearsal reaches no host but those of the simulated account: " + host);
    }

    private static void answer(Socket client, String status, String text) throws IOException {
        byte[] body = (text + "\n").getBytes(StandardCharsets.UTF_8);
        OutputStream out = client.getOutputStream();
        out.write(("HTTP/1.1 " + status + "\r\nContent-Type: text/plain\r\nContent-Length: " + body.length
                        + "\r\nConnection: close\r\n\r\n")
                .getBytes(StandardCharsets.US_ASCII));
        out.write(body);
        out.flush();
    }

    /** Passes bytes both ways until both sides have ended. */
    private void join(Socket client, Socket to) throws IOException {
        to.setTcpNoDelay(true);
        open.add(to);
        try {
            threads.execute(() -> pass(client, to));
            pass(to, client);
        } finally {
            open.remove(to);
        }
    }

    private static void pass(Socket from, Socket to) {
        try {
            InputStream in = from.getInputStream();
            OutputStream out = to.getOutputStream();
            byte[] piece = new byte[PIECE];
            for (int read = in.read(piece); read >= 0; read = in.read(piece)) {
                out.write(piece, 0, read);
                out.flush();
            }
            to.shutdownOutput();
        } catch (IOException gone) {
            closed(from);
            closed(to);
        }
    }

    private static String head(InputStream in) throws IOException {
        ByteArrayOutputStream head = new ByteArrayOutputStream();
        int last = 0;
        while (head.size() < LONGEST_HEAD) {
            int next = in.read();
            if (next < 0) {
                throw new IOException("the request breaks off");
            }
            head.write(next);
            // Four bytes, of which the last two pairs are line ends.
            last = last << 8 | next;
            if (last == 0x0D0A0D0A) {
                return head.toString(StandardCharsets.ISO_8859_1);
            }
        }
        throw new IOException("the request's head is too long");
    }
}
