package warden.gather.azure.pipeline;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.PipelineValue;
import warden.gather.pipeline.CommandLine;
import warden.gather.pipeline.JobContext;

/**
 * By what the second provider's clients work: whom they signed in, or a key, or a signed URL. Source: Storage documentation, "Choose how to
 * authorize access to blob data with Azure CLI"; Azure CLI reference, "az login", "az storage".
 */
final class AzureAuthentication {
    /** The word by which surveys name the provider. */
    static final String PROVIDER = "azure";

    /** The official command line's session. */
    static final String CLI = "az";

    /** The cmdlets' session. */
    static final String POWERSHELL = "powershell";

    private static final Pattern ACCOUNT_NAME = Pattern.compile("(?i)(?:^|;)\\s*AccountName=([^;]+)");

    private AzureAuthentication() {}

    /**
     * How one command works.
     *
     * @param credential absent where the file does not tell
     * @param account the account that a connection string names; absent where none does
     * @param fetchesKey true where the command, being given nothing, fetches the account's key first
     */
    record Mode(Optional<CredentialUse> credential, Optional<PipelineValue> account, boolean fetchesKey) {}

    /** Returns how a command of {@code az storage} works. */
    static Mode of(CommandLine command, JobContext here, int line) {
        Optional<PipelineValue> mode = command.value("--auth-mode").or(() -> variable(here, "AZURE_STORAGE_AUTH_MODE"));
        if (mode.filter(value -> value.text().equalsIgnoreCase("login")).isPresent()) {
            return new Mode(here.signedIn(CLI), Optional.empty(), false);
        }
        if (mode.filter(value -> !value.isKnown()).isPresent()) {
            return new Mode(Optional.empty(), Optional.empty(), false);
        }
        Optional<PipelineValue> connection =
                command.value("--connection-string").or(() -> variable(here, "AZURE_STORAGE_CONNECTION_STRING"));
        if (connection.isPresent()) {
            return byConnection(connection.get(), line);
        }
        Optional<PipelineValue> key = command.value("--account-key").or(() -> variable(here, "AZURE_STORAGE_KEY"));
        if (key.isPresent()) {
            return new Mode(Optional.of(held(Kind.STORE_KEY, key.get(), line)), Optional.empty(), false);
        }
        Optional<PipelineValue> signature =
                command.value("--sas-token").or(() -> variable(here, "AZURE_STORAGE_SAS_TOKEN"));
        return signature.isPresent()
                ? new Mode(
                        Optional.of(held(AzureStorageUrl.kindOf(signature.get()), signature.get(), line)),
                        Optional.empty(),
                        false)
                : new Mode(
                        Optional.of(held(Kind.STORE_KEY, PipelineValue.of("fetched by the command"), line)),
                        Optional.empty(),
                        true);
    }

    /** Returns how a client works that is given a connection string. */
    static Mode byConnection(PipelineValue connection, int line) {
        boolean isSigned = connection.text().contains("SharedAccessSignature=");
        Matcher account = ACCOUNT_NAME.matcher(connection.text());
        return new Mode(
                Optional.of(held(
                        isSigned
                                ? AzureStorageUrl.kindOf(new PipelineValue(
                                        connection.text().replaceFirst("(?s).*SharedAccessSignature=", "?"),
                                        connection.open()))
                                : Kind.STORE_KEY,
                        connection,
                        line)),
                account.find() && account.group(1).indexOf('$') < 0
                        ? Optional.of(PipelineValue.of(account.group(1).strip()))
                        : Optional.empty(),
                false);
    }

    /** A key or signature is named by what holds it; one that the file itself spells has no name. */
    static CredentialUse held(Kind kind, PipelineValue secret, int line) {
        PipelineValue name = secret.isKnown()
                ? PipelineValue.of(secret.text().startsWith("fetched") ? secret.text() : "in the file")
                : new PipelineValue(String.join(", ", secret.open()), secret.open());
        return new CredentialUse(kind, name, Optional.empty(), line);
    }

    /** Returns a principal that signs in. */
    static CredentialUse principal(Kind kind, Optional<PipelineValue> name, int line) {
        return new CredentialUse(kind, name.orElse(PipelineValue.open("?", "the principal")), Optional.empty(), line);
    }

    static Optional<PipelineValue> variable(JobContext here, String name) {
        return here.scope().variable(name).filter(value -> !value.text().isEmpty());
    }
}
