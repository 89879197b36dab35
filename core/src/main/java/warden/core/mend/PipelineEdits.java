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
import warden.core.pipeline.TokenScope;
import warden.core.site.Site;

/**
 * Changes of a pipeline's own file, where it is certain what to write: an option that goes, one that is missing, a command behind another, a token
 * that reads only. Source:
 * AWS CLI Command Reference, "s3 sync", "s3 cp", "cloudfront create-invalidation".
 */
final class PipelineEdits {
    private static final Pattern OPENING =
            Pattern.compile("\\s+--acl[= ](?:public-read|public-read-write|authenticated-read)(?=\\s|$)");
    private static final Pattern SYNC = Pattern.compile("\\baws s3 sync\\b(?!.*--delete)");
    /** What of a repository no visitor is meant to read. */
    private static final String EXCLUDES = " --exclude '.git/*' --exclude '.github/*' --exclude '.env*'";
    /** Actions that need no more of the workflow's token than to read the repository, and to prove who they are. */
    private static final Pattern READING = Pattern.compile(
            "(actions/(checkout|cache|setup-[a-z]+)|aws-actions/configure-aws-credentials|azure/login)@.*",
            Pattern.CASE_INSENSITIVE);

    private static final Pattern USES = Pattern.compile("(?m)^\\s*(?:-\\s+)?uses:\\s*[\"']?([^\\s\"'#]+)");
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
        return pipeline.flatMap(each -> text(context, finding, each)
                .filter(text -> !text.equals(each.text().text()))
                .map(text -> new Rewritten(each, text)));
    }

    private static Optional<String> text(AuditContext context, Finding finding, Pipeline pipeline) {
        return finding.card().id().equals("pipeline-token-too-wide")
                ? Optional.of(reading(pipeline))
                : edit(context, finding, pipeline).map(edit -> lines(pipeline, edit));
    }

    private static Optional<UnaryOperator<String>> edit(AuditContext context, Finding finding, Pipeline pipeline) {
        return switch (finding.card().id()) {
            case "pipeline-opens-objects" ->
                Optional.of(line -> OPENING.matcher(line).replaceAll(""));
            case "pipeline-leaves-old-files" ->
                Optional.of(line -> SYNC.matcher(line).replaceFirst("aws s3 sync --delete"));
            case "pipeline-uploads-everything" ->
                Optional.of(line -> isWhole(line) ? line.stripTrailing() + EXCLUDES : line);
            case "pipeline-no-invalidation" ->
                edge(context, pipeline)
                        .map(id -> line -> isWhole(line)
                                ? line.stripTrailing() + " && aws cloudfront create-invalidation --distribution-id "
                                        + id + " --paths '/*'"
                                : line);
            default -> Optional.empty();
        };
    }

    /** Words in quotes of their own, such as what is excluded, do not make a line another's part. */
    private static boolean isWhole(String line) {
        return WHOLE.matcher(line.replaceAll(" '[^']*'", " x")).matches();
    }

    /**
     * Returns the text with a token that reads what it does not write. Source: GitHub Docs, "Workflow syntax for GitHub Actions", permissions.
     */
    private static String reading(Pipeline pipeline) {
        String text = pipeline.text().text();
        List<String> lines = new ArrayList<>(List.of(text.split("\n", -1)));
        boolean readsOnly = USES.matcher(text).results().allMatch(use -> READING.matcher(use.group(1))
                .matches());
        for (TokenScope scope : pipeline.tokenScopes()) {
            int at = scope.line() - 1;
            if (!scope.writes() || at < 0 || at >= lines.size()) {
                continue;
            }
            String line = lines.get(at);
            if (scope.scope().equals("contents")
                    || scope.scope().equals("packages")
                    || scope.scope().equals("actions")) {
                lines.set(at, line.replaceFirst("\\b(" + scope.scope() + "[\"']?\\s*:\\s*[\"']?)write\\b", "$1read"));
            } else if (scope.scope().equals("*") && readsOnly && line.matches("\\s*permissions:\\s*write-all\\s*")) {
                String indent = line.replaceFirst("\\S.*$", "");
                boolean provesItself = text.contains("role-to-assume") || text.contains("client-id");
                lines.set(
                        at,
                        indent + "permissions:\n" + indent + "  contents: read"
                                + (provesItself ? "\n" + indent + "  id-token: write" : ""));
            }
        }
        return String.join("\n", lines);
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
