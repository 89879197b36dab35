package warden.gather.aws;

import java.net.ConnectException;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.UnknownHostException;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import javax.net.ssl.SSLException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.profiles.Profile;
import software.amazon.awssdk.profiles.ProfileFile;
import warden.core.document.DisplayText;
import warden.gather.live.LiveException;

/** Says in one sentence of one's own why an account cannot be reached, whatever the provider's library says. */
final class Unreachable {
    private static final String NONE_FOUND =
            "no credentials were found; set a profile with --profile, or the usual environment variables";
    private static final Pattern TRIES = Pattern.compile("Attempt Count: ([0-9]{1,3})");

    private final LiveSettings settings;
    private final Map<String, String> environment;

    Unreachable(LiveSettings settings, Map<String, String> environment) {
        this.settings = settings;
        this.environment = environment;
    }

    LiveException because(SdkException failed) {
        String said = everything(failed);
        return new LiveException(isAboutCredentials(said) ? credentials() : network(failed, said));
    }

    /** What the failure and its causes say. */
    private static String everything(Throwable failed) {
        StringBuilder all = new StringBuilder();
        for (Throwable at = failed; at != null; at = at.getCause()) {
            all.append(at.getMessage()).append('\n');
        }
        return all.toString();
    }

    private static boolean isAboutCredentials(String said) {
        return said.contains("credentials")
                || said.contains("Credentials")
                || said.contains("SSO")
                || said.contains("sso");
    }

    /** The library tries one source of credentials after the other and tells of them all; which was meant, the profile shows. */
    private String credentials() {
        Optional<String> named = settings.profile().or(() -> Optional.ofNullable(environment.get("AWS_PROFILE")));
        String name = named.orElse("default");
        String shown = DisplayText.name(name);
        Optional<Profile> profile = profile(name);
        if (profile.isEmpty()) {
            return named.isPresent()
                    ? "the configuration files hold no profile " + shown + "; name another with --profile"
                    : NONE_FOUND;
        }
        if (profile.get().property("credential_process").isPresent()) {
            return "the credential process of the profile " + shown
                    + " failed or gave no credentials; run its command by hand to see why";
        }
        if (profile.get().property("sso_session").isPresent()
                || profile.get().property("sso_start_url").isPresent()) {
            return "the single sign-on of the profile " + shown
                    + " has ended or was never made; sign in with \"aws sso login --profile " + shown + "\"";
        }
        if (profile.get().property("role_arn").isPresent()) {
            return "the role of the profile " + shown
                    + " cannot be assumed; check its role_arn and source_profile, and what the source may do";
        }
        return named.isPresent()
                ? "the profile " + shown + " holds no credentials; name another with --profile"
                : NONE_FOUND;
    }

    private static Optional<Profile> profile(String name) {
        try {
            return ProfileFile.defaultProfileFile().profile(name);
        } catch (IllegalArgumentException | IllegalStateException malformed) {
            return Optional.empty();
        }
    }

    private String network(SdkException failed, String said) {
        Optional<Throwable> cause = Stream.iterate((Throwable) failed, at -> at != null, Throwable::getCause)
                .filter(at -> at instanceof java.io.IOException)
                .reduce((outer, inner) -> inner);
        String what = cause.map(this::what).orElse("the call failed before an answer came");
        Matcher tries = TRIES.matcher(said);
        String often = tries.find() && !tries.group(1).equals("1") ? ", tried " + tries.group(1) + " times" : "";
        return "the account cannot be reached (" + what + often + through()
                + "); check the network, --endpoint and --region";
    }

    private String what(Throwable cause) {
        if (cause instanceof UnknownHostException) {
            return "the endpoint's name is not known";
        }
        if (cause instanceof ConnectException || cause instanceof NoRouteToHostException) {
            return "nothing answers at the endpoint's address and port: connection refused";
        }
        if (cause instanceof SocketTimeoutException) {
            boolean tls = settings.endpoint()
                    .filter(address -> address.startsWith("https:"))
                    .isPresent();
            return "the endpoint takes the connection and does not answer"
                    + (tls ? "; if it speaks no TLS, name it with http://" : "");
        }
        if (cause instanceof SSLException) {
            String said = String.valueOf(cause.getMessage());
            return said.contains("PKIX") || said.contains("certificate")
                    ? "the endpoint's certificate is not trusted by this machine's Java"
                    : "the endpoint does not speak TLS; is it http:// and not https://?";
        }
        return "the connection broke off";
    }

    /** A proxy is easily forgotten, and is what could not be reached then. */
    private String through() {
        boolean plain = settings.endpoint()
                .filter(address -> address.startsWith("http:"))
                .isPresent();
        Optional<String> proxy = Stream.of(plain ? "HTTP_PROXY" : "HTTPS_PROXY", plain ? "http_proxy" : "https_proxy")
                .map(environment::get)
                .filter(value -> value != null && !value.isBlank())
                .findFirst();
        return proxy.map(address ->
                        ", through the proxy " + DisplayText.name(withoutUser(address)) + " of the environment")
                .orElse("");
    }

    private static String withoutUser(String address) {
        try {
            URI uri = URI.create(address);
            return uri.getHost() == null ? "that" : uri.getHost() + (uri.getPort() < 0 ? "" : ":" + uri.getPort());
        } catch (IllegalArgumentException none) {
            return "that";
        }
    }
}
