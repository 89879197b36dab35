package warden.gather.pipeline;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;

/** Understands the commands of scripts: what each does to storage and edges, or that it does nothing to them, or that this is not known. */
public final class Commands {
    private static final Set<String> PACKAGE_MANAGERS = Set.of("npm", "yarn", "pnpm");
    private static final Set<String> WRAPPERS =
            Set.of("sudo", "npx", "exec", "nohup", "nice", "stdbuf", "winpty", "command", "builtin");
    private static final Set<String> SHELLS = Set.of("sh", "bash", "zsh", "dash", "source", ".");

    private final JobContext context;

    /** Makes ready for the scripts of one job. */
    public Commands(JobContext context) {
        this.context = context;
    }

    /**
     * Reads a script and adds its steps.
     *
     * @param firstLine the line of the file in which the text begins, counted from 1
     */
    public void script(String text, int firstLine) {
        ShellReader.read(text, firstLine, context.scope(), this::command);
    }

    /** Reads a script that is one line of the file, whatever lines it has itself. */
    public void scriptAt(String text, int line) {
        ShellReader.read(
                text,
                line,
                context.scope(),
                command -> command(new ShellCommand(line, command.spelled(), command.assignments(), command.words())));
    }

    private void command(ShellCommand command) {
        List<PipelineValue> words = command.words();
        JobContext here = context;
        context.count();
        if (words.isEmpty()) {
            return;
        }
        if (words.get(0).text().equals("export")) {
            exported(words);
            return;
        }
        if (!command.assignments().isEmpty()) {
            Scope own = context.scope().inner();
            command.assignments().forEach(own::set);
            here = context.within(own);
        }
        read(words, command, here);
    }

    private void exported(List<PipelineValue> words) {
        for (PipelineValue word : words.subList(1, words.size())) {
            int equals = word.text().indexOf('=');
            if (equals > 0) {
                String value = word.text().substring(equals + 1);
                context.scope()
                        .set(
                                word.text().substring(0, equals),
                                word.isKnown() ? PipelineValue.of(value) : new PipelineValue(value, word.open()));
            }
        }
    }

    private void read(List<PipelineValue> words, ShellCommand command, JobContext here) {
        String program = program(words.get(0));
        List<PipelineValue> arguments = words.subList(1, words.size());
        boolean onlyLooks = program.equals("command")
                && !arguments.isEmpty()
                && arguments.get(0).text().matches("-[pvV]*[vV]");
        if (onlyLooks) {
            add(new Operation.Nothing(), command, here);
            return;
        }
        if (WRAPPERS.contains(program) || (program.equals("env") && !arguments.isEmpty())) {
            int first = 0;
            while (first < arguments.size()
                    && (arguments.get(first).text().startsWith("-")
                            || arguments.get(first).text().contains("="))) {
                first++;
            }
            if (first < arguments.size()) {
                read(arguments.subList(first, arguments.size()), command, here);
            }
            return;
        }
        if (program.equals("timeout") && arguments.size() > 1) {
            read(arguments.subList(1, arguments.size()), command, here);
            return;
        }
        if (program.equals("cd") || program.equals("pushd")) {
            here.enter(arguments.isEmpty() ? "" : arguments.get(0).text());
        }
        if (!words.get(0).isKnown()) {
            add(new Operation.NotUnderstood("the program is named by a variable"), command, here);
        } else if (asProviders(program, arguments, ToolCall.of(command, context, here))) {
            return;
        } else if (program.equals("pwsh") || program.equals("powershell")) {
            powerShell(arguments, command, here);
        } else if (program.equals("docker") || program.equals("podman")) {
            container(arguments, command, here);
        } else if (PACKAGE_MANAGERS.contains(program)) {
            packageManager(program, arguments, command, here);
        } else if (program.equals("terraform") || program.equals("tofu")) {
            terraform(arguments, command, here);
        } else if (program.equals("eval") || program.equals("trap")) {
            evaluated(program, arguments, command, here);
        } else if (program.equals("find")) {
            found(arguments, command, here);
        } else if (isScript(program, words, arguments)) {
            otherScript(words, command, here);
        } else {
            add(
                    program.equals(Rclone.PROGRAM)
                            ? Rclone.read(arguments)
                            : classified(program, arguments, command.spelled().contains("<<")),
                    command,
                    here);
        }
    }

    /** Adds what a call of a provider's tool does; false where it is none. */
    private boolean asProviders(String program, List<PipelineValue> arguments, ToolCall call) {
        return context.tools().stream()
                .filter(each -> each.programs().contains(program))
                .anyMatch(each -> each.command(program, arguments, call));
    }

    private static String program(PipelineValue word) {
        String text = word.text();
        return text.startsWith("@") ? text : text.substring(text.lastIndexOf('/') + 1);
    }

    private Operation classified(String program, List<PipelineValue> arguments, boolean isFed) {
        List<String> texts = arguments.stream().map(PipelineValue::text).toList();
        if (context.scope().isFunction(program)) {
            return new Operation.Nothing();
        }
        if (WebRequest.PROGRAMS.contains(program)) {
            return WebRequest.of(program, arguments).operation(context::isProviders);
        }
        if (program.equals("xargs") || program.equals("parallel")) {
            return mentionsStorageClient(String.join(" ", texts)) ? handedOver() : new Operation.Nothing();
        }
        return Programs.operation(program, texts, isFed);
    }

    private boolean mentionsStorageClient(String text) {
        return Stream.of(text.split("[\\s'\"();|&]+"))
                .map(word -> word.substring(word.lastIndexOf('/') + 1))
                .anyMatch(word -> word.equals(Rclone.PROGRAM)
                        || context.tools().stream()
                                .anyMatch(each -> each.programs().contains(word)));
    }

    private static Operation handedOver() {
        return new Operation.NotUnderstood("what is handed to the command is known only to the running pipeline");
    }

    /** Reads what the shell is told to run as a command: at once, or when a signal comes. Source: POSIX.1-2017, "eval", "trap". */
    private void evaluated(String program, List<PipelineValue> arguments, ShellCommand command, JobContext here) {
        List<String> texts = arguments.stream().map(PipelineValue::text).toList();
        String text = program.equals("eval") ? String.join(" ", texts) : texts.isEmpty() ? "" : texts.get(0);
        boolean isReset = program.equals("trap") && (text.isEmpty() || text.startsWith("-"));
        // What a program prints to be evaluated sets variables, by custom; the program itself was read already.
        if (isReset || text.contains("$(") || text.contains("`")) {
            boolean mayPublish = !isReset && (Programs.mayPublish(text) || mentionsStorageClient(text));
            add(
                    mayPublish
                            ? new Operation.NotUnderstood("what is evaluated is known only to the running pipeline")
                            : new Operation.Nothing(),
                    command,
                    here);
        } else {
            scriptAt(text, command.line());
        }
    }

    /** Reads what is done to each file that is found. Source: POSIX.1-2017, "find", "-exec". */
    private void found(List<PipelineValue> arguments, ShellCommand command, JobContext here) {
        boolean does = false;
        for (int i = 0; i + 1 < arguments.size(); i++) {
            if (!arguments.get(i).text().matches("-(exec|execdir|ok|okdir)")) {
                continue;
            }
            int end = i + 1;
            while (end < arguments.size() && !arguments.get(end).text().matches("\\\\?;|\\+")) {
                end++;
            }
            List<PipelineValue> told = arguments.subList(i + 1, end);
            if (mentionsStorageClient(
                    String.join(" ", told.stream().map(PipelineValue::text).toList()))) {
                add(handedOver(), command, here);
            } else if (!told.isEmpty()) {
                read(told, command, here);
            }
            does = true;
            i = end;
        }
        if (!does) {
            add(new Operation.Nothing(), command, here);
        }
    }

    private void container(List<PipelineValue> arguments, ShellCommand command, JobContext here) {
        String first = arguments.isEmpty() ? "" : arguments.get(0).text();
        if (first.equals("build") || first.equals("buildx")) {
            add(new Operation.Build(), command, here);
            return;
        }
        if (!first.equals("run") && !first.equals("exec")) {
            add(new Operation.Nothing(), command, here);
            return;
        }
        Optional<ContainerRun> run = ContainerRun.of(arguments.subList(1, arguments.size()), images());
        if (run.isPresent()) {
            String program = run.get().image().program();
            List<PipelineValue> words = run.get().words();
            ToolCall call = ToolCall.of(command, context, here).outOf(run.get());
            if (asProviders(program, words, call)) {
                return;
            }
            if (program.equals(Rclone.PROGRAM)) {
                call.add(Rclone.read(words), here.credential(), "");
                return;
            }
        }
        add(new Operation.NotUnderstood("what the container does is not in this file"), command, here);
    }

    private Map<String, ContainerImage> images() {
        Map<String, ContainerImage> images = new HashMap<>(Rclone.IMAGES);
        context.tools().forEach(each -> images.putAll(each.images()));
        return images;
    }

    private void packageManager(String program, List<PipelineValue> arguments, ShellCommand command, JobContext here) {
        List<String> words = arguments.stream()
                .map(PipelineValue::text)
                .filter(text -> !text.startsWith("-"))
                .toList();
        String first = words.isEmpty() ? "install" : words.get(0);
        boolean runs = first.equals("run") || first.equals("run-script");
        boolean tests = first.equals("test") || first.equals("t");
        boolean nothing = Set.of(
                        "ci", "install", "i", "add", "cache", "config", "version", "set", "audit", "prune", "login")
                .contains(first);
        String script = runs && words.size() > 1 ? words.get(1) : tests ? "test" : first;
        if (first.equals("exec") || first.equals("dlx")) {
            List<PipelineValue> rest = arguments.stream()
                    .filter(term -> !term.text().equals("--"))
                    .skip(1)
                    .toList();
            if (!rest.isEmpty()) {
                read(rest, command, here);
            }
            return;
        }
        if (nothing || (!runs && !tests && program.equals("npm"))) {
            add(
                    first.equals("publish")
                            ? new Operation.NotUnderstood("it publishes a package")
                            : new Operation.Nothing(),
                    command,
                    here);
            return;
        }
        boolean[] found = new boolean[1];
        context.withFile("package.json", text -> found[0] = PackageScripts.run(text, script, context, command.line()));
        if (!found[0]) {
            String says = "what the script \"" + script + "\" does is not in this file; give its package.json too";
            add(Programs.named(script, says), command, here);
        }
    }

    private void terraform(List<PipelineValue> arguments, ShellCommand command, JobContext here) {
        String first = arguments.stream()
                .map(PipelineValue::text)
                .filter(text -> !text.startsWith("-"))
                .findFirst()
                .orElse("");
        if (!first.equals("init")) {
            boolean reads =
                    Set.of("fmt", "validate", "version", "output", "providers").contains(first);
            add(
                    reads
                            ? new Operation.Nothing()
                            : new Operation.NotUnderstood("what the infrastructure code changes is not in this file"),
                    command,
                    here);
            return;
        }
        ToolCall call = ToolCall.of(command, context, here);
        Map<String, PipelineValue> backend = backend(arguments);
        if (context.tools().stream().noneMatch(each -> each.keepsState(backend, call))) {
            add(new Operation.Nothing(), command, here);
        }
    }

    /** Returns what a call says of the place where state is kept. Source: Terraform documentation, "Backend configuration". */
    private static Map<String, PipelineValue> backend(List<PipelineValue> arguments) {
        Map<String, PipelineValue> backend = new HashMap<>();
        for (PipelineValue argument : arguments) {
            String text = argument.text().replaceFirst("^-{1,2}backend-config=", "");
            int equals = text.indexOf('=');
            if (equals > 0) {
                backend.put(text.substring(0, equals), new PipelineValue(text.substring(equals + 1), argument.open()));
            }
        }
        return backend;
    }

    private static boolean isScript(String program, List<PipelineValue> words, List<PipelineValue> arguments) {
        boolean shell = SHELLS.contains(program) && !arguments.isEmpty();
        String text = words.get(0).text();
        return shell || text.endsWith(".sh") || (text.startsWith("./") && !Programs.builds(program));
    }

    private void otherScript(List<PipelineValue> words, ShellCommand command, JobContext here) {
        boolean byShell = SHELLS.contains(program(words.get(0)));
        List<PipelineValue> rest = byShell ? words.subList(1, words.size()) : words;
        for (int i = 0; i < rest.size(); i++) {
            String text = rest.get(i).text();
            if (!text.startsWith("-")) {
                scriptFile(text, command, here);
                return;
            }
            if (text.matches("--(version|help)")) {
                add(new Operation.Nothing(), command, here);
                return;
            }
            if (text.matches("-[a-z]*c") && i + 1 < rest.size()) {
                scriptAt(rest.get(i + 1).text(), command.line());
                return;
            }
            if (text.matches("-[a-z]*s")) {
                break;
            }
            i += text.matches("[-+][a-z]*o") ? 1 : 0;
        }
        add(new Operation.NotUnderstood("what is fed to the shell is not read"), command, here);
    }

    private void scriptFile(String name, ShellCommand command, JobContext here) {
        boolean isPowerShell = name.toLowerCase(Locale.ROOT).endsWith(".ps1");
        boolean known = context.withFile(name, script -> {
            if (isPowerShell) {
                PowerShellScript.read(script, command.line(), context);
            } else {
                scriptAt(script, command.line());
            }
        });
        if (!known) {
            String says = "what " + name + " does is not in this file; give it with --pipeline too";
            add(Programs.named(name, says), command, here);
        }
    }

    private static void add(Operation operation, ShellCommand command, JobContext here) {
        here.add(operation, command.line(), command.spelled());
    }

    /** Reads one command, as if it stood in a script. */
    void run(ShellCommand command) {
        command(command);
    }

    private void powerShell(List<PipelineValue> arguments, ShellCommand command, JobContext here) {
        for (int i = 0; i + 1 < arguments.size(); i++) {
            String option = arguments.get(i).text().toLowerCase(Locale.ROOT);
            String value = arguments.get(i + 1).text();
            if (option.matches("-c(ommand)?")) {
                PowerShellScript.read(value, command.line(), context);
                return;
            }
        }
        Optional<String> file = arguments.stream()
                .map(PipelineValue::text)
                .filter(text -> text.toLowerCase(Locale.ROOT).endsWith(".ps1"))
                .findFirst();
        if (file.isPresent()) {
            scriptFile(file.get(), command, here);
        } else {
            add(new Operation.NotUnderstood("what the PowerShell script does is not in this file"), command, here);
        }
    }

    /** Sets the variables that a map of the file sets. */
    public static void setAll(Scope scope, Map<String, String> variables) {
        variables.forEach((name, value) -> scope.set(name, scope.expand(value)));
    }
}
