package warden.gather.azure.pipeline;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.gather.pipeline.CommandLine;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.ToolCall;

/**
 * Understands calls of the second provider's copy tool. Source: Storage documentation, "azcopy copy", "azcopy sync", "azcopy remove",
 * "Authorize access to blobs with AzCopy and Microsoft Entra ID".
 */
final class CopyTool {
    private static final String SESSION = "azcopy";
    private static final Set<String> FLAGS = Set.of(
            "--recursive",
            "--delete-destination",
            "--overwrite",
            "--put-md5",
            "--dry-run",
            "--no-guess-mime-type",
            "--follow-symlinks",
            "--as-subdir",
            "--service-principal",
            "--identity",
            "--check-length",
            "--mirror-mode");

    private final ToolCall call;
    private final JobContext here;
    private final int line;

    CopyTool(ToolCall call) {
        this.call = call;
        this.here = call.here();
        this.line = call.line();
    }

    /** Adds what a call does; its arguments are those after the program's name. */
    void read(List<PipelineValue> arguments) {
        CommandLine command = CommandLine.of(arguments, FLAGS);
        List<PipelineValue> rest = command.rest();
        String operation = rest.isEmpty() ? "" : rest.get(0).text();
        boolean nothing = rest.isEmpty()
                || command.has("--dry-run")
                || Set.of("jobs", "env", "logout", "doc", "benchmark").contains(operation);
        if (nothing) {
            add(new Operation.Nothing(), session());
            return;
        }
        switch (operation) {
            case "login" -> {
                signIn(command);
                add(new Operation.Nothing(), session());
            }
            case "copy", "cp", "sync" -> copy(command, rest, operation.equals("sync"));
            case "remove", "rm" -> remove(command, rest);
            case "list", "ls" ->
                place(rest, 1)
                        .ifPresentOrElse(
                                url -> add(
                                        new Operation.Fetch(url.target(), Optional.empty(), true, false),
                                        credential(url, rest.get(1))),
                                this::unclear);
            default -> unclear();
        }
    }

    private void copy(CommandLine command, List<PipelineValue> rest, boolean isSync) {
        Optional<AzureStorageUrl> from = place(rest, 1);
        Optional<AzureStorageUrl> to = place(rest, 2);
        if (to.isEmpty() && from.isPresent()) {
            add(
                    new Operation.Fetch(from.get().target(), Optional.empty(), true, false),
                    credential(from.get(), rest.get(1)));
        } else if (to.isEmpty()) {
            unclear();
        } else if (from.isPresent()) {
            add(
                    new Operation.Fetch(
                            from.get().target(), Optional.of(to.get().target()), true, false),
                    credential(to.get(), rest.get(2)));
        } else {
            String overwrite = command.text("--overwrite").orElse("true");
            boolean deletes = isSync
                    && command.text("--delete-destination")
                            .filter(word -> !word.equalsIgnoreCase("false"))
                            .isPresent();
            // What is written over in any case need not be looked at first.
            boolean lists = isSync || !overwrite.equalsIgnoreCase("true");
            boolean many = isSync
                    || command.has("--recursive")
                    || rest.get(1).text().contains("*")
                    || rest.get(1).text().endsWith("/");
            Operation upload = new Operation.Upload(
                    folder(rest.get(1)),
                    to.get().target(),
                    many,
                    lists,
                    deletes,
                    Optional.empty(),
                    command.text("--cache-control"),
                    AzureCommands.filters(command),
                    Optional.empty());
            add(upload, credential(to.get(), rest.get(2)));
        }
    }

    /** All that is in a folder is named by a star. */
    private static PipelineValue folder(PipelineValue source) {
        return source.text().endsWith("/*")
                ? new PipelineValue(source.text().substring(0, source.text().length() - 2), source.open())
                : source;
    }

    private void remove(CommandLine command, List<PipelineValue> rest) {
        place(rest, 1)
                .ifPresentOrElse(
                        url -> add(
                                new Operation.Remove(url.target(), command.has("--recursive")),
                                credential(url, rest.get(1))),
                        this::unclear);
    }

    private static Optional<AzureStorageUrl> place(List<PipelineValue> rest, int index) {
        return index < rest.size() && AzureStorageUrl.isOne(rest.get(index))
                ? Optional.of(AzureStorageUrl.parse(rest.get(index)))
                : Optional.empty();
    }

    private void unclear() {
        boolean isVariable = call.spelled().contains("$");
        add(
                new Operation.NotUnderstood(
                        isVariable
                                ? "where it copies to is known only to the running pipeline"
                                : "what this call of a storage client does is not clear"),
                session());
    }

    private void signIn(CommandLine command) {
        if (command.has("--identity")) {
            use(
                    Kind.MANAGED_IDENTITY,
                    command.valueOf("--identity-client-id", "--identity-object-id", "--identity-resource-id"));
        } else if (command.has("--service-principal")) {
            use(
                    command.has("--certificate-path") ? Kind.PRINCIPAL_BY_CERTIFICATE : Kind.PRINCIPAL_BY_PASSWORD,
                    command.value("--application-id"));
        }
    }

    private void use(Kind kind, Optional<PipelineValue> who) {
        call.job().signIn(SESSION, AzureAuthentication.principal(kind, who, line));
    }

    private Optional<CredentialUse> credential(AzureStorageUrl url, PipelineValue word) {
        return url.signature().isPresent()
                ? Optional.of(AzureAuthentication.held(url.signature().get(), word, line))
                : session();
    }

    /** The tool signs in by itself as a variable says. */
    private Optional<CredentialUse> session() {
        String type = AzureAuthentication.variable(here, "AZCOPY_AUTO_LOGIN_TYPE")
                .map(PipelineValue::text)
                .orElse("");
        return switch (type.toUpperCase(java.util.Locale.ROOT)) {
            case "SPN" ->
                Optional.of(AzureAuthentication.principal(
                        AzureAuthentication.variable(here, "AZCOPY_SPA_CERT_PATH")
                                        .isPresent()
                                ? Kind.PRINCIPAL_BY_CERTIFICATE
                                : Kind.PRINCIPAL_BY_PASSWORD,
                        AzureAuthentication.variable(here, "AZCOPY_SPA_APPLICATION_ID"),
                        line));
            case "MSI" ->
                Optional.of(AzureAuthentication.principal(
                        Kind.MANAGED_IDENTITY,
                        AzureAuthentication.variable(here, "AZCOPY_MSI_CLIENT_ID")
                                .or(() -> AzureAuthentication.variable(here, "AZCOPY_MSI_RESOURCE_STRING")),
                        line));
            case "WORKLOAD" ->
                Optional.of(AzureAuthentication.principal(
                        Kind.PRINCIPAL_BY_TOKEN, AzureAuthentication.variable(here, "AZURE_CLIENT_ID"), line));
            case "AZCLI" -> here.signedIn(AzureAuthentication.CLI);
            case "PSCRED" -> here.signedIn(AzureAuthentication.POWERSHELL);
            default -> here.signedIn(SESSION);
        };
    }

    private void add(Operation operation, Optional<CredentialUse> use) {
        call.add(operation, use, AzureAuthentication.PROVIDER);
    }
}
