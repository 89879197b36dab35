package warden.cli;

import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.AutoComplete;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/** Prints a completion script for shells. */
@Command(
        name = "completion",
        description =
                "Print a script that completes commands and options in bash and zsh: source it from your profile.")
final class CompletionCommand implements Callable<Integer> {
    @Spec
    private @Nullable CommandSpec spec;

    @Override
    public Integer call() {
        if (spec == null) {
            throw new IllegalStateException("a command has its specification");
        }
        spec.commandLine()
                .getOut()
                .print(AutoComplete.bash("gentle-warden", spec.parent().commandLine()));
        spec.commandLine().getOut().flush();
        return ExitCode.DONE.number();
    }
}
