package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.TokenScope;
import warden.core.pipeline.Trigger;

/** Reads a workflow of the repository host. Source: GitHub Docs, "Workflow syntax for GitHub Actions". */
final class GithubWorkflow {
    private final Yaml root;
    private final PipelineText text;
    private final List<TokenScope> scopes = new ArrayList<>();

    private GithubWorkflow(Yaml root, PipelineText text) {
        this.root = root;
        this.text = text;
    }

    static boolean isOne(Yaml root) {
        return root.members().containsKey("jobs") && !root.members().containsKey("stages");
    }

    static boolean isStepOfOthers(Yaml root) {
        return root.find("runs", "steps").isPresent();
    }

    static Pipeline read(Yaml root, PipelineText text, JobContext begin) {
        return new GithubWorkflow(root, text).pipeline(begin);
    }

    private Pipeline pipeline(JobContext begin) {
        permissions("", root);
        Scope global = begin.scope().inner();
        global.set("GITHUB_WORKSPACE", PipelineValue.of("."));
        Commands.setAll(global, root.scalars("env"));
        root.find("jobs").map(Yaml::members).orElse(Map.of()).forEach((name, job) -> job(name, job, begin, global));
        root.each("runs", "steps").forEach(step -> step(step, begin.job("", global), Optional.empty()));
        return new Pipeline(
                text.path(), Pipeline.Kind.GITHUB_WORKFLOW, text, Optional.empty(), triggers(), scopes, begin.steps());
    }

    private List<Trigger> triggers() {
        List<Trigger> triggers = new ArrayList<>();
        // YAML 1.1 readers take the bare word "on" for a truth value; this one does not.
        root.find("on").ifPresent(on -> {
            on.members().forEach((event, value) -> triggers.add(new Trigger(event, value.line())));
            root.each("on").stream()
                    .filter(Yaml::isScalar)
                    .forEach(event -> triggers.add(new Trigger(event.text(), event.line())));
        });
        return triggers;
    }

    private void permissions(String job, Yaml part) {
        part.find("permissions").ifPresent(permissions -> {
            if (permissions.isScalar()) {
                scopes.add(new TokenScope(job, "*", permissions.text().equals("write-all"), permissions.line()));
            }
            permissions
                    .members()
                    .forEach((scope, value) ->
                            scopes.add(new TokenScope(job, scope, value.text().equals("write"), value.line())));
        });
    }

    private void job(String name, Yaml job, JobContext begin, Scope global) {
        permissions(name, job);
        Map<String, List<String>> matrix = new LinkedHashMap<>();
        job.find("strategy", "matrix")
                .map(Yaml::members)
                .orElse(Map.of())
                .forEach((axis, values) ->
                        matrix.put(axis, values.items().stream().map(Yaml::text).toList()));
        Scope scope = global.inner().understanding(expression -> {
            List<String> values = expression.startsWith("matrix.")
                    ? matrix.getOrDefault(expression.substring(7), List.of())
                    : List.of();
            return values.size() == 1
                    ? Optional.of(PipelineValue.of(values.get(0)))
                    : expression.equals("github.workspace") ? Optional.of(PipelineValue.of(".")) : Optional.empty();
        });
        Commands.setAll(scope, job.scalars("env"));
        JobContext here = begin.job(name, scope);
        job.scalar("uses").ifPresent(called -> callsWorkflow(called, job, here));
        Optional<String> folder = job.scalar("defaults", "run", "working-directory")
                .or(() -> root.scalar("defaults", "run", "working-directory"));
        job.each("steps").forEach(step -> step(step, here, folder));
    }

    /** A workflow of another repository is a step of others too; it is given the secrets that the job hands on. */
    private static void callsWorkflow(String called, Yaml job, JobContext here) {
        int line = job.find("uses").orElse(job).line();
        String spelled = "uses: " + called;
        int at = called.lastIndexOf('@');
        if (!called.startsWith("./")) {
            boolean receivesSecrets =
                    job.scalar("secrets").filter("inherit"::equals).isPresent()
                            || !job.scalars("secrets").isEmpty();
            here.add(
                    new Operation.Reusable(
                            at < 0 ? called : called.substring(0, at),
                            at < 0 ? "" : called.substring(at + 1),
                            receivesSecrets),
                    line,
                    spelled);
        }
        here.add(
                new Operation.NotUnderstood("what the workflow " + called + " does is not in this file"),
                line,
                spelled);
    }

    private static void step(Yaml step, JobContext job, Optional<String> folder) {
        Scope scope = job.scope();
        JobContext here = job;
        if (step.find("env").isPresent()) {
            Scope own = scope.inner();
            Commands.setAll(own, step.scalars("env"));
            here = job.within(own);
        }
        Optional<Yaml> run = step.find("run");
        if (run.isPresent()) {
            script(step, run.get(), here, job, folder);
            return;
        }
        Optional<Yaml> uses = step.find("uses");
        if (uses.isPresent()) {
            Map<String, PipelineValue> with = new LinkedHashMap<>();
            Scope expanding = here.scope();
            step.scalars("with").forEach((name, value) -> with.put(name, expanding.expand(value)));
            WorkflowStep.of(uses.get().text(), with, here, job, step, uses.get().line())
                    .read();
        }
    }

    private static void script(Yaml step, Yaml run, JobContext here, JobContext job, Optional<String> folder) {
        here.enter("");
        step.scalar("working-directory").or(() -> folder).ifPresent(here::enter);
        if (step.scalar("shell")
                .filter(name -> name.matches("(pwsh|powershell)( .*)?"))
                .isPresent()) {
            PowerShellScript.read(run.text(), run.textLine(), here);
            return;
        }
        boolean shell = step.scalar("shell")
                .map(name -> name.matches("(bash|sh)( .*)?"))
                .orElse(true);
        if (!shell) {
            job.add(
                    new Operation.NotUnderstood("scripts in another language than the shell's are not read"),
                    run.line(),
                    run.text().lines().findFirst().orElse(""));
            return;
        }
        new Commands(here).script(run.text(), run.textLine());
        here.credential().ifPresent(credential -> {
            if (here != job && job.credential().isEmpty() && step.find("env").isEmpty()) {
                job.use(credential);
            }
        });
    }
}
