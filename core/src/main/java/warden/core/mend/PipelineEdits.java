package warden.core.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;
import warden.core.audit.AuditContext;
import warden.core.audit.Finding;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.site.Site;

/**
 * Changes of a pipeline's own file, where it is certain what to write: an option that goes, one that is missing, a command behind another. Source:
 * AWS CLI Command Reference, "s3 sync", "s3 cp", "cloudfront create-invalidation".
 */
final class PipelineEdits {
    private static final Pattern OPENING =
            Pattern.compile("\\s+--acl[= ](?:public-read|public-read-write|authenticated-read)(?=\\s|$)");
    private static final Pattern SYNC = Pattern.compile("\\baws s3 sync\\b(?!.*--delete)");
    /** A command that ends with its line: nothing quotes it, and it does not go on. */
    private static final Pattern WHOLE = Pattern.compile(".*\\baws s3 (?:sync|cp)\\b[^\"'\\\\|&;#]*");

    private PipelineEdits() {}

    /** A pipeline's file as it should be. */
    record Rewritten(Pipeline pipeline, String text) {}

    /** Returns what to write; absent where that is not certain. */
    static Optional<Rewritten> of(AuditContext context, Finding finding) {
        Optional<Pipeline> pipeline = context.pipelines().stream()
                .filter(each -> each.subject().equals(finding.subject()))
                .filter(each -> each.kind() != Pipeline.Kind.DELIVERY_PIPELINE)
                .findFirst();
        return pipeline.flatMap(each -> edit(context, finding, each)
                .map(edit -> lines(each, edit))
                .filter(text -> !text.equals(each.text().text()))
                .map(text -> new Rewritten(each, text)));
    }

    private static Optional<UnaryOperator<String>> edit(AuditContext context, Finding finding, Pipeline pipeline) {
        return switch (finding.card().id()) {
            case "pipeline-opens-objects" ->
                Optional.of(line -> OPENING.matcher(line).replaceAll(""));
            case "pipeline-leaves-old-files" ->
                Optional.of(line -> SYNC.matcher(line).replaceFirst("aws s3 sync --delete"));
            case "pipeline-no-invalidation" ->
                edge(context, pipeline)
                        .map(id -> line -> WHOLE.matcher(line).matches()
                                ? line.stripTrailing() + " && aws cloudfront create-invalidation --distribution-id "
                                        + id + " --paths '/*'"
                                : line);
            default -> Optional.empty();
        };
    }

    /** Returns the one distribution of the sites that the pipeline publishes. */
    private static Optional<String> edge(AuditContext context, Pipeline pipeline) {
        List<String> edges = context.sitesOf(pipeline).stream()
                .map(Site::edgeIds)
                .flatMap(List::stream)
                .distinct()
                .toList();
        return edges.size() == 1 && edges.get(0).contains(":distribution/")
                ? Optional.of(edges.get(0).substring(edges.get(0).lastIndexOf('/') + 1))
                : Optional.empty();
    }

    /** Edits the lines at which the pipeline's uploads begin, and leaves every other as it stands. */
    private static String lines(Pipeline pipeline, UnaryOperator<String> edit) {
        List<String> lines = new ArrayList<>(pipeline.text().text().lines().toList());
        List<DeploymentStep> uploads = pipeline.steps().stream()
                .filter(step -> step.operation() instanceof Operation.Upload)
                .toList();
        for (DeploymentStep step : uploads) {
            int index = step.line() - 1;
            if (index >= 0 && index < lines.size()) {
                lines.set(index, edit.apply(lines.get(index)));
            }
        }
        boolean ends = pipeline.text().text().endsWith("\n");
        return String.join("\n", lines) + (ends ? "\n" : "");
    }
}
