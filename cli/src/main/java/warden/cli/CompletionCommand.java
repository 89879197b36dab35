package warden.cli;

import java.io.PrintWriter;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import warden.core.document.DisplayText;

/** Prints a completion script for shells. */
final class CompletionCommand implements ProgramCommand {
    private @Nullable CommandSpec spec;
    private boolean sites;
    private final World world;

    CompletionCommand(World world) {
        this.world = world;
    }

    /** The values of --site are those of the survey that lies where the shell is. */
    private static final String SITES = """

            # The sites of the survey that lies in the current folder, behind --site.
            function _complete_gentle_warden_or_site() {
              if [ "${COMP_WORDS[COMP_CWORD-1]}" = "--site" ]; then
                COMPREPLY=( $( compgen -W "$(gentle-warden completion --sites 2>/dev/null)" -- "${COMP_WORDS[COMP_CWORD]}" ) )
                return 0
              fi
              _complete_gentle-warden "$@"
            }
            complete -F _complete_gentle_warden_or_site -o default gentle-warden gentle-warden.sh gentle-warden.bash
            """;

    @Override
    public void declare(Options line) {
        line.describe(
                "Print a script that completes commands and options in bash and zsh: source it from your profile.");
        spec = line.spec();
        line.hiddenFlag("--sites", "List the sites of the survey that lies here", value -> sites = value);
    }

    @Override
    public Integer call() {
        PrintWriter out = Objects.requireNonNull(spec).commandLine().getOut();
        if (sites) {
            listSites(out);
        } else {
            CommandLine program = Objects.requireNonNull(spec.parent()).commandLine();
            Completions.applyTo(program);
            out.print(AutoComplete.bash("gentle-warden", program));
            out.print(SITES);
        }
        out.flush();
        return ExitCode.DONE.number();
    }

    /** A shell that completes has no use for an error: without a survey there are no sites. */
    private void listSites(PrintWriter out) {
        try {
            new SurveyOptions()
                    .clouds(world, new OutputOptions())
                    .sites()
                    .forEach(site -> out.println(DisplayText.name(site.name())));
        } catch (InputException noSurvey) {
            out.flush();
        }
    }
}
