package warden.gather.pipeline;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;

/**
 * A step of a workflow that others publish, and what the well-known ones among them do: here those that work with no provider. Source: the
 * README of each.
 *
 * @param name {@code OWNER/NAME}, as the file writes it
 * @param version of the step; empty where the file names none
 * @param with its inputs by name
 * @param here what is in force for the step
 * @param job what is in force for the steps after it
 * @param step as the file writes it
 * @param line where its name stands, counted from 1
 */
public record WorkflowStep(
        String name,
        String version,
        Map<String, PipelineValue> with,
        JobContext here,
        JobContext job,
        Yaml step,
        int line) {
    private static final Set<String> HOSTS_OWN = Set.of("actions", "github");

    /** Takes a step's name apart. */
    static WorkflowStep of(
            String uses, Map<String, PipelineValue> with, JobContext here, JobContext job, Yaml step, int line) {
        int at = uses.lastIndexOf('@');
        return new WorkflowStep(
                at < 0 ? uses : uses.substring(0, at),
                at < 0 ? "" : uses.substring(at + 1),
                with,
                here,
                job,
                step,
                line);
    }

    /** Adds what the step does. */
    void read() {
        if (name.startsWith("./") || name.startsWith("docker://")) {
            add(new Operation.NotUnderstood("what the step " + name + " does is not in this file"));
            return;
        }
        for (ProviderTools tools : here.tools()) {
            if (tools.workflowStep(this)) {
                return;
            }
        }
        if (!HOSTS_OWN.contains(owner())) {
            addReusable();
        }
        addWhatIsKnown();
    }

    /** Returns who publishes the step, in lower case; empty where its name names nobody. */
    public String owner() {
        return name.indexOf('/') < 0 ? "" : name.substring(0, name.indexOf('/')).toLowerCase(Locale.ROOT);
    }

    /** Returns an input's value; an empty text where it is not given. */
    public PipelineValue input(String input) {
        return with.getOrDefault(input, PipelineValue.of(""));
    }

    /** Returns what a variable stands for that the step works by. */
    public PipelineValue variable(String variable) {
        return here.scope().variable(variable).orElseGet(() -> here.scope().unset("$" + variable, variable));
    }

    /** Adds one thing that the step does. */
    public void add(Operation operation) {
        here.add(operation, line, spelled());
    }

    /** Adds that code of others runs, with what is in force. */
    public void addReusable() {
        addReusable(here.credential(), "");
    }

    /**
     * Adds that code of others runs.
     *
     * @param use by what it works; absent where the file does not tell
     * @param provider the word by which surveys name the provider it works with; empty where that is not known
     */
    public void addReusable(Optional<CredentialUse> use, String provider) {
        here.add(new Operation.Reusable(name, version, receivesSecrets()), line, spelled(), use, provider);
    }

    /** Adds what the step does as far as its name tells: what sets up tools, or tells people, changes nothing in the cloud. */
    public void addWhatIsKnown() {
        if (name.equals("actions/checkout")) {
            add(new Operation.Checkout(input("ref").text()));
        } else if (HOSTS_OWN.contains(owner())) {
            add(new Operation.Nothing());
        } else if (isHarmlessByName()) {
            add(name.matches(".*(build|hugo|jekyll).*") ? new Operation.Build() : new Operation.Nothing());
        } else {
            add(new Operation.NotUnderstood("what the step " + name + " does is not known"));
        }
    }

    /** Adds what a shell script does that an input holds; nothing where it is not given. */
    public void addScript(String input) {
        step.find("with", input).ifPresent(script -> new Commands(here).script(script.text(), script.textLine()));
    }

    /** Adds what a PowerShell script does that an input holds; nothing where it is not given. */
    public void addPowerShell(String input) {
        step.find("with", input).ifPresent(script -> PowerShellScript.read(script.text(), script.textLine(), here));
    }

    private String spelled() {
        return "uses: " + (version.isEmpty() ? name : name + "@" + version);
    }

    /** The pipeline's own token is no secret of the publisher's. */
    private boolean receivesSecrets() {
        return with.values().stream()
                .flatMap(value -> value.open().stream())
                .anyMatch(each -> each.startsWith("secrets.") && !each.equals("secrets.GITHUB_TOKEN"));
    }

    private boolean isHarmlessByName() {
        return name.matches(
                "(?i).*/(setup-|install-|cache|action-setup|actions-hugo|checkout|slack|notify|labeler|.*lint.*"
                        + "|.*-?build-?.*).*");
    }
}
