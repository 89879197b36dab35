package warden.gather.aws.pipeline;

import java.util.List;
import java.util.Optional;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.gather.pipeline.Commands;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.Scope;
import warden.gather.pipeline.Yaml;

/** Reads a build specification. Source: CodeBuild User Guide, "Build specification reference". */
final class BuildSpecification {
    private static final List<String> PHASES = List.of("install", "pre_build", "build", "post_build");

    private BuildSpecification() {}

    static boolean isOne(Yaml root) {
        return root.find("phases").isPresent() && root.find("version").isPresent();
    }

    static Pipeline read(Yaml root, PipelineText text, JobContext begin) {
        Scope scope = begin.scope().inner();
        scope.set("CODEBUILD_SRC_DIR", PipelineValue.of("."));
        Commands.setAll(scope, root.scalars("env", "variables"));
        root.scalars("env", "parameter-store")
                .forEach((name, source) -> scope.set(name, scope.unset("$" + name, name)));
        root.scalars("env", "secrets-manager")
                .forEach((name, source) -> scope.set(name, scope.unset("$" + name, name)));
        for (String phase : PHASES) {
            JobContext here = begin.job(phase, scope);
            for (String list : List.of("commands", "finally")) {
                root.each("phases", phase, list).stream().filter(Yaml::isScalar).forEach(line -> new Commands(here)
                        .script(line.text(), line.textLine()));
            }
        }
        return new Pipeline(
                text.path(),
                Pipeline.Kind.BUILD_SPECIFICATION,
                text,
                Optional.empty(),
                List.of(),
                List.of(),
                begin.steps());
    }
}
