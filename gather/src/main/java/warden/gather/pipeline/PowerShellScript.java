package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.PowerShellReader.Statement;
import warden.gather.pipeline.PowerShellReader.Word;

/**
 * Understands PowerShell scripts: the second provider's cmdlets for storage and edges, and other programs as any script's. Source: Azure
 * PowerShell reference, modules Az.Accounts, Az.Storage, Az.Cdn.
 */
final class PowerShellScript {
    /** The session of these cmdlets. */
    static final String SESSION = "powershell";

    private static final int DEEPEST = 20;
    /** No expression that gives a storage context is as long. */
    private static final int LONGEST_CONTEXT = 2_000;

    private static final Pattern VARIABLE = Pattern.compile("\\$\\{?(?:env:)?([A-Za-z_][A-Za-z0-9_]*)\\}?");
    /** Cmdlets that change nothing in any cloud, whatever they are given. */
    private static final Pattern HARMLESS = Pattern.compile(
            "(?i)(write|get|test|join|split|out|select|where|foreach|sort|measure|format|convertto|convertfrom|resolve|start-sleep|"
                    + "new-item|new-object|remove-item|copy-item|move-item|rename-item|set-location|push-location|pop-location|"
                    + "set-content|add-content|clear-content|set-strictmode|set-variable|new-variable|expand-archive|compress-archive|"
                    + "import-module|install-module|uninstall-module|set-psrepository|install-packageprovider|read-host|group-object|"
                    + "tee-object|invoke-webrequest|invoke-restmethod|set-item|add-type)(-.*)?");

    private static final Pattern OF_PROVIDER = Pattern.compile("(?i)[a-z]+-(az|azurerm)[a-z]*");
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
    private final Commands commands;
    /** By what blobs are reached, by the variable that holds it in lower case. */
    private final Map<String, StorageContext> contexts = new HashMap<>();

    private final Map<String, String> texts = new HashMap<>();
    private int depth;

    private PowerShellScript(JobContext job, Commands commands) {
        this.job = job;
        this.commands = commands;
    }

    /**
     * By what a cmdlet reaches an account's blobs.
     *
     * @param fetchesKey true where it was got by fetching the account's key
     */
    private record StorageContext(PipelineValue account, Optional<CredentialUse> credential, boolean fetchesKey) {}

    /** Adds what a script does. */
    static void read(String text, int firstLine, JobContext job) {
        PowerShellScript script = new PowerShellScript(job, new Commands(job));
        Statement before = null;
        for (Statement statement : PowerShellReader.read(text, firstLine)) {
            script.statement(statement, Optional.ofNullable(before));
            before = statement;
        }
    }

    private void statement(Statement statement, Optional<Statement> before) {
        job.count();
        if (statement.words().isEmpty()) {
            return;
        }
        Word first = statement.words().get(0);
        if (!statement.assigned().isEmpty()) {
            contextOf(first, statement.line(), statement.words())
                    .ifPresent(context -> contexts.put(statement.assigned(), context));
            if (statement.words().size() == 1 && first.inside().isEmpty()) {
                texts.put(statement.assigned(), value(first).text());
            }
        }
        String name = first.text().toLowerCase(Locale.ROOT);
        if (first.inside().isPresent()) {
            within(first.inside().get(), statement);
            return;
        }
        if (PowerShellReader.STEERING.contains(name)) {
            steered(statement);
            return;
        }
        boolean isCommand = name.matches("[a-z][a-z0-9]*-[a-z0-9]+");
        if (isCommand && OF_PROVIDER.matcher(name).matches()) {
            cmdlet(name, statement, before);
        } else if (isCommand
                || name.startsWith("$")
                || name.startsWith("[")
                || statement.words().size() == 1 && !statement.assigned().isEmpty()) {
            if (isCommand && !HARMLESS.matcher(name).matches()) {
                job.add(
                        new Operation.NotUnderstood("the cmdlet " + first.text() + " is not known"),
                        statement.line(),
                        statement.spelled());
            }
        } else {
            List<PipelineValue> words =
                    statement.words().stream().map(this::value).toList();
            commands.run(new ShellCommand(statement.line(), statement.spelled(), Map.of(), words));
        }
    }

    /** Reads what stands in brackets. */
    private void within(String inside, Statement statement) {
        if (depth == DEEPEST) {
            job.add(
                    new Operation.NotUnderstood("its brackets are nested too deep"),
                    statement.line(),
                    statement.spelled());
            return;
        }
        depth++;
        PowerShellReader.read(inside, statement.line()).forEach(inner -> statement(inner, Optional.empty()));
        depth--;
    }

    /** What a choice or loop asks about is read for the commands in it; what it steers follows by itself. */
    private void steered(Statement statement) {
        for (Word word : statement.words()) {
            if (word.inside().filter(inside -> inside.contains("-Az")).isPresent()) {
                within(word.inside().get(), statement);
            }
        }
    }

    private void cmdlet(String name, Statement statement, Optional<Statement> before) {
        Map<String, Word> parameters = parameters(statement.words());
        int line = statement.line();
        switch (name) {
            case "connect-azaccount", "add-azaccount", "login-azaccount", "connect-azurermaccount" ->
                signIn(parameters, line);
            case "new-azstoragecontext" -> {}
            case "get-azstorageaccount", "get-azstorageaccountkey" -> {
                boolean asksKey = name.endsWith("key");
                PipelineValue account = text(parameters, "accountname", "name", "storageaccountname")
                        .orElse(PipelineValue.open("?", "the storage account"));
                add(
                        new Operation.Call(
                                asksKey ? AzureCommands.LIST_KEYS : AzureCommands.READ_ACCOUNT,
                                AzureCommands.onAccount(account),
                                Optional.empty()),
                        statement,
                        job.signedIn(SESSION));
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
                                AzureCommands.onAccount(text(parameters, "accountname", "name")
                                        .orElse(PipelineValue.open("?", "the storage account"))),
                                Optional.empty()),
                        statement,
                        job.signedIn(SESSION));
            case "clear-azcdnendpointcontent", "unpublish-azcdnendpointcontent" ->
                purge(parameters, statement, "/endpoints/");
            case "clear-azfrontdoorcdnendpointcontent" -> purge(parameters, statement, "/afdEndpoints/");
            default -> {
                if (!SETTINGS.contains(name)) {
                    add(
                            new Operation.NotUnderstood("which permission "
                                    + statement.words().get(0).text() + " takes is not known"),
                            statement,
                            job.signedIn(SESSION));
                }
            }
        }
    }

    private void signIn(Map<String, Word> parameters, int line) {
        Optional<PipelineValue> who = text(parameters, "applicationid", "accountid");
        Kind kind = parameters.containsKey("identity")
                ? Kind.MANAGED_IDENTITY
                : parameters.containsKey("federatedtoken")
                        ? Kind.PRINCIPAL_BY_TOKEN
                        : parameters.containsKey("certificatethumbprint") || parameters.containsKey("certificatepath")
                                ? Kind.PRINCIPAL_BY_CERTIFICATE
                                : Kind.PRINCIPAL_BY_PASSWORD;
        boolean isPrincipal = kind != Kind.PRINCIPAL_BY_PASSWORD || parameters.containsKey("serviceprincipal");
        if (isPrincipal) {
            job.signIn(SESSION, AzureAuthentication.principal(kind, who, line));
        }
    }

    private void purge(Map<String, Word> parameters, Statement statement, String kind) {
        PipelineValue endpoint = PipelineValue.of("profiles/")
                .then(text(parameters, "profilename").orElse(PipelineValue.open("?", "the profile")))
                .then(PipelineValue.of(kind))
                .then(text(parameters, "endpointname", "name").orElse(PipelineValue.open("?", "the endpoint")));
        add(new Operation.Invalidate(endpoint, !parameters.containsKey("nowait")), statement, job.signedIn(SESSION));
    }

    private void upload(Map<String, Word> parameters, Statement statement, Optional<Statement> before) {
        boolean isMany = statement.isPiped() && !parameters.containsKey("blob");
        PipelineValue source = text(parameters, "file")
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
        return text(parameters(listing.words()), "path", "literalpath")
                .or(() -> listing.words().stream()
                        .skip(1)
                        .filter(word -> !word.text().startsWith("-"))
                        .findFirst()
                        .map(this::value))
                .orElse(PipelineValue.of("."));
    }

    private static Optional<String> cacheControl(Map<String, Word> parameters) {
        Word properties = parameters.get("properties");
        Matcher control = Pattern.compile("(?i)\"?CacheControl\"?\\s*=\\s*[\"']([^\"']*)[\"']")
                .matcher(properties == null ? "" : properties.text());
        return control.find() ? Optional.of(control.group(1)) : Optional.empty();
    }

    private Target target(StorageContext context, Map<String, Word> parameters, String blob) {
        return new Target(
                context.account(),
                text(parameters, "container", "containername").orElse(PipelineValue.open("?", "the container")),
                text(parameters, blob).orElse(PipelineValue.of("")));
    }

    private void works(
            Map<String, Word> parameters,
            Statement statement,
            java.util.function.Function<StorageContext, Operation> operation) {
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
                        job.signedIn(SESSION));
            }
        }
        add(operation.apply(context), statement, context.credential());
    }

    /** Returns by what blobs are reached that an expression gives; absent for other expressions. */
    private Optional<StorageContext> contextOf(Word first, int line, List<Word> words) {
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
                return Optional.of(fetched(parameters(own), line));
            }
            return own.isEmpty() ? Optional.empty() : contextOf(own.get(0), line, own);
        }
        if (first.text().equalsIgnoreCase("Get-AzStorageAccount")) {
            return Optional.of(fetched(parameters(words), line));
        }
        if (first.text().toLowerCase(Locale.ROOT).endsWith(".context")
                && first.text().startsWith("$")) {
            String variable = first.text().substring(1, first.text().length() - ".context".length());
            return Optional.ofNullable(contexts.get(variable.toLowerCase(Locale.ROOT)));
        }
        if (!first.text().equalsIgnoreCase("New-AzStorageContext")) {
            return Optional.empty();
        }
        Map<String, Word> parameters = parameters(words);
        PipelineValue account = text(parameters, "storageaccountname", "accountname")
                .orElse(PipelineValue.open("?", "the storage account"));
        Optional<PipelineValue> connection = text(parameters, "connectionstring");
        if (connection.isPresent()) {
            AzureAuthentication.Mode mode = AzureAuthentication.byConnection(connection.get(), line);
            return Optional.of(new StorageContext(mode.account().orElse(account), mode.credential(), false));
        }
        Optional<PipelineValue> key = text(parameters, "storageaccountkey");
        Optional<PipelineValue> signature = text(parameters, "sastoken");
        Optional<CredentialUse> credential = key.map(value -> AzureAuthentication.held(Kind.STORE_KEY, value, line))
                .or(() -> signature.map(value -> AzureAuthentication.held(AzureStorageUrl.kindOf(value), value, line)))
                .or(() -> job.signedIn(SESSION));
        return Optional.of(new StorageContext(account, credential, false));
    }

    private StorageContext fetched(Map<String, Word> parameters, int line) {
        return new StorageContext(
                text(parameters, "name", "accountname", "storageaccountname")
                        .orElse(PipelineValue.open("?", "the storage account")),
                Optional.of(AzureAuthentication.held(Kind.STORE_KEY, PipelineValue.of("fetched by the command"), line)),
                true);
    }

    /** Returns a command's parameters by name in lower case; a switch has an empty word. */
    private static Map<String, Word> parameters(List<Word> words) {
        Map<String, Word> all = new LinkedHashMap<>();
        for (int i = 1; i < words.size(); i++) {
            String text = words.get(i).text();
            if (!text.startsWith("-") || text.length() < 2) {
                continue;
            }
            int colon = text.indexOf(':');
            String name = (colon < 0 ? text.substring(1) : text.substring(1, colon)).toLowerCase(Locale.ROOT);
            boolean hasValue = colon < 0
                    && i + 1 < words.size()
                    && !words.get(i + 1).text().startsWith("-");
            all.put(name, colon >= 0 ? Word.of(text.substring(colon + 1)) : hasValue ? words.get(++i) : Word.of(""));
        }
        return all;
    }

    private Optional<PipelineValue> text(Map<String, Word> parameters, String... names) {
        for (String name : names) {
            if (parameters.containsKey(name)) {
                return Optional.of(value(parameters.get(name)));
            }
        }
        return Optional.empty();
    }

    /** Returns what a word stands for, as far as the file tells. */
    private PipelineValue value(Word word) {
        PipelineValue expanded = job.scope().expand(word.text().replace('\u0001', '$'));
        if (word.isLiteral()) {
            return expanded;
        }
        String put = PowerShellReader.put(word.text(), this::known);
        PipelineValue whole = job.scope().expand(put);
        List<String> open = new ArrayList<>(whole.open());
        Matcher variable = VARIABLE.matcher(whole.text().replace("$web", "").replaceAll("\\$\\{\\{.*?}}", ""));
        while (variable.find()) {
            open.add(variable.group(1));
        }
        if (word.inside().isPresent() && open.isEmpty()) {
            open.add(word.text());
        }
        return new PipelineValue(whole.text(), open);
    }

    private Optional<String> known(String name) {
        if (name.startsWith("env:")) {
            return job.scope()
                    .variable(name.substring(4).toUpperCase(Locale.ROOT))
                    .filter(PipelineValue::isKnown)
                    .map(PipelineValue::text);
        }
        return Optional.ofNullable(texts.get(name)).filter(text -> text.indexOf('$') < 0 || text.equals("$web"));
    }

    private void add(Operation operation, Statement statement, Optional<CredentialUse> use) {
        job.add(operation, statement.line(), statement.spelled(), use, AzureAuthentication.PROVIDER);
    }
}
