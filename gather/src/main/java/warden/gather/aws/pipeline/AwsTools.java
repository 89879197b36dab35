package warden.gather.aws.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.document.JsonPart;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.survey.Reading;
import warden.core.survey.Survey;
import warden.gather.pipeline.Cmdlets;
import warden.gather.pipeline.ContainerImage;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.PipelineVariables;
import warden.gather.pipeline.PowerShellWords;
import warden.gather.pipeline.ProviderTools;
import warden.gather.pipeline.Scope;
import warden.gather.pipeline.ServerStep;
import warden.gather.pipeline.ToolCall;
import warden.gather.pipeline.WorkflowStep;
import warden.gather.pipeline.Yaml;

/** What the first provider's tools do in pipelines. */
public final class AwsTools implements ProviderTools {
    /** The word by which surveys name the provider. */
    static final String PROVIDER = "aws";

    private static final String CLI = "aws";
    private static final String DELIVERY = "delivery-pipeline";
    private static final Pattern ADDRESS =
            Pattern.compile("(?i)(https?://)?([^/?#]*[.@])?amazonaws\\.com(\\.cn)?(?![a-z0-9.-])");
    private static final Set<String> PROGRAMS =
            Stream.concat(Stream.of(CLI), S3Clients.PROGRAMS.stream()).collect(Collectors.toUnmodifiableSet());

    @Override
    public Set<String> programs() {
        return PROGRAMS;
    }

    @Override
    public boolean command(String program, List<PipelineValue> arguments, ToolCall call) {
        List<Operation> operations = program.equals(CLI)
                ? new AwsCommands(call).read(arguments)
                : List.of(S3Clients.read(program, arguments));
        operations.forEach(operation -> call.add(operation, call.here().credential(), PROVIDER));
        return true;
    }

    /** Source: AWS General Reference, "AWS service endpoints". */
    @Override
    public boolean isAddress(PipelineValue word) {
        return ADDRESS.matcher(word.text()).lookingAt();
    }

    /** Source: AWS CLI User Guide, "Running the official Amazon ECR Public or Docker images": the working folder is {@code /aws}. */
    @Override
    public Map<String, ContainerImage> images() {
        return Map.of("aws-cli", new ContainerImage(CLI, "/aws"));
    }

    /** Source: AWS CLI User Guide, "Environment variables to configure the AWS CLI". */
    @Override
    public Optional<CredentialUse> credential(Scope variables) {
        Optional<PipelineValue> region =
                variables.variable("AWS_REGION").or(() -> variables.variable("AWS_DEFAULT_REGION"));
        return variables
                .variable("AWS_ACCESS_KEY_ID")
                .map(key -> new CredentialUse(Kind.ACCESS_KEY, key, region, 1))
                .or(() -> variables
                        .variable("AWS_ROLE_ARN")
                        .map(role -> new CredentialUse(Kind.ROLE_BY_TOKEN, role, region, 1)));
    }

    /** Source: Terraform documentation, "Backend Type: s3". */
    @Override
    public boolean keepsState(Map<String, PipelineValue> backend, ToolCall call) {
        PipelineValue bucket = backend.get("bucket");
        if (bucket == null) {
            return false;
        }
        Target target = new Target(bucket, backend.getOrDefault("key", PipelineValue.of("")));
        // Stores of others that speak the same protocol are named in the same way.
        call.add(new Operation.KeepState(target), call.here().credential(), "");
        return true;
    }

    @Override
    public Optional<Cmdlets> cmdlets(PowerShellWords words, JobContext job) {
        return Optional.of(new AwsCmdlets(job));
    }

    @Override
    public boolean workflowStep(WorkflowStep step) {
        return AwsWorkflowSteps.read(step);
    }

    @Override
    public boolean serverStep(ServerStep step) {
        return AwsServerSteps.read(step);
    }

    @Override
    public Optional<Pipeline> pipeline(Yaml root, PipelineText text, JobContext begin) {
        return BuildSpecification.isOne(root)
                ? Optional.of(BuildSpecification.read(root, text, begin))
                : Optional.empty();
    }

    @Override
    public List<Pipeline> surveyed(Survey survey, PipelineVariables variables) {
        List<Pipeline> pipelines = new ArrayList<>();
        for (String arn : survey.subjects(DELIVERY)) {
            Reading<JsonPart> reading = survey.reading(DELIVERY, arn);
            reading.found()
                    .ifPresent(answer -> pipelines.add(DeliveryPipeline.read(
                            answer,
                            new PipelineText(arn, "", reading.citation().orElseThrow(), true),
                            JobContext.begin(List.of(this), Map.of(), Scope.of(variables)))));
        }
        return pipelines;
    }
}
