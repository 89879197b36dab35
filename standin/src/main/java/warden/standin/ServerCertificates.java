package warden.standin;

import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.KeyStoreException;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;
import javax.net.ssl.ExtendedSSLSession;
import javax.net.ssl.KeyManager;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedKeyManager;
import org.jspecify.annotations.Nullable;

/**
 * The certificates that a simulated server shows: those of one authority, made at the start, for each host that it knows. A host's is made when
 * a client first asks for that host by name, so that an account of thousands of hosts starts as fast as one of three. Made by the Java
 * platform's key tool, since the platform's library cannot make certificates.
 */
public final class ServerCertificates extends X509ExtendedKeyManager {
    private static final String PASSWORD = "stand-in";
    private static final String AUTHORITY = "authority";
    private static final String OWN = "localhost";

    /** A host's key and its certificate with the authority's. */
    private record Shown(PrivateKey key, X509Certificate[] chain) {}

    private final Path folder;
    private final Predicate<String> knows;
    private final Map<String, Shown> byHost = new ConcurrentHashMap<>();

    private ServerCertificates(Path folder, Predicate<String> knows) {
        this.folder = folder;
        this.knows = knows;
    }

    /**
     * Makes the authority and the certificate for {@code localhost}; an authority that an earlier start made in the same folder is taken again
     * while it is valid, so that clients which trust it need not be told anew.
     *
     * @param folder where the keys and the authority's certificate are put
     * @param knows whether visitors of a host, in lower case, would be shown a certificate that fits
     * @throws IOException when the key tool fails
     */
    public static ServerCertificates make(Path folder, Predicate<String> knows) throws IOException {
        ServerCertificates made = new ServerCertificates(folder, knows);
        Path file = folder.resolve(AUTHORITY + ".p12");
        if (!Files.exists(file) || !isValid(load(file))) {
            Files.deleteIfExists(file);
            made.keyTool(file, AUTHORITY, "CN=stand-in authority", "san=dns:" + OWN, "-ext", "bc:c=ca:true");
        }
        KeyStore store = load(file);
        try {
            Files.writeString(
                    made.authority(),
                    "-----BEGIN CERTIFICATE-----\n"
                            + Base64.getMimeEncoder(64, new byte[] {'\n'})
                                    .encodeToString(
                                            store.getCertificate(AUTHORITY).getEncoded())
                            + "\n-----END CERTIFICATE-----\n");
        } catch (GeneralSecurityException broken) {
            throw new IOException("the authority's certificate cannot be read: " + broken.getMessage(), broken);
        }
        // For its own name it shows the authority's, so that a start takes one run of the key tool.
        made.keep(OWN, store, AUTHORITY);
        return made;
    }

    private static boolean isValid(KeyStore store) throws IOException {
        try {
            if (!(store.getCertificate(AUTHORITY) instanceof X509Certificate authority)) {
                return false;
            }
            authority.checkValidity();
            return true;
        } catch (CertificateException past) {
            return false;
        } catch (KeyStoreException broken) {
            throw new IOException("the authority's certificate cannot be read: " + broken.getMessage(), broken);
        }
    }

    /** Returns the file of the authority's certificate, for clients to trust. */
    public Path authority() {
        return folder.resolve(AUTHORITY + ".pem");
    }

    public SSLContext context() throws IOException {
        try {
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(new KeyManager[] {this}, null, null);
            return context;
        } catch (GeneralSecurityException broken) {
            throw new IOException("TLS cannot be had: " + broken.getMessage(), broken);
        }
    }

    private void keyTool(Path store, String alias, String name, String extension, String... more) throws IOException {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                "-genkeypair",
                "-alias",
                alias,
                "-keyalg",
                "EC",
                "-groupname",
                "secp256r1",
                "-validity",
                "30",
                "-dname",
                name,
                "-ext",
                extension,
                "-storetype",
                "PKCS12",
                "-keystore",
                store.toString(),
                "-storepass",
                PASSWORD));
        command.addAll(Arrays.asList(more));
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        try {
            if (process.waitFor() != 0) {
                throw new IOException("the key tool failed: " + said.strip());
            }
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("stopped while making a certificate", stopped);
        }
    }

    private static KeyStore load(Path file) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            KeyStore keys = KeyStore.getInstance("PKCS12");
            keys.load(in, PASSWORD.toCharArray());
            return keys;
        } catch (GeneralSecurityException broken) {
            throw new IOException("a certificate cannot be used: " + broken.getMessage(), broken);
        }
    }

    /** Returns what is shown for a host, and makes it where it was never asked for. */
    private Shown shown(String host) throws IOException {
        Shown known = byHost.get(host);
        if (known != null) {
            return known;
        }
        synchronized (byHost) {
            if (!byHost.containsKey(host)) {
                Path store = Files.createTempFile(folder, "host-", ".p12");
                Files.copy(folder.resolve(AUTHORITY + ".p12"), store, StandardCopyOption.REPLACE_EXISTING);
                keyTool(store, "host", "CN=stand-in", "san=dns:" + host, "-signer", AUTHORITY);
                KeyStore keys = load(store);
                Files.delete(store);
                keep(host, keys, "host");
            }
            return byHost.get(host);
        }
    }

    private void keep(String host, KeyStore keys, String alias) throws IOException {
        try {
            X509Certificate[] chain = Arrays.stream(keys.getCertificateChain(alias))
                    .map(X509Certificate.class::cast)
                    .toArray(X509Certificate[]::new);
            byHost.put(host, new Shown((PrivateKey) keys.getKey(alias, PASSWORD.toCharArray()), chain));
        } catch (GeneralSecurityException broken) {
            throw new IOException("a key cannot be read: " + broken.getMessage(), broken);
        }
    }

    @Override
    public @Nullable String chooseEngineServerAlias(String keyType, Principal @Nullable [] issuers, SSLEngine engine) {
        if (!keyType.startsWith("EC")) {
            return null;
        }
        String host = OWN;
        if (engine.getHandshakeSession() instanceof ExtendedSSLSession session) {
            host = session.getRequestedServerNames().stream()
                    .filter(SNIHostName.class::isInstance)
                    .map(name -> ((SNIHostName) name).getAsciiName().toLowerCase(Locale.ROOT))
                    .filter(knows)
                    .findFirst()
                    .orElse(OWN);
        }
        try {
            shown(host);
            return host;
        } catch (IOException failed) {
            return OWN;
        }
    }

    @Override
    public X509Certificate @Nullable [] getCertificateChain(String alias) {
        Shown shown = byHost.get(alias);
        return shown == null ? null : shown.chain().clone();
    }

    @Override
    public @Nullable PrivateKey getPrivateKey(String alias) {
        Shown shown = byHost.get(alias);
        return shown == null ? null : shown.key();
    }

    @Override
    public String chooseServerAlias(String keyType, Principal @Nullable [] issuers, Socket socket) {
        return OWN;
    }

    @Override
    public String[] getServerAliases(String keyType, Principal @Nullable [] issuers) {
        return new String[] {OWN};
    }

    @Override
    public String[] getClientAliases(String keyType, Principal @Nullable [] issuers) {
        return new String[0];
    }

    @Override
    public @Nullable String chooseClientAlias(String[] types, Principal @Nullable [] issuers, Socket socket) {
        return null;
    }
}
