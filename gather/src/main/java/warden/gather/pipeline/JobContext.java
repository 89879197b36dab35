package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.secret.SecretFinder;

/** What is in force while the steps of one job are read, and the steps read so far. */
public final class JobContext {
    private static final int LONGEST_COMMAND = 160;
    /** A pipeline has some hundred commands; one script that thousands of steps share unfolds into millions. */
    private static final int MOST_COMMANDS = 150_000;

    private final List<ProviderTools> tools;
    private final Map<String, String> otherFiles;
    private final List<DeploymentStep> steps;
    private final int[] commands;
    private final Set<String> opened;
    private final Map<String, CredentialUse> sessions;
    private final String job;
    private final Scope scope;
    private Optional<CredentialUse> credential = Optional.empty();
    private String folder = "";

    private JobContext(
            List<ProviderTools> tools,
            Map<String, String> otherFiles,
            List<DeploymentStep> steps,
            int[] commands,
            Set<String> opened,
            Map<String, CredentialUse> sessions,
            String job,
            Scope scope) {
        this.tools = tools;
        this.otherFiles = otherFiles;
        this.steps = steps;
        this.commands = commands;
        this.opened = opened;
        this.sessions = sessions;
        this.job = job;
        this.scope = scope;
    }

    /**
     * Returns what is in force at the beginning of a pipeline.
     *
     * @param tools what the providers' tools do
     * @param otherFiles texts of the other files that are known, by path: scripts that a pipeline runs
     */
    public static JobContext begin(List<ProviderTools> tools, Map<String, String> otherFiles, Scope scope) {
        return new JobContext(
                List.copyOf(tools),
                otherFiles,
                new ArrayList<>(),
                new int[1],
                new TreeSet<>(),
                new HashMap<>(),
                "",
                scope);
    }

    /** Returns the context of a job, whose steps follow those before. */
    public JobContext job(String name, Scope own) {
        return beside(name, own, new HashMap<>(sessions));
    }

    private JobContext beside(String name, Scope own, Map<String, CredentialUse> signedIn) {
        JobContext job = new JobContext(tools, otherFiles, steps, commands, opened, signedIn, name, own);
        job.credential = credential;
        job.folder = folder;
        return job;
    }

    /** Goes into a folder of the repository; a path that begins with a slash, or is empty, is taken as it is. */
    public void enter(String path) {
        boolean whole = path.isEmpty() || path.startsWith("/") || path.startsWith("$") || folder.isEmpty();
        folder = whole ? path : folder + "/" + path;
    }

    /** Returns the context of one step of the same job that has variables of its own. */
    public JobContext within(Scope own) {
        // Who has signed in stays so for the steps that follow.
        return beside(job, own, sessions);
    }

    /** Notes as whom a client has signed in, for the steps of this job that follow. */
    public void signIn(String client, CredentialUse use) {
        sessions.put(client, use);
    }

    /** Returns as whom a client has signed in; absent when the file does not tell. */
    public Optional<CredentialUse> signedIn(String client) {
        return Optional.ofNullable(sessions.get(client));
    }

    /** Returns the variables in force. */
    public Scope scope() {
        return scope;
    }

    /** Returns the steps of the whole pipeline that were added so far. */
    public List<DeploymentStep> steps() {
        return steps;
    }

    /** Notes by what the clients work from here on that take their credential from the environment or its settings. */
    public void use(CredentialUse other) {
        this.credential = Optional.of(other);
    }

    /** Returns by what such clients work; absent when the file does not tell. */
    public Optional<CredentialUse> credential() {
        return credential.or(() ->
                tools.stream().flatMap(each -> each.credential(scope).stream()).findFirst());
    }

    /** True for an address of one of the providers. */
    boolean isProviders(PipelineValue word) {
        return tools.stream().anyMatch(each -> each.isAddress(word));
    }

    /** Returns what the providers' tools do. */
    List<ProviderTools> tools() {
        return tools;
    }

    /** A pipeline that unfolds into more commands than any has. */
    static final class Endless extends RuntimeException {
        private static final long serialVersionUID = 1L;

        Endless() {
            super(
                    "it unfolds into more than " + MOST_COMMANDS + " commands, which no pipeline has",
                    null,
                    false,
                    false);
        }
    }

    /** Counts a command of a script, whether or not a step comes of it. */
    void count() {
        if (++commands[0] > MOST_COMMANDS) {
            throw new Endless();
        }
    }

    /** Adds a step with tools that any provider may be behind. */
    public void add(Operation operation, int line, String command) {
        add(operation, line, command, credential(), "");
    }

    /**
     * Adds a step.
     *
     * @param provider the word by which surveys name the provider whose tools it works with; empty where that is not known
     */
    public void add(Operation operation, int line, String command, Optional<CredentialUse> use, String provider) {
        String shown = SecretFinder.masked(command.replaceAll("\\s+", " ").strip());
        String shortened = shown.length() > LONGEST_COMMAND ? shown.substring(0, LONGEST_COMMAND - 1) + "…" : shown;
        steps.add(new DeploymentStep(inFolder(operation), job, line, shortened, use, provider));
    }

    /** What is uploaded from the folder that the script has gone into is named from the repository's root. */
    private Operation inFolder(Operation operation) {
        if (!(operation instanceof Operation.Upload upload) || folder.isEmpty() || folder.equals(".")) {
            return operation;
        }
        String source = upload.source().text();
        if (source.startsWith("/") || source.startsWith("$") || source.startsWith("~")) {
            return operation;
        }
        return upload.from(new PipelineValue(
                Folders.within(folder, source), upload.source().open()));
    }

    /** Runs {@code work} on the text of another file that is known, unless that is being read already; true when it did. */
    public boolean withFile(String path, java.util.function.Consumer<String> work) {
        String plain = path.startsWith("./") ? path.substring(2) : path;
        Optional<String> known = otherFiles.keySet().stream()
                .filter(name -> name.equals(plain) || name.endsWith("/" + plain))
                .sorted()
                .findFirst();
        if (known.isEmpty() || !opened.add(known.get())) {
            return false;
        }
        work.accept(otherFiles.get(known.get()));
        opened.remove(known.get());
        return true;
    }
}
