package warden.cli;

import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.Help;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.ParseResult;
import warden.core.document.DisplayText;
import warden.core.secret.SecretFinder;
import warden.report.Style;

/** The program: wires the commands, runs one, and turns whatever comes out into an exit code. */
public final class Main implements Runnable {
    static final String VERSION = "0.1.0";
    private static final String PROGRAM_AND_VERSION = "gentle-warden " + VERSION;
    private static final Set<String> VERSION_NAMES = Set.of("--version", "-V");

    private final CommandSpec spec = CommandSpec.wrapWithoutInspection(this);

    private Main() {
        spec.name("gentle-warden")
                .version(PROGRAM_AND_VERSION)
                .addOption(help("Show this help message and exit."))
                .addOption(OptionSpec.builder("-V", "--version")
                        .versionHelp(true)
                        .description("Print version information and exit.")
                        .build())
                .usageMessage()
                .description("Audits the storage and CDN setup behind a hosted static website.")
                .synopsisSubcommandLabel("COMMAND");
    }

    /** Runs the program and ends the process. */
    public static void main(String[] arguments) {
        if (arguments.length == 1 && VERSION_NAMES.contains(arguments[0])) {
            // Nothing of the command line's library is needed for that, and it takes longer to load than the JVM to
            // start.
            System.out.println(PROGRAM_AND_VERSION);
            if (System.out.checkError()) {
                System.err.println("gentle-warden: standard output cannot be written");
                System.exit(ExitCode.WRONG_COMMAND.number());
            }
            return;
        }
        setUp();
        World world = new World(
                System.in,
                Clock.systemUTC(),
                Terminal.isThere(),
                Terminal.columns(),
                !System.getenv().getOrDefault("NO_COLOR", "").isEmpty());
        StandardOutput standard = StandardOutput.ofProcess();
        PrintWriter out = standard.writer();
        PrintWriter err = new PrintWriter(new OutputStreamWriter(System.err, StandardCharsets.UTF_8), true);
        int code = run(world, out, err, arguments);
        out.flush();
        int ended = standard.ended(code, err);
        err.flush();
        System.exit(ended);
    }

    /** Keeps the command line's library from what takes long and is of no use here; before it is loaded. */
    static void setUp() {
        // Else the library starts the whole Groovy runtime, only to ask whether an argument is a closure.
        System.setProperty("picocli.disable.closures", "true");
        // No option is a time or a database's; to look for what converts them takes time too.
        System.setProperty("picocli.converters.excludes", "java.time.*,java.sql.*");
    }

    private static Map<String, Supplier<ProgramCommand>> commands(World world) {
        Map<String, Supplier<ProgramCommand>> commands = new LinkedHashMap<>();
        commands.put("demo", () -> new DemoCommand(world));
        commands.put("survey", () -> new SurveyCommand(world));
        commands.put("audit", () -> new AuditCommand(world));
        commands.put("trace", () -> new TraceCommand(world));
        commands.put("reach", () -> new ReachCommand(world));
        commands.put("drift", () -> new DriftCommand(world));
        commands.put("trim", () -> new TrimCommand(world));
        commands.put("mend", () -> new MendCommand(world));
        commands.put("rehearse", () -> new RehearseCommand(world));
        commands.put("checks", () -> new ChecksCommand(world));
        commands.put("stand-in", () -> new StandInCommand(world));
        commands.put("completion", () -> new CompletionCommand(world));
        return commands;
    }

    /** A command that is named needs no other: making them all takes longer than many a command runs. */
    private static Map<String, Supplier<ProgramCommand>> needed(
            Map<String, Supplier<ProgramCommand>> commands, String... arguments) {
        String first = arguments.length == 0 ? "" : arguments[0];
        // The completion script and help are about all of them.
        boolean named = commands.containsKey(first) && !first.equals("completion");
        return named ? Map.of(first, commands.get(first)) : commands;
    }

    private static CommandLine made(String name, ProgramCommand command) {
        CommandSpec spec = CommandSpec.wrapWithoutInspection(command).name(name).version(PROGRAM_AND_VERSION);
        command.declare(new Options(spec));
        spec.addOption(help("Show this help and end"));
        return new CommandLine(spec);
    }

    /** Makes the command line with the commands that the arguments need, without running any. */
    static CommandLine commandLine(World world, String... arguments) {
        CommandLine commandLine = new CommandLine(new Main().spec);
        needed(commands(world), arguments)
                .forEach((name, command) -> commandLine.addSubcommand(name, made(name, command.get())));
        commandLine
                .setCaseInsensitiveEnumValuesAllowed(true)
                .setUsageHelpWidth(world.isTerminal() ? Math.max(60, world.columns()) : Style.USUAL)
                .setUsageHelpAutoWidth(false)
                // The library's own writes elsewhere where System.err is another by now: a parser sets it for a moment.
                .setExecutionStrategy(parsed -> new CommandLine.RunLast().execute(parsed))
                .setParameterExceptionHandler(Main::wrongCommand)
                .setExecutionExceptionHandler(Main::failed);
        Map<String, String> codes = new LinkedHashMap<>();
        for (ExitCode code : ExitCode.values()) {
            codes.put(Integer.toString(code.number()), code.meaning());
        }
        commandLine
                .getCommandSpec()
                .usageMessage()
                .exitCodeListHeading("%nExit codes:%n")
                .exitCodeList(codes);
        if (commandLine.getSubcommands().size() > 1) {
            HelpLayout.applyTo(commandLine);
        } else {
            // Nobody sees it until help is asked for.
            commandLine.setHelpFactory((command, colors) -> {
                HelpLayout.applyTo(commandLine);
                return new Help(command, colors);
            });
        }
        return commandLine;
    }

    /** Runs the program on the given streams and returns its exit code. */
    static int run(World world, PrintWriter out, PrintWriter err, String... arguments) {
        try {
            return commandLine(world, arguments).setOut(out).setErr(err).execute(arguments);
        } catch (Error broken) {
            // Out of memory, a class that cannot be loaded: no stack trace reaches a user, whatever fails.
            err.println(bug(broken));
            return ExitCode.BUG.number();
        }
    }

    private static OptionSpec help(String description) {
        return OptionSpec.builder("-h", "--help")
                .usageHelp(true)
                .description(description)
                .build();
    }

    @Override
    public void run() {
        throw new ParameterException(
                spec.commandLine(),
                "name a command: demo, survey, audit, trace, reach, drift, trim, mend, rehearse, checks, stand-in, completion; --help tells more");
    }

    private static int wrongCommand(ParameterException wrong, String[] arguments) {
        PrintWriter err = wrong.getCommandLine().getErr();
        err.println("gentle-warden: " + said(WrongWords.sentence(wrong)));
        String command = wrong.getCommandLine().getCommandSpec().qualifiedName();
        err.println("\"" + command + " --help\" shows the options.");
        return ExitCode.WRONG_COMMAND.number();
    }

    private static int failed(Exception failure, CommandLine commandLine, ParseResult result) {
        PrintWriter err = commandLine.getErr();
        if (failure instanceof InputException input) {
            err.println("gentle-warden: " + said(input.getMessage()));
            return input.code().number();
        }
        err.println(bug(failure));
        if (result.hasMatchedOption("--verbose")) {
            failure.printStackTrace(err);
        }
        return ExitCode.BUG.number();
    }

    /** Names from outside, and what was typed, may hold anything. */
    private static String said(@Nullable String message) {
        return DisplayText.clean(SecretFinder.masked(Objects.requireNonNullElse(message, "")));
    }

    private static String bug(Throwable failure) {
        return "gentle-warden: this is a bug in the program ("
                + failure.getClass().getSimpleName() + "); the details are in " + details(failure);
    }

    private static String details(Throwable failure) {
        try {
            Path file = Files.createTempFile("gentle-warden-", ".txt");
            try (PrintWriter out = new PrintWriter(Files.newBufferedWriter(file))) {
                failure.printStackTrace(out);
            }
            return file.toString();
        } catch (IOException noRoom) {
            return "no file, since none could be written (" + noRoom.getMessage() + ")";
        }
    }
}
