package warden.standin;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.site.AwsCloud;

/**
 * The certificate that the simulated edges show: for the CDN's own names, and for those hosts that the surveyed certificates cover. It
 * is its own authority. Made by the Java platform's key tool, since the platform's library cannot make certificates.
 */
record EdgeCertificate(Path file, SSLContext context) {
    private static final String PASSWORD = "stand-in";

    /** Returns the hosts for which visitors would be shown a certificate that fits. */
    static Set<String> hosts(AwsCloud cloud) {
        Set<String> hosts = new LinkedHashSet<>(List.of("localhost"));
        for (Account account : cloud.accounts()) {
            for (Distribution distribution : account.distributions()) {
                if (!distribution.domain().isEmpty()) {
                    hosts.add(distribution.domain());
                }
                distribution
                        .certificate()
                        .managed()
                        .flatMap(arn -> account.certificate(arn).found())
                        .ifPresent(certificate -> distribution.aliases().stream()
                                .filter(alias -> covers(certificate, alias))
                                .forEach(hosts::add));
            }
            account.buckets().stream()
                    .filter(bucket -> bucket.name().indexOf('.') < 0)
                    .forEach(bucket -> bucket.region()
                            .found()
                            .ifPresent(region -> hosts.add(bucket.name() + ".s3." + region + ".amazonaws.com")));
            account.buckets()
                    .forEach(bucket ->
                            bucket.region().found().ifPresent(region -> hosts.add("s3." + region + ".amazonaws.com")));
        }
        return hosts;
    }

    private static boolean covers(Certificate certificate, String alias) {
        return certificate.covers(alias) || certificate.names().contains(alias);
    }

    static EdgeCertificate make(Path folder, Set<String> hosts) throws IOException {
        Path store = folder.resolve("edge.p12");
        List<String> names = new ArrayList<>();
        hosts.forEach(host -> names.add("dns:" + host));
        Path tool = Path.of(System.getProperty("java.home"), "bin", "keytool");
        List<String> command = List.of(
                tool.toString(),
                "-genkeypair",
                "-alias",
                "edge",
                "-keyalg",
                "EC",
                "-groupname",
                "secp256r1",
                "-validity",
                "30",
                "-dname",
                "CN=stand-in edge",
                "-ext",
                "san=" + String.join(",", names),
                "-ext",
                "bc:c=ca:true",
                "-storetype",
                "PKCS12",
                "-keystore",
                store.toString(),
                "-storepass",
                PASSWORD);
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        try {
            if (process.waitFor() != 0) {
                throw new IOException("the key tool failed: " + said.strip());
            }
            KeyStore keys = KeyStore.getInstance("PKCS12");
            try (InputStream in = Files.newInputStream(store)) {
                keys.load(in, PASSWORD.toCharArray());
            }
            Path file = folder.resolve("authority.pem");
            Files.writeString(
                    file,
                    "-----BEGIN CERTIFICATE-----\n"
                            + Base64.getMimeEncoder(64, new byte[] {'\n'})
                                    .encodeToString(keys.getCertificate("edge").getEncoded())
                            + "\n-----END CERTIFICATE-----\n");
            KeyManagerFactory managers = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
            managers.init(keys, PASSWORD.toCharArray());
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(managers.getKeyManagers(), null, null);
            return new EdgeCertificate(file, context);
        } catch (GeneralSecurityException broken) {
            throw new IOException("the certificate cannot be used: " + broken.getMessage(), broken);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("stopped while making the certificate", stopped);
        }
    }
}
