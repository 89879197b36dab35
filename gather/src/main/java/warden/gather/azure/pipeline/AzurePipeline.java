package warden.gather.azure.pipeline;

import java.util.ArrayList;
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
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.pipeline.Trigger;
import warden.gather.pipeline.Commands;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.PowerShellScript;
import warden.gather.pipeline.Scope;
import warden.gather.pipeline.Yaml;

/**
 * Reads a pipeline of the second provider's own forge. Source: Azure Pipelines documentation, "YAML schema reference", "AzureCLI@2",
 * "AzurePowerShell@5", "AzureFileCopy@6", "Define variables".
 */
final class AzurePipeline {
    private static final Pattern MACRO = Pattern.compile("\\$\\(([A-Za-z_][A-Za-z0-9_.]*)\\)");
    private static final Set<String> STEPS =
            Set.of("script", "bash", "pwsh", "powershell", "task", "checkout", "download", "publish", "template");
    /** Tasks that set up tools, fetch or keep what was built, or tell people. */
    private static final Pattern HARMLESS = Pattern.compile(
            "(?i)(nodetool|usenode|usepythonversion|usedotnet|useruby|gotool|hugo.*|copyfiles|deletefiles|archivefiles|extractfiles|"
                    + "publish(build|pipeline)artifacts?|download(build|pipeline)artifacts?|downloadsecurefile|publishtestresults|"
                    + "publishcodecoverageresults|cache|npmauthenticate|delay|azurekeyvault|replacetokens|manualvalidation)");

    private static final Pattern BUILDS =
            Pattern.compile("(?i)(npm|yarn|maven|gradle|msbuild|vsbuild|dotnetcorecli|gulp|grunt|ant|hugo.*)");
    private static final Pattern TESTS = Pattern.compile("(?i)(vstest|.*lint.*|.*test.*)");

    private final PipelineText text;

    private AzurePipeline(PipelineText text) {
        this.text = text;
    }

    static boolean isOne(Yaml root) {
        Map<String, Yaml> members = root.members();
        // Elsewhere jobs and stages stand by their names, not in a list.
        boolean hasSteps = items(root, "steps").stream().anyMatch(AzurePipeline::isStep);
        boolean hasJobs = items(root, "jobs").stream()
                .anyMatch(job -> job.find("job").isPresent()
                        || job.find("deployment").isPresent()
                        || job.find("template").isPresent());
        boolean hasStages = items(root, "stages").stream()
                .anyMatch(stage -> stage.find("stage").isPresent()
                        || stage.find("template").isPresent());
        return hasSteps
                || hasJobs
                || hasStages
                || (members.containsKey("extends") && (members.containsKey("trigger") || members.containsKey("pool")));
    }

    private static List<Yaml> items(Yaml root, String part) {
        return root.find(part).map(Yaml::items).orElse(List.of());
    }

    private static boolean isStep(Yaml step) {
        return step.members().keySet().stream().anyMatch(STEPS::contains);
    }

    static Pipeline read(Yaml root, PipelineText text, JobContext begin) {
        return new AzurePipeline(text).pipeline(root, begin);
    }

    private Pipeline pipeline(Yaml root, JobContext begin) {
        Scope global = begin.scope().inner();
        setAll(global, root);
        root.find("extends")
                .ifPresent(other -> begin.add(
                        new Operation.NotUnderstood("what the template does that it extends is not in this file"),
                        other.line(),
                        "extends"));
        for (Yaml stage : root.each("stages")) {
            Scope scope = global.inner();
            setAll(scope, stage);
            template(stage, begin.job(stage.scalar("stage").orElse(""), scope));
            stage.each("jobs").forEach(job -> job(job, begin, scope));
        }
        root.each("jobs").forEach(job -> job(job, begin, global));
        JobContext alone = begin.job("", global);
        root.each("steps").forEach(step -> step(step, alone));
        List<Trigger> triggers = new ArrayList<>();
        for (String event : List.of("trigger", "pr", "schedules")) {
            root.find(event)
                    .filter(part -> !part.isScalar() || !part.text().equals("none"))
                    .ifPresent(part -> triggers.add(new Trigger(event, part.line())));
        }
        return new Pipeline(
                text.path(), Pipeline.Kind.AZURE_PIPELINE, text, Optional.empty(), triggers, List.of(), begin.steps());
    }

    /** Variables are a map, or a list of names and values; groups are known to the forge alone. */
    private static void setAll(Scope scope, Yaml part) {
        part.scalars("variables").forEach((name, value) -> set(scope, name, value));
        part.each("variables").forEach(entry -> entry.scalar("name")
                .ifPresent(name -> entry.scalar("value").ifPresent(value -> set(scope, name, value))));
    }

    private static void set(Scope scope, String name, String value) {
        PipelineValue expanded = expand(value, scope);
        scope.set(name, expanded);
        // Scripts see it as a variable of the environment.
        scope.set(name.toUpperCase(Locale.ROOT).replace('.', '_'), expanded);
    }

    private void job(Yaml job, JobContext begin, Scope outer) {
        Scope scope = outer.inner();
        setAll(scope, job);
        JobContext here =
                begin.job(job.scalar("job").or(() -> job.scalar("deployment")).orElse(""), scope);
        template(job, here);
        job.each("steps").forEach(step -> step(step, here));
        job.find("strategy").map(Yaml::members).orElse(Map.of()).values().forEach(strategy -> strategy.members()
                .values()
                .forEach(phase -> phase.each("steps").forEach(step -> step(step, here))));
    }

    private static void template(Yaml part, JobContext here) {
        part.scalar("template")
                .ifPresent(name -> here.add(
                        new Operation.NotUnderstood("what the template " + name + " does is not in this file"),
                        part.line(),
                        "template: " + name));
    }

    private void step(Yaml step, JobContext job) {
        template(step, job);
        Scope scope = job.scope();
        JobContext here = job;
        if (step.find("env").isPresent()) {
            Scope own = scope.inner();
            step.scalars("env").forEach((name, value) -> own.set(name, expand(value, own)));
            here = job.within(own);
        }
        here.enter("");
        step.scalar("workingDirectory").ifPresent(here::enter);
        for (String shell : List.of("script", "bash")) {
            Optional<Yaml> script = step.find(shell);
            if (script.isPresent()) {
                new Commands(here)
                        .script(
                                put(script.get().text(), here.scope()),
                                script.get().textLine());
            }
        }
        for (String shell : List.of("pwsh", "powershell")) {
            Optional<Yaml> script = step.find(shell);
            if (script.isPresent()) {
                PowerShellScript.read(
                        put(script.get().text(), here.scope()), script.get().textLine(), here);
            }
        }
        if (step.find("checkout").isPresent()) {
            here.add(
                    new Operation.Checkout(""),
                    step.find("checkout").get().line(),
                    "checkout: " + step.scalar("checkout").orElse(""));
        }
        if (step.find("task").isPresent()) {
            task(step, here);
        }
    }

    private void task(Yaml step, JobContext here) {
        Yaml part = step.find("task").orElseThrow();
        String spelled = "task: " + part.text();
        String name = part.text().replaceFirst("@.*", "");
        switch (name.toLowerCase(Locale.ROOT)) {
            case "azurecli" -> {
                connect(step, here, part.line());
                here.add(
                        new Operation.Nothing(),
                        part.line(),
                        spelled,
                        here.signedIn(AzureAuthentication.CLI),
                        AzureAuthentication.PROVIDER);
                boolean isPowerShell = input(step, here, "scriptType")
                        .filter(type -> type.text().matches("(?i)ps|pscore"))
                        .isPresent();
                script(step, here, "inlineScript", "scriptPath", isPowerShell);
            }
            case "azurepowershell" -> {
                connect(step, here, part.line());
                script(step, here, "Inline", "ScriptPath", true);
            }
            case "azurefilecopy" -> {
                connect(step, here, part.line());
                copy(step, here, part.line(), spelled);
            }
            case "bash", "cmdline" -> script(step, here, "script", "filePath", false);
            case "powershell" -> script(step, here, "script", "filePath", true);
            default -> here.add(other(name, step), part.line(), spelled);
        }
    }

    private static Operation other(String name, Yaml step) {
        String command = step.scalar("inputs", "command")
                .or(() -> step.scalar("inputs", "customCommand"))
                .orElse("");
        if (BUILDS.matcher(name).matches()) {
            return command.matches("(?i)(install|ci|restore)")
                    ? new Operation.Nothing()
                    : command.matches("(?i).*(publish|deploy|push).*") && name.equalsIgnoreCase("npm")
                            ? new Operation.NotUnderstood("what the task " + name + " publishes is not known")
                            : new Operation.Build();
        }
        if (TESTS.matcher(name).matches()) {
            return new Operation.Test();
        }
        return HARMLESS.matcher(name).matches() || name.equalsIgnoreCase("AzureStaticWebApp")
                ? new Operation.Nothing()
                : new Operation.NotUnderstood("what the task " + name + " does is not known");
    }

    /** Who is behind the name of a connection is known to the forge alone. */
    private static void connect(Yaml step, JobContext here, int line) {
        PipelineValue connection = input(
                        step, here, "azureSubscription", "connectedServiceNameARM", "ConnectedServiceNameARM")
                .orElse(PipelineValue.open("?", "the service connection"));
        CredentialUse use = AzureAuthentication.principal(Kind.SERVICE_CONNECTION, Optional.of(connection), line);
        here.signIn(AzureAuthentication.CLI, use);
        here.signIn(AzureAuthentication.POWERSHELL, use);
    }

    private static void copy(Yaml step, JobContext here, int line, String spelled) {
        PipelineValue source = input(step, here, "SourcePath").orElse(PipelineValue.open("?", "the source"));
        boolean cleans = input(step, here, "CleanTargetBeforeCopy")
                .filter(value -> value.text().equalsIgnoreCase("true"))
                .isPresent();
        Operation upload = new Operation.Upload(
                source,
                new Target(
                        input(step, here, "storage").orElse(PipelineValue.open("?", "the storage account")),
                        input(step, here, "ContainerName").orElse(PipelineValue.open("?", "the container")),
                        input(step, here, "BlobPrefix").orElse(PipelineValue.of(""))),
                true,
                cleans,
                cleans,
                Optional.empty(),
                Optional.empty(),
                List.of(),
                Optional.empty());
        here.add(upload, line, spelled, here.signedIn(AzureAuthentication.CLI), AzureAuthentication.PROVIDER);
    }

    private void script(Yaml step, JobContext here, String inline, String path, boolean isPowerShell) {
        Optional<Yaml> script = find(step, inline);
        if (script.isPresent()) {
            String whole = put(script.get().text(), here.scope());
            if (isPowerShell) {
                PowerShellScript.read(whole, script.get().textLine(), here);
            } else {
                new Commands(here).script(whole, script.get().textLine());
            }
            return;
        }
        Optional<PipelineValue> file = input(step, here, path);
        int line = step.find("task").orElse(step).line();
        boolean isKnown = file.isPresent()
                && here.withFile(file.get().text(), other -> {
                    if (isPowerShell) {
                        PowerShellScript.read(other, line, here);
                    } else {
                        new Commands(here).scriptAt(other, line);
                    }
                });
        if (!isKnown) {
            here.add(
                    new Operation.NotUnderstood(
                            "what " + file.map(PipelineValue::text).orElse("the script")
                                    + " does is not in this file; give it with --pipeline too"),
                    line,
                    "task: " + step.scalar("task").orElse(""));
        }
    }

    /** Inputs are named without regard to case. */
    private static Optional<Yaml> find(Yaml step, String name) {
        return step.find("inputs").map(Yaml::members).orElse(Map.of()).entrySet().stream()
                .filter(entry -> entry.getKey().equalsIgnoreCase(name))
                .map(Map.Entry::getValue)
                .filter(Yaml::isScalar)
                .findFirst();
    }

    private static Optional<PipelineValue> input(Yaml step, JobContext here, String... names) {
        for (String name : names) {
            Optional<Yaml> value = find(step, name);
            if (value.isPresent()) {
                return Optional.of(expand(value.get().text(), here.scope()));
            }
        }
        return Optional.empty();
    }

    /** Programs that a shell's script asks in just the way in which the forge's variables are written. */
    private static final Set<String> PROGRAMS =
            Set.of("date", "pwd", "hostname", "whoami", "uname", "mktemp", "ls", "id", "nproc", "tty");

    /** Puts into a script what the file says of variables; the others become expressions that only the running pipeline knows. */
    private static String put(String script, Scope scope) {
        return MACRO.matcher(script).replaceAll(found -> {
            String name = found.group(1);
            String open = PROGRAMS.contains(name) ? found.group() : "${{" + name + "}}";
            return Matcher.quoteReplacement(scope.variable(name)
                    .filter(PipelineValue::isKnown)
                    .map(PipelineValue::text)
                    .orElse(open));
        });
    }

    /** Puts in what variables stand for; those that the file does not set stay open. */
    private static PipelineValue expand(String value, Scope scope) {
        Matcher matcher = MACRO.matcher(value);
        PipelineValue whole = PipelineValue.of("");
        int from = 0;
        while (matcher.find()) {
            String name = matcher.group(1);
            whole = whole.then(scope.expand(value.substring(from, matcher.start())))
                    .then(scope.variable(name).orElseGet(() -> scope.unset(matcher.group(), name)));
            from = matcher.end();
        }
        return whole.then(scope.expand(value.substring(from)));
    }
}
