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
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.reach.Matrix.Table;
import warden.core.aws.reach.Questions;
import warden.core.aws.storage.Bucket;
import warden.core.site.Estate;
import warden.core.site.PublisherFinder;
import warden.core.site.Site;
import warden.report.MatrixJson;
import warden.report.MatrixText;

/** Says who can do what, or answers exact questions. */
@Command(
        name = "reach",
        addMethodSubcommands = false,
        description = "Say who can do what with every bucket, or answer exact questions.")
final class ReachCommand implements Callable<Integer> {
    private static final int BATCH = 8_192;

    @Mixin
    private OutputOptions options = new OutputOptions();

    @Mixin
    private SurveyOptions input = new SurveyOptions();

    @Spec
    private @Nullable CommandSpec spec;

    @Option(
            names = "--site",
            paramLabel = "NAME",
            description = "Only this site's buckets: its name, or one of its hosts")
    private @Nullable String site;

    @Option(
            names = "--questions",
            paramLabel = "FILE",
            description = "Answer these questions, one JSON object a line; - is standard input")
    private @Nullable String questions;

    @Option(names = "--explain", description = "With --questions: show the reasoning of each answer, step by step")
    private boolean explain;

    private final World world;

    ReachCommand(World world) {
        this.world = world;
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
            answerAll(input.estate(world, options), questions);
            return ExitCode.DONE.number();
        }
        String matrix;
        try (Stages stages = options.stages(world.isTerminal())) {
            Estate estate = input.estate(world, options);
            input.sayAge(estate, world, options);
            stages.at("working out who can do what");
            matrix = matrix(estate);
        }
        options.write(matrix);
        return ExitCode.DONE.number();
    }

    private String matrix(Estate estate) {
        List<Table> tables =
                Matrices.of(estate, new PublisherFinder(estate).find(), bucket -> isWanted(estate, bucket));
        return switch (options.format()) {
            case json -> {
                options.sayUnread(estate.unreadPrincipals());
                yield MatrixJson.of(tables);
            }
            case text ->
                MatrixText.of(estate, tables, Matrices.closed(estate), estate.unreadPrincipals(), options.style(world));
        };
    }

    private boolean isWanted(Estate estate, Bucket bucket) {
        if (site == null) {
            return true;
        }
        List<Site> sites = SiteNames.demand(estate, site);
        return sites.stream().anyMatch(each -> each.buckets().stream()
                .anyMatch(own -> own.arn().equals(bucket.arn())));
    }

    private void answerAll(Estate estate, String name) {
        List<Evaluator> evaluators = estate.accounts().stream()
                .map(account -> estate.reach(account).evaluator())
                .toList();
        Questions answers = new Questions(evaluators, explain);
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
    private static void answer(BufferedReader in, Questions answers, Sink out) throws IOException {
        List<String> batch = new ArrayList<>(BATCH);
        for (String line = in.readLine(); line != null; line = in.readLine()) {
            if (!line.isBlank()) {
                batch.add(line);
            }
            if (batch.size() == BATCH) {
                batch.parallelStream().map(answers::answer).toList().forEach(out::accept);
                batch.clear();
            }
        }
        batch.parallelStream().map(answers::answer).toList().forEach(out::accept);
    }
}
