package warden.gather.aws.pipeline;

import java.util.List;
import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.JobContext;

/**
 * Reads a delivery pipeline of the account. Source: CodePipeline API Reference, "GetPipeline"; CodePipeline User Guide, "Amazon S3 deploy
 * action reference".
 */
final class DeliveryPipeline {
    private DeliveryPipeline() {}

    /**
     * Reads the answer to {@code GetPipeline}.
     *
     * @param text of which only the citation is used; the steps have no lines
     */
    static Pipeline read(JsonPart answer, PipelineText text, JobContext begin) {
        JsonPart pipeline = answer.find("pipeline").orElse(answer);
        Optional<String> own = pipeline.text("roleArn");
        for (JsonPart stage : pipeline.list("stages")) {
            JobContext here = begin.job(stage.text("name").orElse(""), begin.scope());
            for (JsonPart action : stage.list("actions")) {
                Optional<String> role = action.text("roleArn").or(() -> own);
                Optional<PipelineValue> region = action.text("region").map(PipelineValue::of);
                role.ifPresent(arn -> here.use(new CredentialUse(Kind.ROLE, PipelineValue.of(arn), region, 0)));
                here.add(operation(action), 0, "action " + action.text("name").orElse("") + " at " + action.at());
            }
        }
        return new Pipeline(
                text.path(),
                Pipeline.Kind.DELIVERY_PIPELINE,
                text,
                Optional.empty(),
                List.of(),
                List.of(),
                begin.steps());
    }

    private static Operation operation(JsonPart action) {
        String category = action.text("actionTypeId", "category").orElse("");
        String provider = action.text("actionTypeId", "provider").orElse("");
        if (category.equals("Deploy") && provider.equals("S3")) {
            PipelineValue bucket = action.text("configuration", "BucketName")
                    .map(DeliveryPipeline::term)
                    .orElse(PipelineValue.open("?", "BucketName"));
            boolean extracts = action.text("configuration", "Extract")
                    .filter("true"::equals)
                    .isPresent();
            PipelineValue key = action.text("configuration", "ObjectKey")
                    .map(DeliveryPipeline::term)
                    .orElse(PipelineValue.of(""));
            return new Operation.Upload(
                    PipelineValue.of("the input artifact"),
                    new Target(bucket, key),
                    extracts,
                    false,
                    false,
                    action.text("configuration", "CannedACL"),
                    action.text("configuration", "CacheControl"),
                    List.of(),
                    Optional.of(extracts));
        }
        return switch (category) {
            case "Source" -> new Operation.Checkout("");
            case "Test" -> new Operation.Test();
            case "Build" ->
                action.list("outputArtifacts").isEmpty()
                        ? new Operation.NotUnderstood("what the build project "
                                + action.text("configuration", "ProjectName").orElse("")
                                + " runs is in its build specification")
                        : new Operation.Build();
            case "Approval" -> new Operation.Nothing();
            default ->
                new Operation.NotUnderstood("what an action of " + category + " by " + provider + " does is not known");
        };
    }

    private static PipelineValue term(String value) {
        return value.contains("#{") ? PipelineValue.open(value, value) : PipelineValue.of(value);
    }
}
