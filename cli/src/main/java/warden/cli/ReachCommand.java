package warden.cli;

import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Model.CommandSpec;
import warden.core.access.Matrix;
import warden.core.cloud.Clouds;
import warden.core.site.Publisher;
import warden.report.MatrixJson;
import warden.report.MatrixText;

/** Says who can do what, or answers exact questions. */
final class ReachCommand implements ProgramCommand {
    private static final int BATCH = 8_192;

    private final OutputOptions options = new OutputOptions();
    private final SurveyOptions input = new SurveyOptions();
    private @Nullable CommandSpec spec;
    private @Nullable String site;
    private @Nullable String questions;
    private boolean explain;
    private final World world;

    ReachCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe("Say who can do what with every bucket, or answer exact questions.");
        options.declare(line);
        input.declare(line);
        spec = line.spec();
        line.text("--site", "NAME", "Only this site's buckets: its name, or one of its hosts", value -> site = value);
        line.text(
                "--questions",
                "FILE",
                "Answer these questions, one JSON object a line; - is standard input",
                value -> questions = value);
        line.flag(
                "--explain",
                "With --questions: show the reasoning of each answer, step by step",
                value -> explain = value);
    }

    @Override
    public Integer call() {
        if (explain && questions == null) {
            throw new InputException(ExitCode.WRONG_COMMAND, "--explain goes with --questions FILE");
        }
        List<String> inputs = new ArrayList<>(input.files());
        Optional.ofNullable(questions).ifPresent(inputs::add);
        options.keepFrom(inputs);
        if (questions != null) {
            answerAll(input.clouds(world, options), questions);
            return ExitCode.DONE.number();
        }
        String matrix;
        try (Stages stages = options.stages(world.isTerminal())) {
            Clouds clouds = input.clouds(world, options);
            input.sayAge(clouds.accounts(), world, options);
            stages.at("working out who can do what");
            matrix = matrix(clouds);
        }
        options.write(matrix);
        return ExitCode.DONE.number();
    }

    private String matrix(Clouds clouds) {
        List<Publisher> publishers = clouds.all().stream()
                .<Publisher>flatMap(cloud -> cloud.publishing(List.of()).publishers().stream())
                .toList();
        List<Matrix> tables = Matrices.of(clouds.all(), publishers, wanted(clouds));
        return switch (options.format()) {
            case json -> {
                options.sayUnread(clouds.unreadPrincipals());
                yield MatrixJson.of(tables);
            }
            case text ->
                MatrixText.of(
                        clouds.all(),
                        tables,
                        Matrices.closed(clouds.all()),
                        clouds.unreadPrincipals(),
                        options.style(world));
        };
    }

    private Predicate<String> wanted(Clouds clouds) {
        if (site == null) {
            return store -> true;
        }
        Set<String> stores = SiteNames.demand(clouds, site).stream()
                .flatMap(each -> each.storeIds().stream())
                .collect(Collectors.toSet());
        return stores::contains;
    }

    private void answerAll(Clouds clouds, String name) {
        UnaryOperator<String> answers = clouds.questions(explain);
        try (BufferedReader in = new BufferedReader(open(name), 1 << 16)) {
            Path output = options.output();
            if (output != null) {
                StringBuilder whole = new StringBuilder();
                answer(in, answers, line -> whole.append(options.json(line)).append('\n'));
                TargetFile.write(output, whole.toString(), "--output");
            } else {
                PrintWriter out = Objects.requireNonNull(spec).commandLine().getOut();
                BufferedWriter buffered = new BufferedWriter(out, 1 << 16);
                answer(in, answers, line -> write(buffered, options.json(line)));
                buffered.flush();
                out.flush();
            }
        } catch (CharacterCodingException notText) {
            throw new InputException(
                    ExitCode.WRONG_INPUT, name + ": this is not UTF-8 text; questions are JSON Lines in UTF-8");
        } catch (IOException unreadable) {
            throw new InputException(ExitCode.WRONG_INPUT, name + ": cannot be read (" + unreadable.getMessage() + ")");
        }
    }

    private Reader open(String name) throws IOException {
        if (name.equals("-")) {
            return new InputStreamReader(world.standardInput(), StandardCharsets.UTF_8);
        }
        Path path = Path.of(name);
        if (!Files.isRegularFile(path)) {
            throw new InputException(ExitCode.WRONG_INPUT, name + ": there is no such file of questions");
        }
        return Files.newBufferedReader(path, StandardCharsets.UTF_8);
    }

    /** Takes one answer at a time. */
    private interface Sink {
        void accept(String line);
    }

    private static void write(Writer out, String line) {
        try {
            out.write(line);
            out.write('\n');
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    /** Answers in batches, each by all processors, in the order of the questions. */
    private static void answer(BufferedReader in, UnaryOperator<String> answers, Sink out) throws IOException {
        List<String> batch = new ArrayList<>(BATCH);
        for (String line = in.readLine(); line != null; line = in.readLine()) {
            if (!line.isBlank()) {
                batch.add(line);
            }
            if (batch.size() == BATCH) {
                batch.parallelStream().map(answers).toList().forEach(out::accept);
                batch.clear();
            }
        }
        batch.parallelStream().map(answers).toList().forEach(out::accept);
    }
}
