package warden.gather.azure.pipeline;

import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;

/**
 * The address of a container or blob, and what it is signed with. Source: Storage documentation, "Naming and referencing containers, blobs,
 * and metadata", "Create a service SAS", "Create an account SAS", "Create a user delegation SAS".
 *
 * @param signature absent where the address carries none
 */
record AzureStorageUrl(Target target, Optional<Kind> signature) {
    private static final Pattern SCHEME = Pattern.compile("(?i)https?://");
    private static final String WEB = "$web";

    /** True for a word that is such an address. */
    static boolean isOne(PipelineValue word) {
        String text = word.text().toLowerCase(Locale.ROOT);
        return SCHEME.matcher(text).lookingAt() && (text.contains(".blob.") || text.contains(WEB));
    }

    /** Takes an address apart: {@code https://ACCOUNT.blob.core.windows.net/CONTAINER/PREFIX?SIGNATURE}. */
    static AzureStorageUrl parse(PipelineValue word) {
        PipelineValue rest = new PipelineValue(SCHEME.matcher(word.text()).replaceFirst(""), word.open());
        Target host = Target.ofPath(rest);
        String path = host.prefix().text();
        int query = path.indexOf('?');
        // A signature that a variable holds is often put behind without anything between.
        int glued = path.startsWith(WEB + "$") ? WEB.length() : -1;
        int end = query >= 0 ? query : glued >= 0 ? glued : path.length();
        Target within = Target.ofPath(
                new PipelineValue(path.substring(0, end), host.prefix().open()));
        String signed = path.substring(end);
        boolean isOpen = signed.indexOf('$') >= 0;
        Optional<Kind> signature =
                signed.contains("sig=") || isOpen ? Optional.of(kindOf(PipelineValue.of(signed))) : Optional.empty();
        String account = host.bucket().text();
        int dot = account.indexOf('.');
        return new AzureStorageUrl(
                new Target(
                        new PipelineValue(
                                dot < 0 ? account : account.substring(0, dot),
                                host.bucket().open()),
                        within.bucket(),
                        within.prefix()),
                signature);
    }

    /** Returns by what a signature is made, as far as its text tells. */
    static Kind kindOf(PipelineValue signature) {
        String text = signature.text();
        if (text.matches("(?s).*(^|[?&])skoid=.*")) {
            return Kind.SIGNED_BY_PRINCIPAL;
        }
        return text.matches("(?s).*(^|[?&])(ss|srt|sr)=.*") ? Kind.SIGNED_BY_KEY : Kind.SIGNED;
    }
}
