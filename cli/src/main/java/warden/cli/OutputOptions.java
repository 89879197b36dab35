package warden.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Model.CommandSpec;
import warden.core.cloud.Clouds;
import warden.core.document.DisplayText;
import warden.core.secret.OutputGate;
import warden.core.survey.Need;
import warden.report.Style;

/** The options that say how a command tells what it has to tell, and the one way out for all of it: nothing secret passes. */
final class OutputOptions {
    enum Format {
        text,
        json
    }

    /** What can be asked for; Markdown of a few commands only. */
    private enum Wanted {
        text,
        json,
        markdown
    }

    /** A command that writes a folder, and tells about it on standard output. */
    interface WritesFolder {}

    /** A command whose result can be Markdown. */
    interface WritesMarkdown {}

    enum Color {
        auto,
        always,
        never
    }

    private @Nullable CommandSpec spec;
    private Wanted format = Wanted.text;
    private @Nullable Path output;
    private Color color = Color.auto;
    private boolean quiet;
    private boolean verbose;

    /** Knows, as soon as the surveys are read, which of their values are not to be said. */
    private OutputGate gate = OutputGate.byForm();

    /** Declares them. */
    void declare(Options line) {
        spec = line.spec();
        line.word(
                "--format",
                "text|json",
                "Format of standard output. Default: text",
                Wanted.class,
                value -> format = value);
        line.path("-o --output", "FILE", "Write there instead of standard output", value -> output = value);
        line.word("--color", "auto|always|never", "Colours. Default: auto", Color.class, value -> color = value);
        line.flag("-q --quiet", "Say less on standard error", value -> quiet = value);
        line.flag("-v --verbose", "Say more on standard error, stack traces included", value -> verbose = value);
    }

    /** Returns the format of a command that writes text or JSON. */
    Format format() {
        return switch (format) {
            case text -> Format.text;
            case json -> Format.json;
            case markdown ->
                throw new InputException(ExitCode.WRONG_COMMAND, "--format takes text or json here, not markdown");
        };
    }

    /** True where Markdown is asked for, of a command that writes it. */
    boolean isMarkdown() {
        return format == Wanted.markdown;
    }

    boolean isVerbose() {
        return verbose;
    }

    /** Keeps back what these surveys hold that is not to be said. */
    void guard(Clouds... all) {
        Set<String> secrets = new HashSet<>();
        for (Clouds clouds : all) {
            clouds.all().forEach(cloud -> secrets.addAll(cloud.sharedSecrets()));
        }
        gate = new OutputGate(secrets);
    }

    /** Says something about the run on standard error, unless told to be quiet. */
    void say(String message) {
        if (!quiet) {
            err().println(DisplayText.clean(gate.masked(message)));
        }
    }

    /** Says, where the result has no place for it, which users and roles are missing from it. */
    void sayUnread(List<Need> unread) {
        if (!unread.isEmpty()) {
            say("gentle-warden: users and roles are missing from this, since they were not read: "
                    + Need.spelled(unread) + " (" + unread.get(0).permission() + ")");
        }
    }

    /** Puts text on standard error as it is, without a line end, unless told to be quiet. */
    void draw(String text) {
        if (!quiet) {
            err().print(text);
            err().flush();
        }
    }

    /** Begins to show what is being done, if it lasts and there is a terminal to show it on. */
    Stages stages(boolean isTerminal) {
        Stages stages = new Stages(this::draw, isTerminal && !quiet);
        stages.at("reading the survey");
        return stages;
    }

    private PrintWriter err() {
        return spec().commandLine().getErr();
    }

    private CommandSpec spec() {
        if (spec == null) {
            throw new IllegalStateException("options are used by a command");
        }
        return spec;
    }

    /** True when a person reads the result on a terminal. */
    boolean isOnTerminal(World world) {
        return world.isTerminal() && output == null;
    }

    /** Returns how to lay out standard output: in the terminal's width, and unbroken for a file or another program. */
    Style style(World world) {
        return style(world, isOnTerminal(world));
    }

    /** Returns how to lay out what {@link #show} tells, wherever else something is written. */
    Style styleOfScreen(World world) {
        return style(world, world.isTerminal());
    }

    private Style style(World world, boolean onTerminal) {
        boolean colored =
                switch (color) {
                    case always -> true;
                    case never -> false;
                    case auto -> onTerminal && !world.noColor();
                };
        return new Style(colored, onTerminal ? world.columns() : Style.UNBROKEN);
    }

    /** Ends the command when its result would replace a file that it reads. */
    void keepFrom(Collection<String> inputs) {
        if (output != null) {
            new Outputs().and("--output", output).keepFrom(inputs);
        }
    }

    /** Writes the result: to standard output, or whole or not at all to the file that was named. */
    void write(String text) {
        String shown = format == Wanted.json ? json(text) : text(text);
        if (output == null) {
            show(text);
            return;
        }
        TargetFile.write(output, shown, "--output");
    }

    /** Writes the result as {@link #write} does, but on standard error: standard output is another's. */
    void writeBeside(String text) {
        if (output == null) {
            err().print(format == Wanted.json ? json(text) : text(text));
            err().flush();
        } else {
            write(text);
        }
    }

    /** Tells the result on standard output, wherever else something is written. */
    void show(String text) {
        PrintWriter out = spec().commandLine().getOut();
        out.print(format == Wanted.json ? json(text) : text(text));
        out.flush();
    }

    /** True when a text may be said as it is. */
    boolean isSayable(String text) {
        return gate.masked(text).equals(text);
    }

    /** Returns what may be said of a text without colours. */
    String plain(String text) {
        return DisplayText.lines(gate.masked(text), false);
    }

    /** Returns what may be said of a text for people, be it plain, Markdown, HTML or XML. */
    String text(String text) {
        return DisplayText.lines(gate.masked(text), color != Color.never);
    }

    /** Returns what may be said of a JSON document, or of one line of JSON. */
    String json(String document) {
        return DisplayText.json(gate.masked(document));
    }

    /** Returns the file that the result goes to; null for standard output. */
    @Nullable
    Path output() {
        return output;
    }
}
