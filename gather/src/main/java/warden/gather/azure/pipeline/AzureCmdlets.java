package warden.gather.azure.pipeline;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.Cmdlets;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.PowerShellReader;
import warden.gather.pipeline.PowerShellReader.Statement;
import warden.gather.pipeline.PowerShellReader.Word;
import warden.gather.pipeline.PowerShellWords;

/**
 * The second provider's cmdlets for storage and edges. Source: Azure PowerShell reference, modules Az.Accounts, Az.Storage, Az.Cdn.
 */
final class AzureCmdlets implements Cmdlets {
    /** No expression that gives a storage context is as long. */
    private static final int LONGEST_CONTEXT = 2_000;

    private static final Pattern CACHE_CONTROL = Pattern.compile("(?i)\"?CacheControl\"?\\s*=\\s*[\"']([^\"']*)[\"']");
    private static final Pattern OF_PROVIDER = Pattern.compile("[a-z]+-(az|azurerm)[a-z]*");
    private static final Set<String> SETTINGS = Set.of(
            "set-azcontext",
            "get-azcontext",
            "select-azsubscription",
            "get-azsubscription",
            "disconnect-azaccount",
            "enable-azurermalias",
            "clear-azcontext",
            "get-azaccesstoken");

    private final JobContext job;
    private final PowerShellWords words;
    /** By what blobs are reached, by the variable that holds it in lower case. */
    private final Map<String, StorageContext> contexts = new HashMap<>();

    AzureCmdlets(PowerShellWords words, JobContext job) {
        this.words = words;
        this.job = job;
    }

    /**
     * By what a cmdlet reaches an account's blobs.
     *
     * @param fetchesKey true where it was got by fetching the account's key
     */
    private record StorageContext(PipelineValue account, Optional<CredentialUse> credential, boolean fetchesKey) {}

    @Override
    public boolean isOne(String name) {
        return OF_PROVIDER.matcher(name).matches();
    }

    @Override
    public boolean mayStandIn(String text) {
        return text.toLowerCase(Locale.ROOT).contains("-az");
    }

    @Override
    public void assigned(Statement statement) {
        contextOf(statement.words().get(0), statement.line(), statement.words())
                .ifPresent(context -> contexts.put(statement.assigned(), context));
    }

    @Override
    public void call(Statement statement, Optional<Statement> before) {
        String name = statement.words().get(0).text().toLowerCase(Locale.ROOT);
        Map<String, Word> parameters = PowerShellWords.parameters(statement.words());
        int line = statement.line();
        switch (name) {
            case "connect-azaccount", "add-azaccount", "login-azaccount", "connect-azurermaccount" ->
                signIn(parameters, line);
            case "new-azstoragecontext" -> {}
            case "get-azstorageaccount", "get-azstorageaccountkey" -> {
                boolean asksKey = name.endsWith("key");
                PipelineValue account = words.find(parameters, "accountname", "name", "storageaccountname")
                        .orElse(PipelineValue.open("?", "the storage account"));
                add(
                        new Operation.Call(
                                asksKey ? AzureCommands.LIST_KEYS : AzureCommands.READ_ACCOUNT,
                                AzureCommands.onAccount(account),
                                Optional.empty()),
                        statement,
                        job.signedIn(AzureAuthentication.POWERSHELL));
            }
            case "set-azstorageblobcontent" -> upload(parameters, statement, before);
            case "remove-azstorageblob" ->
                works(
                        parameters,
                        statement,
                        context -> new Operation.Remove(
                                target(context, parameters, "blob"),
                                statement.isPiped() || !parameters.containsKey("blob")));
            case "get-azstorageblob", "get-azstorageblobcontent" ->
                works(
                        parameters,
                        statement,
                        context -> new Operation.Fetch(
                                target(context, parameters, "blob"),
                                Optional.empty(),
                                !parameters.containsKey("blob"),
                                false));
            case "enable-azstoragestaticwebsite", "disable-azstoragestaticwebsite" ->
                works(
                        parameters,
                        statement,
                        context -> new Operation.Call(
                                AzureCommands.CHANGE_SERVICE,
                                AzureCommands.onAccount(context.account()),
                                Optional.empty()));
            case "set-azstorageaccount" ->
                add(
                        new Operation.Call(
                                AzureCommands.CHANGE_ACCOUNT,
                                AzureCommands.onAccount(words.find(parameters, "accountname", "name")
                                        .orElse(PipelineValue.open("?", "the storage account"))),
                                Optional.empty()),
                        statement,
                        job.signedIn(AzureAuthentication.POWERSHELL));
            case "clear-azcdnendpointcontent", "unpublish-azcdnendpointcontent" ->
                purge(parameters, statement, "/endpoints/");
            case "clear-azfrontdoorcdnendpointcontent" -> purge(parameters, statement, "/afdEndpoints/");
            default -> {
                if (!SETTINGS.contains(name)) {
                    add(
                            new Operation.NotUnderstood("which permission "
                                    + statement.words().get(0).text() + " takes is not known"),
                            statement,
                            job.signedIn(AzureAuthentication.POWERSHELL));
                }
            }
        }
    }

    private void signIn(Map<String, Word> parameters, int line) {
        Optional<PipelineValue> who = words.find(parameters, "applicationid", "accountid");
        Kind kind = parameters.containsKey("identity")
                ? Kind.MANAGED_IDENTITY
                : parameters.containsKey("federatedtoken")
                        ? Kind.PRINCIPAL_BY_TOKEN
                        : parameters.containsKey("certificatethumbprint") || parameters.containsKey("certificatepath")
                                ? Kind.PRINCIPAL_BY_CERTIFICATE
                                : Kind.PRINCIPAL_BY_PASSWORD;
        boolean isPrincipal = kind != Kind.PRINCIPAL_BY_PASSWORD || parameters.containsKey("serviceprincipal");
        if (isPrincipal) {
            job.signIn(AzureAuthentication.POWERSHELL, AzureAuthentication.principal(kind, who, line));
        }
    }

    private void purge(Map<String, Word> parameters, Statement statement, String kind) {
        PipelineValue endpoint = PipelineValue.of("profiles/")
                .then(words.find(parameters, "profilename").orElse(PipelineValue.open("?", "the profile")))
                .then(PipelineValue.of(kind))
                .then(words.find(parameters, "endpointname", "name").orElse(PipelineValue.open("?", "the endpoint")));
        add(
                new Operation.Invalidate(endpoint, !parameters.containsKey("nowait")),
                statement,
                job.signedIn(AzureAuthentication.POWERSHELL));
    }

    private void upload(Map<String, Word> parameters, Statement statement, Optional<Statement> before) {
        boolean isMany = statement.isPiped() && !parameters.containsKey("blob");
        PipelineValue source = words.find(parameters, "file")
                .filter(file -> file.isKnown() && !file.text().startsWith("$"))
                .or(() -> before.filter(each -> isMany).map(this::listedFolder))
                .orElse(PipelineValue.open("?", "what is handed to it"));
        works(
                parameters,
                statement,
                context -> new Operation.Upload(
                        source,
                        target(context, parameters, "blob"),
                        isMany,
                        false,
                        false,
                        Optional.empty(),
                        cacheControl(parameters),
                        List.of(),
                        Optional.empty()));
    }

    private PipelineValue listedFolder(Statement listing) {
        String name = listing.words().get(0).text().toLowerCase(Locale.ROOT);
        if (!Set.of("get-childitem", "gci", "dir", "ls").contains(name)) {
            return PipelineValue.open("?", "what is handed to it");
        }
        return words.find(PowerShellWords.parameters(listing.words()), "path", "literalpath")
                .or(() -> listing.words().stream()
                        .skip(1)
                        .filter(word -> !word.text().startsWith("-"))
                        .findFirst()
                        .map(words::value))
                .orElse(PipelineValue.of("."));
    }

    private static Optional<String> cacheControl(Map<String, Word> parameters) {
        Word properties = parameters.get("properties");
        Matcher control = CACHE_CONTROL.matcher(properties == null ? "" : properties.text());
        return control.find() ? Optional.of(control.group(1)) : Optional.empty();
    }

    private Target target(StorageContext context, Map<String, Word> parameters, String blob) {
        return new Target(
                context.account(),
                words.find(parameters, "container", "containername").orElse(PipelineValue.open("?", "the container")),
                words.find(parameters, blob).orElse(PipelineValue.of("")));
    }

    private void works(
            Map<String, Word> parameters, Statement statement, Function<StorageContext, Operation> operation) {
        Word given = parameters.get("context");
        Optional<StorageContext> known = given == null
                ? Optional.empty()
                : given.inside().isPresent()
                        ? contextOf(given, statement.line(), List.of(given))
                        : Optional.ofNullable(contexts.get(
                                given.text().replaceFirst("^\\$", "").toLowerCase(Locale.ROOT)));
        StorageContext context = known.orElse(
                new StorageContext(PipelineValue.open("?", "the storage account"), Optional.empty(), false));
        if (context.fetchesKey()) {
            for (String action : List.of(AzureCommands.READ_ACCOUNT, AzureCommands.LIST_KEYS)) {
                add(
                        new Operation.Call(action, AzureCommands.onAccount(context.account()), Optional.empty()),
                        statement,
                        job.signedIn(AzureAuthentication.POWERSHELL));
            }
        }
        add(operation.apply(context), statement, context.credential());
    }

    /** Returns by what blobs are reached that an expression gives; absent for other expressions. */
    private Optional<StorageContext> contextOf(Word first, int line, List<Word> all) {
        if (first.inside().isPresent()) {
            if (first.inside().get().length() > LONGEST_CONTEXT) {
                return Optional.empty();
            }
            List<Statement> inner = PowerShellReader.read(first.inside().get(), line);
            List<Word> own = inner.isEmpty() ? List.of() : inner.get(0).words();
            boolean isAccount = first.after().equalsIgnoreCase(".Context")
                    && !own.isEmpty()
                    && own.get(0).text().equalsIgnoreCase("Get-AzStorageAccount");
            if (isAccount) {
                return Optional.of(fetched(PowerShellWords.parameters(own), line));
            }
            return own.isEmpty() ? Optional.empty() : contextOf(own.get(0), line, own);
        }
        if (first.text().equalsIgnoreCase("Get-AzStorageAccount")) {
            return Optional.of(fetched(PowerShellWords.parameters(all), line));
        }
        if (first.text().toLowerCase(Locale.ROOT).endsWith(".context")
                && first.text().startsWith("$")) {
            String variable = first.text().substring(1, first.text().length() - ".context".length());
            return Optional.ofNullable(contexts.get(variable.toLowerCase(Locale.ROOT)));
        }
        if (!first.text().equalsIgnoreCase("New-AzStorageContext")) {
            return Optional.empty();
        }
        Map<String, Word> parameters = PowerShellWords.parameters(all);
        PipelineValue account = words.find(parameters, "storageaccountname", "accountname")
                .orElse(PipelineValue.open("?", "the storage account"));
        Optional<PipelineValue> connection = words.find(parameters, "connectionstring");
        if (connection.isPresent()) {
            AzureAuthentication.Mode mode = AzureAuthentication.byConnection(connection.get(), line);
            return Optional.of(new StorageContext(mode.account().orElse(account), mode.credential(), false));
        }
        Optional<PipelineValue> key = words.find(parameters, "storageaccountkey");
        Optional<PipelineValue> signature = words.find(parameters, "sastoken");
        Optional<CredentialUse> credential = key.map(value -> AzureAuthentication.held(Kind.STORE_KEY, value, line))
                .or(() -> signature.map(value -> AzureAuthentication.held(AzureStorageUrl.kindOf(value), value, line)))
                .or(() -> job.signedIn(AzureAuthentication.POWERSHELL));
        return Optional.of(new StorageContext(account, credential, false));
    }

    private StorageContext fetched(Map<String, Word> parameters, int line) {
        return new StorageContext(
                words.find(parameters, "name", "accountname", "storageaccountname")
                        .orElse(PipelineValue.open("?", "the storage account")),
                Optional.of(AzureAuthentication.held(Kind.STORE_KEY, PipelineValue.of("fetched by the command"), line)),
                true);
    }

    private void add(Operation operation, Statement statement, Optional<CredentialUse> use) {
        job.add(operation, statement.line(), statement.spelled(), use, AzureAuthentication.PROVIDER);
    }
}
