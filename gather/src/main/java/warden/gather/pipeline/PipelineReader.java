package warden.gather.pipeline;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.document.JsonPart;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.Pipeline.Kind;
import warden.core.pipeline.PipelineText;
import warden.core.survey.Reading;
import warden.core.survey.SurveyedAccount;

/** Reads pipelines: of files, and of what a survey holds. A file that a pipeline runs and that is given too is read as a part of it. */
public final class PipelineReader {
    private static final long LARGEST = 10_000_000;

    private final List<ProviderTools> tools;

    /**
     * Makes a reader.
     *
     * @param tools what the tools of the providers do, in the order in which they are asked
     */
    public PipelineReader(List<ProviderTools> tools) {
        this.tools = List.copyOf(tools);
    }

    /**
     * Reads files and surveys.
     *
     * @param files as the user gave them
     * @param variables what variables stand for that the pipelines do not set
     * @return those of the files first, in their order, then those of the surveys
     * @throws IOException when a file is missing or not readable, with a sentence for the user
     */
    public List<Pipeline> read(
            List<String> files, List<? extends SurveyedAccount> accounts, PipelineVariables variables)
            throws IOException {
        Map<String, PipelineText> given = new LinkedHashMap<>();
        for (String file : files) {
            given.put(file, PipelineText.ofFile(file, textOf(file)));
        }
        List<Pipeline> pipelines = new ArrayList<>(parsedAll(given.values(), given, variables));
        List<Pipeline> delivery = new ArrayList<>();
        for (SurveyedAccount account : accounts) {
            Map<String, PipelineText> surveyed = surveyed(account);
            // What is given is newer; and repositories of different accounts call their pipelines alike.
            surveyed.keySet().removeAll(given.keySet());
            Map<String, PipelineText> beside = new LinkedHashMap<>(given);
            beside.putAll(surveyed);
            pipelines.addAll(parsedAll(surveyed.values(), beside, variables));
            tools.forEach(each -> delivery.addAll(each.surveyed(account.survey(), variables)));
        }
        pipelines.addAll(delivery);
        return pipelines;
    }

    private static Map<String, PipelineText> surveyed(SurveyedAccount account) {
        Map<String, PipelineText> texts = new LinkedHashMap<>();
        for (String path : account.survey().subjects("pipeline-file")) {
            Reading<JsonPart> reading = account.survey().reading("pipeline-file", path);
            reading.found()
                    .ifPresent(answer -> texts.put(
                            path,
                            new PipelineText(
                                    path,
                                    answer.text("Text").orElse(""),
                                    reading.citation().orElseThrow(),
                                    true)));
        }
        return texts;
    }

    private List<Pipeline> parsedAll(
            Collection<PipelineText> texts, Map<String, PipelineText> beside, PipelineVariables variables) {
        Map<String, String> others = new LinkedHashMap<>();
        beside.forEach((path, text) -> others.put(path, text.text()));
        return texts.stream().map(text -> parse(text, others, variables)).toList();
    }

    private static String textOf(String file) throws IOException {
        Path path = Path.of(file);
        if (!Files.isRegularFile(path)) {
            throw new IOException(file + ": there is no such pipeline file; give one with --pipeline FILE");
        }
        if (Files.size(path) > LARGEST) {
            throw new IOException(file + ": this is larger than 10 MB, which no pipeline file is");
        }
        try {
            byte[] bytes = Files.readAllBytes(path);
            return StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(bytes))
                    .toString();
        } catch (CharacterCodingException notText) {
            throw new IOException(file + ": this is not UTF-8 text; a pipeline file is text");
        } catch (IOException unreadable) {
            throw new IOException(file + ": cannot be read (" + unreadable.getMessage() + ")");
        }
    }

    /**
     * Parses one text.
     *
     * @param others the texts of the files that are known, by path
     */
    public Pipeline parse(PipelineText text, Map<String, String> others) {
        return parse(text, others, PipelineVariables.none());
    }

    private Pipeline parse(PipelineText text, Map<String, String> others, PipelineVariables variables) {
        try {
            return parsed(text, others, variables);
        } catch (JobContext.Endless endless) {
            return Pipeline.unreadable(text, Kind.OTHER, 1, String.valueOf(endless.getMessage()));
        } catch (StackOverflowError tooDeep) {
            return Pipeline.unreadable(text, Kind.OTHER, 1, "it is nested too deep for a pipeline");
        }
    }

    private Pipeline parsed(PipelineText text, Map<String, String> others, PipelineVariables variables) {
        JobContext begin = JobContext.begin(tools, others, Scope.of(variables));
        String name = text.path().substring(text.path().lastIndexOf('/') + 1).toLowerCase(Locale.ROOT);
        if (text.text().indexOf('\0') >= 0) {
            return Pipeline.unreadable(text, Kind.OTHER, 1, "this is no text");
        }
        if (name.endsWith(".yml") || name.endsWith(".yaml")) {
            return yaml(text, begin);
        }
        if (name.equals("package.json")) {
            return PackageScripts.read(text, begin);
        }
        if (name.startsWith("jenkinsfile") || name.endsWith(".groovy") || name.endsWith(".jenkinsfile")) {
            return JenkinsPipeline.read(text, begin);
        }
        if (name.endsWith(".ps1")) {
            PowerShellScript.read(text.text(), 1, begin);
            return new Pipeline(
                    text.path(), Kind.SHELL_SCRIPT, text, Optional.empty(), List.of(), List.of(), begin.steps());
        }
        boolean shell =
                name.endsWith(".sh") || name.endsWith(".bash") || text.text().startsWith("#!");
        return shell ? shell(text, begin) : guessed(text, begin);
    }

    /** What stands at the top of the pipelines of further forges, whose steps are not read. */
    private static final Set<String> OF_OTHER_FORGES = Set.of(
            "pipelines", "steps", "stages", "trigger", "pool", "script", "kind", "deploy", "build_script", "tasks");

    private Pipeline guessed(PipelineText text, JobContext begin) {
        if (text.text().stripLeading().startsWith("pipeline {") || text.text().contains("node {")) {
            return JenkinsPipeline.read(text, begin);
        }
        boolean yaml =
                text.text().lines().limit(200).anyMatch(line -> line.matches("(jobs|stages|phases|script):\\s*(#.*)?"));
        return yaml ? yaml(text, begin) : shell(text, begin);
    }

    private static Pipeline shell(PipelineText text, JobContext begin) {
        new Commands(begin).script(text.text(), 1);
        return new Pipeline(
                text.path(), Kind.SHELL_SCRIPT, text, Optional.empty(), List.of(), List.of(), begin.steps());
    }

    private Pipeline yaml(PipelineText text, JobContext begin) {
        Yaml root;
        try {
            root = Yaml.parse(text.text());
        } catch (Yaml.Refused refused) {
            return Pipeline.unreadable(text, Kind.OTHER, refused.line(), String.valueOf(refused.getMessage()));
        }
        if (GithubWorkflow.isStepOfOthers(root)) {
            return GithubWorkflow.read(root, text, begin);
        }
        for (ProviderTools each : tools) {
            Optional<Pipeline> own = each.pipeline(root, text, begin);
            if (own.isPresent()) {
                return own.get();
            }
        }
        if (GithubWorkflow.isOne(root)) {
            return GithubWorkflow.read(root, text, begin);
        }
        if (GitlabPipeline.isOne(root)) {
            return GitlabPipeline.read(root, text, begin);
        }
        if (root.members().keySet().stream().anyMatch(OF_OTHER_FORGES::contains)) {
            begin.add(
                    new Operation.NotUnderstood("the pipelines of this forge are not read yet"),
                    1,
                    text.path().substring(text.path().lastIndexOf('/') + 1));
            return new Pipeline(text.path(), Kind.OTHER, text, Optional.empty(), List.of(), List.of(), begin.steps());
        }
        return Pipeline.unreadable(
                text,
                Kind.OTHER,
                1,
                "this is no pipeline of a kind that is known: it has neither jobs, nor phases, nor jobs with a script");
    }
}
