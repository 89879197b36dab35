package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import warden.core.cloud.Clouds;
import warden.core.pipeline.Pipeline;
import warden.core.site.SiteFile;
import warden.core.survey.SurveyedAccount;
import warden.gather.pipeline.PipelineVariables;

/** Reads the pipelines that a command works on: files that were named, those that the site file names, and those of the surveys. */
final class PipelineFiles {
    private PipelineFiles() {}

    private static boolean isThere(String path) {
        try {
            return Files.isRegularFile(Path.of(path));
        } catch (InvalidPathException noPath) {
            return false;
        }
    }

    /** Reads them; a file that was named and is not readable ends the command. */
    static List<Pipeline> read(List<String> files, Clouds clouds, PipelineVariables variables) {
        return read(files, clouds.file(), clouds.accounts(), variables);
    }

    /** Reads those that the command names alone, where there is no survey. */
    static List<Pipeline> read(List<String> files, PipelineVariables variables) {
        return read(files, SiteFile.empty(), List.of(), variables);
    }

    private static List<Pipeline> read(
            List<String> files, SiteFile siteFile, List<SurveyedAccount> accounts, PipelineVariables variables) {
        Set<String> names = new LinkedHashSet<>(files);
        siteFile.sites().stream()
                .flatMap(site -> site.pipelines().stream())
                .filter(PipelineFiles::isThere)
                .forEach(names::add);
        List<Pipeline> pipelines;
        try {
            pipelines = Gatherers.PIPELINES.read(List.copyOf(names), accounts, variables);
            Variables.demandUse(variables);
        } catch (IOException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
        for (Pipeline pipeline : pipelines) {
            if (files.contains(pipeline.subject()) && pipeline.problem().isPresent()) {
                Pipeline.Problem problem = pipeline.problem().get();
                throw new InputException(
                        ExitCode.WRONG_INPUT, pipeline.subject() + ":" + problem.line() + ": " + problem.says());
            }
        }
        return pipelines;
    }
}
