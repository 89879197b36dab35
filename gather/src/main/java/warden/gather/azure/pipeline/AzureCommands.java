package warden.gather.azure.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.algebra.Glob;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Operation.Filter;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.CommandLine;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.StorageClients;
import warden.gather.pipeline.ToolCall;

/**
 * Understands calls of the second provider's official command line. Source: Azure CLI reference, "az login", "az storage blob", "az storage
 * account", "az cdn endpoint", "az afd endpoint".
 */
final class AzureCommands {
    private static final String STORAGE = "Microsoft.Storage/storageAccounts/";
    private static final String CONTAINERS = STORAGE + "blobServices/containers/";
    static final String READ_BLOBS = CONTAINERS + "blobs/read";
    static final String READ_ACCOUNT = STORAGE + "read";
    static final String LIST_KEYS = STORAGE + "listKeys/action";
    static final String CHANGE_ACCOUNT = STORAGE + "write";
    static final String CHANGE_SERVICE = STORAGE + "blobServices/write";
    static final PipelineValue SUBSCRIPTION = PipelineValue.of("subscription");

    static final Set<String> FLAGS = Set.of(
            "--service-principal",
            "--identity",
            "-i",
            "--allow-no-subscriptions",
            "--use-device-code",
            "--use-cert-sn-issuer",
            "--overwrite",
            "--delete-destination",
            "--no-progress",
            "--no-wait",
            "--only-show-errors",
            "--dryrun",
            "--recursive",
            "--static-website",
            "--validate-content",
            "--as-user",
            "--full-uri",
            "--yes",
            "-y",
            "--debug",
            "--verbose",
            "--help",
            "-h",
            "--put-md5",
            "--follow-symlinks");

    /** What sets the tool up, or asks it about itself. */
    private static final Set<String> HARMLESS =
            Set.of("account", "version", "config", "configure", "extension", "cloud", "upgrade", "logout", "bicep");

    /** Operations on accounts and their services, and the action that each takes. */
    private static final Map<String, String> ACCOUNT_ACTIONS = Map.of(
            "account show", READ_ACCOUNT,
            "account update", CHANGE_ACCOUNT,
            "account create", CHANGE_ACCOUNT,
            "account delete", STORAGE + "delete",
            "account keys list", LIST_KEYS,
            "account keys renew", STORAGE + "regenerateKey/action",
            "account show-connection-string", LIST_KEYS,
            "account blob-service-properties show", STORAGE + "blobServices/read",
            "account blob-service-properties update", CHANGE_SERVICE);

    private final ToolCall call;
    private final JobContext here;
    private final int line;

    AzureCommands(ToolCall call) {
        this.call = call;
        this.here = call.here();
        this.line = call.line();
    }

    /** Adds what a call does; its arguments are those after the program's name. */
    void read(List<PipelineValue> arguments) {
        CommandLine command = CommandLine.of(arguments, FLAGS);
        List<String> words = command.rest().stream().map(PipelineValue::text).toList();
        String group = words.isEmpty() ? "" : words.get(0);
        if (words.isEmpty() || HARMLESS.contains(group) || command.has("--dryrun") || command.has("--help")) {
            add(new Operation.Nothing(), here.signedIn(AzureAuthentication.CLI));
        } else if (group.equals("login")) {
            signIn(command);
            add(new Operation.Nothing(), here.signedIn(AzureAuthentication.CLI));
        } else if (group.equals("storage")) {
            storage(command, words.subList(1, words.size()));
        } else if ((group.equals("cdn") || group.equals("afd")) && words.contains("purge")) {
            add(
                    new Operation.Invalidate(endpoint(command, group.equals("afd")), !command.has("--no-wait")),
                    signedIn());
        } else {
            add(notKnown(words), signedIn());
        }
    }

    private Optional<CredentialUse> signedIn() {
        return here.signedIn(AzureAuthentication.CLI);
    }

    private void signIn(CommandLine command) {
        Optional<PipelineValue> who =
                command.valueOf("-u", "--username", "--client-id", "--resource-id", "--object-id");
        if (command.has("--identity") || command.has("-i")) {
            use(Kind.MANAGED_IDENTITY, who);
        } else if (command.has("--service-principal")) {
            Optional<PipelineValue> secret = command.valueOf("-p", "--password", "--client-secret");
            boolean isFile = command.has("--certificate")
                    || secret.filter(value -> value.text().matches("(?i).*\\.(pem|pfx|p12)"))
                            .isPresent();
            use(
                    command.has("--federated-token")
                            ? Kind.PRINCIPAL_BY_TOKEN
                            : isFile ? Kind.PRINCIPAL_BY_CERTIFICATE : Kind.PRINCIPAL_BY_PASSWORD,
                    who);
        }
    }

    private void use(Kind kind, Optional<PipelineValue> who) {
        call.job().signIn(AzureAuthentication.CLI, AzureAuthentication.principal(kind, who, line));
    }

    /** Returns the end of the endpoint's resource id. */
    static PipelineValue endpoint(CommandLine command, boolean isFrontDoor) {
        Optional<PipelineValue> id = command.value("--ids");
        if (id.isPresent()) {
            int at = id.get().text().indexOf("profiles/");
            return at < 0
                    ? id.get()
                    : new PipelineValue(id.get().text().substring(at), id.get().open());
        }
        return endpoint(
                command.valueOf("--profile-name", "-ProfileName"),
                command.valueOf("--endpoint-name", "--name", "-n", "-EndpointName", "-Name"),
                isFrontDoor);
    }

    private static PipelineValue endpoint(
            Optional<PipelineValue> profile, Optional<PipelineValue> name, boolean isFrontDoor) {
        return PipelineValue.of("profiles/")
                .then(profile.orElse(PipelineValue.open("?", "the profile")))
                .then(PipelineValue.of(isFrontDoor ? "/afdEndpoints/" : "/endpoints/"))
                .then(name.orElse(PipelineValue.open("?", "the endpoint")));
    }

    private void storage(CommandLine command, List<String> words) {
        String called = String.join(" ", words);
        Optional<String> action = ACCOUNT_ACTIONS.entrySet().stream()
                .filter(entry -> called.equals(entry.getKey()))
                .map(Map.Entry::getValue)
                .findFirst();
        if (action.isPresent()) {
            PipelineValue account = command.valueOf("--account-name", "--name", "-n")
                    .orElse(PipelineValue.open("?", "the storage account"));
            add(new Operation.Call(action.get(), onAccount(account), Optional.empty()), signedIn());
            return;
        }
        if (called.equals("account list") || called.equals("account check-name")) {
            add(new Operation.Call(READ_ACCOUNT, SUBSCRIPTION, Optional.empty()), signedIn());
            return;
        }
        Optional<Operation> operation = data(command, words);
        if (operation.isEmpty()) {
            List<String> all = new ArrayList<>(List.of("storage"));
            all.addAll(words);
            add(notKnown(all), signedIn());
            return;
        }
        works(operation.get(), command);
    }

    /** Adds a step that works with blobs, behind those by which the command fetches a key. */
    private void works(Operation operation, CommandLine command) {
        Optional<PipelineValue> url = url(command);
        Optional<Kind> signature =
                url.flatMap(value -> AzureStorageUrl.parse(value).signature());
        AzureAuthentication.Mode mode = AzureAuthentication.of(command, here, line);
        if (signature.isPresent()) {
            add(operation, Optional.of(AzureAuthentication.held(signature.get(), url.orElseThrow(), line)));
            return;
        }
        if (mode.fetchesKey()) {
            add(new Operation.Call(READ_ACCOUNT, SUBSCRIPTION, Optional.empty()), signedIn());
            add(new Operation.Call(LIST_KEYS, onAccount(target(command, "").account()), Optional.empty()), signedIn());
        }
        add(operation, mode.credential());
    }

    static PipelineValue onAccount(PipelineValue account) {
        return PipelineValue.of("storageAccounts/").then(account);
    }

    private static Optional<PipelineValue> url(CommandLine command) {
        return command.valueOf("--blob-url", "--destination", "-d", "--source", "-s")
                .filter(AzureStorageUrl::isOne);
    }

    private Optional<Operation> data(CommandLine command, List<String> words) {
        String called = String.join(" ", words);
        return switch (called) {
            case "blob upload" ->
                Optional.of(upload(
                        command.valueOf("--file", "-f").orElse(PipelineValue.open("?", "what is piped in")),
                        target(command, "--name"),
                        false,
                        false,
                        false,
                        command));
            case "blob upload-batch" ->
                Optional.of(upload(source(command), batch(command), true, false, false, command));
            case "blob sync" ->
                Optional.of(upload(
                        source(command),
                        synced(command),
                        true,
                        true,
                        command.text("--delete-destination")
                                .filter("false"::equalsIgnoreCase)
                                .isEmpty(),
                        command));
            case "blob delete" -> Optional.of(new Operation.Remove(target(command, "--name"), false));
            case "blob delete-batch" -> Optional.of(new Operation.Remove(batch(command), true));
            case "blob list", "blob show", "blob exists", "blob metadata show", "blob download" ->
                Optional.of(new Operation.Fetch(target(command, "--name"), Optional.empty(), false, false));
            case "blob download-batch" ->
                Optional.of(new Operation.Fetch(batch(command), Optional.empty(), true, false));
            case "blob service-properties update" ->
                Optional.of(new Operation.Call(
                        CHANGE_SERVICE, onAccount(target(command, "").account()), Optional.empty()));
            case "blob service-properties show" ->
                Optional.of(new Operation.Call(
                        STORAGE + "blobServices/read",
                        onAccount(target(command, "").account()),
                        Optional.empty()));
            case "container create", "container set-permission" ->
                Optional.of(new Operation.Call(
                        CONTAINERS + "write", onAccount(target(command, "").account()), Optional.empty()));
            case "container list", "container show", "container exists", "container show-permission" ->
                Optional.of(new Operation.Call(
                        CONTAINERS + "read", onAccount(target(command, "").account()), Optional.empty()));
            case "copy" -> copied(command);
            default -> Optional.empty();
        };
    }

    private Optional<Operation> copied(CommandLine command) {
        Optional<PipelineValue> to = command.valueOf("--destination", "-d").filter(AzureStorageUrl::isOne);
        PipelineValue from = command.valueOf("--source", "-s").orElse(PipelineValue.of("."));
        return to.map(AzureStorageUrl::parse)
                .map(url -> upload(from, url.target(), command.has("--recursive"), false, false, command));
    }

    private static PipelineValue source(CommandLine command) {
        return command.valueOf("--source", "-s").orElse(PipelineValue.of("."));
    }

    private PipelineValue account(CommandLine command) {
        return command.value("--account-name")
                .or(() -> AzureAuthentication.of(command, here, line).account())
                .or(() -> AzureAuthentication.variable(here, "AZURE_STORAGE_ACCOUNT"))
                .or(() -> command.value("--blob-endpoint")
                        .map(AzureStorageUrl::parse)
                        .map(url -> url.target().account()))
                .orElse(PipelineValue.open("?", "the storage account"));
    }

    /** Where a command works that names its container and a blob. */
    private Target target(CommandLine command, String name) {
        Optional<PipelineValue> url = command.value("--blob-url");
        if (url.isPresent()) {
            return AzureStorageUrl.parse(url.get()).target();
        }
        return new Target(
                account(command),
                command.valueOf("--container-name", "--container", "-c")
                        .orElse(PipelineValue.open("?", "the container")),
                name.isEmpty()
                        ? PipelineValue.of("")
                        : command.valueOf("--name", "-n").orElse(PipelineValue.of("")));
    }

    /** Where a batch works: by the name of a container with a path, or by its address. */
    private Target batch(CommandLine command) {
        boolean uploads = command.rest().stream().anyMatch(word -> word.text().equals("upload-batch"));
        PipelineValue place = (uploads ? command.valueOf("--destination", "-d") : command.valueOf("--source", "-s"))
                .orElse(PipelineValue.open("?", "the container"));
        if (AzureStorageUrl.isOne(place)) {
            return AzureStorageUrl.parse(place).target();
        }
        Target path = Target.ofPath(place);
        PipelineValue below = command.value("--destination-path").orElse(PipelineValue.of(""));
        return new Target(
                account(command),
                path.bucket(),
                path.prefix().text().isEmpty() ? below : path.prefix().then(below));
    }

    private Target synced(CommandLine command) {
        return new Target(
                account(command),
                command.valueOf("--container", "-c").orElse(PipelineValue.open("?", "the container")),
                command.valueOf("--destination", "-d").orElse(PipelineValue.of("")));
    }

    private static Operation upload(
            PipelineValue source, Target target, boolean many, boolean lists, boolean deletes, CommandLine command) {
        return StorageClients.upload(
                source,
                target,
                many,
                lists,
                deletes,
                Optional.empty(),
                command.valueOf("--content-cache-control", "--content-cache", "--cache-control")
                        .map(PipelineValue::text),
                filters(command));
    }

    /** Patterns of a batch take what matches only; those of a comparison name what is left out, or taken alone, apart by semicolons. */
    static List<Filter> filters(CommandLine command) {
        List<Filter> filters = new ArrayList<>();
        command.valueOf("--pattern", "--include-pattern").ifPresent(patterns -> {
            filters.add(new Filter(false, Glob.parse("*")));
            each(patterns.text()).forEach(pattern -> filters.add(new Filter(true, Glob.parse(pattern))));
        });
        command.value("--exclude-pattern")
                .ifPresent(patterns -> each(patterns.text()).forEach(pattern -> {
                    filters.add(new Filter(false, Glob.parse(pattern)));
                    filters.add(new Filter(false, Glob.parse("*/" + pattern)));
                }));
        command.value("--exclude-path").ifPresent(paths -> each(paths.text()).forEach(path -> {
            filters.add(new Filter(false, Glob.parse(path)));
            filters.add(new Filter(false, Glob.parse(path.replaceAll("/+$", "") + "/*")));
        }));
        return filters;
    }

    private static List<String> each(String patterns) {
        return List.of(patterns.split(";")).stream()
                .filter(pattern -> !pattern.isBlank())
                .toList();
    }

    private static Operation notKnown(List<String> words) {
        return new Operation.NotUnderstood("which permission \"az "
                + String.join(" ", words.stream().limit(3).toList()).toLowerCase(Locale.ROOT)
                + "\" takes is not known");
    }

    private void add(Operation operation, Optional<CredentialUse> use) {
        call.add(operation, use, AzureAuthentication.PROVIDER);
    }
}
