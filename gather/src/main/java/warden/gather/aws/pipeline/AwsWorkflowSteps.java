package warden.gather.aws.pipeline;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.CommandLine;
import warden.gather.pipeline.StorageClients;
import warden.gather.pipeline.WorkflowStep;

/**
 * Understands the steps published for workflows that sign in to the first provider, upload to its storage or invalidate its edges. Source: the
 * README of each.
 */
final class AwsWorkflowSteps {
    private AwsWorkflowSteps() {}

    /** Adds what a step does; false where it is none of these. */
    static boolean read(WorkflowStep step) {
        switch (step.name().toLowerCase(Locale.ROOT)) {
            case "aws-actions/configure-aws-credentials" -> {
                signIn(step.with(), step);
                step.addReusable();
                step.add(new Operation.Nothing());
            }
            case "jakejarvis/s3-sync-action" -> {
                step.addReusable();
                step.add(syncByVariables(step));
            }
            case "reggionick/s3-deploy" -> {
                step.addReusable();
                uploadAndInvalidate(step.with()).forEach(step::add);
            }
            case "chetan/invalidate-cloudfront-action" -> {
                step.addReusable();
                step.add(new Operation.Invalidate(step.variable("DISTRIBUTION"), false));
            }
            default -> {
                return false;
            }
        }
        return true;
    }

    private static void signIn(Map<String, PipelineValue> with, WorkflowStep step) {
        Optional<PipelineValue> region = Optional.ofNullable(with.get("aws-region"));
        PipelineValue role = with.get("role-to-assume");
        PipelineValue key = with.get("aws-access-key-id");
        if (key != null) {
            step.job().use(new CredentialUse(Kind.ACCESS_KEY, role == null ? key : role, region, step.line()));
        } else if (role != null) {
            step.job().use(new CredentialUse(Kind.ROLE_BY_TOKEN, role, region, step.line()));
        }
    }

    private static Operation syncByVariables(WorkflowStep step) {
        List<String> arguments = List.of(step.input("args").text().split("\\s+"));
        CommandLine options = CommandLine.of(
                arguments.stream().map(PipelineValue::of).toList(), Set.of("--delete", "--follow-symlinks"));
        return new Operation.Upload(
                step.here().scope().variable("SOURCE_DIR").orElse(PipelineValue.of(".")),
                new Target(
                        step.variable("AWS_S3_BUCKET"),
                        step.here().scope().variable("DEST_DIR").orElse(PipelineValue.of(""))),
                true,
                true,
                options.has("--delete"),
                options.text("--acl"),
                options.text("--cache-control"),
                StorageClients.filters(options, pattern -> pattern.replaceAll("^['\"]|['\"]$", "")),
                Optional.empty());
    }

    private static List<Operation> uploadAndInvalidate(Map<String, PipelineValue> with) {
        Operation upload = new Operation.Upload(
                with.getOrDefault("folder", PipelineValue.of(".")),
                new Target(
                        with.getOrDefault("bucket", PipelineValue.open("?", "the bucket")),
                        with.getOrDefault("bucket-prefix", PipelineValue.of(""))),
                true,
                true,
                with.getOrDefault("delete-removed", PipelineValue.of("false"))
                        .text()
                        .matches("true|.*\\*.*"),
                with.getOrDefault("private", PipelineValue.of("false")).text().equals("true")
                        ? Optional.empty()
                        : Optional.of("public-read"),
                Optional.ofNullable(with.get("cache")).map(seconds -> "max-age=" + seconds),
                List.of(),
                Optional.empty());
        PipelineValue distribution = with.get("dist-id");
        return distribution == null ? List.of(upload) : List.of(upload, new Operation.Invalidate(distribution, false));
    }
}
