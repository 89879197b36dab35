package warden.gather.aws.pipeline;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import warden.core.document.JsonReader;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.Scope;

class DeliveryPipelineTest {
    @Test
    void readsADeliveryPipelineOfTheAccount() {
        String answer = "{\"pipeline\":{\"roleArn\":\"arn:aws:iam::210987654321:role/delivery\",\"stages\":["
                + "{\"name\":\"Source\",\"actions\":[{\"name\":\"S\",\"actionTypeId\":{\"category\":\"Source\",\"provider\":\"CodeCommit\"}}]},"
                + "{\"name\":\"Build\",\"actions\":[{\"name\":\"B\",\"actionTypeId\":{\"category\":\"Build\",\"provider\":\"CodeBuild\"},\"outputArtifacts\":[{\"name\":\"o\"}]}]},"
                + "{\"name\":\"Deploy\",\"actions\":[{\"name\":\"D\",\"actionTypeId\":{\"category\":\"Deploy\",\"provider\":\"S3\"},"
                + "\"configuration\":{\"BucketName\":\"heron\",\"Extract\":\"false\",\"ObjectKey\":\"site.zip\",\"CannedACL\":\"public-read\"}}]}]}}";
        Pipeline pipeline = DeliveryPipeline.read(
                JsonReader.read(answer).root().orElseThrow(),
                PipelineText.ofFile("arn:aws:codepipeline:eu-west-1:210987654321:site", ""),
                JobContext.begin(List.of(), Map.of(), Scope.empty()));
        DeploymentStep last = pipeline.steps().get(2);
        Operation.Upload upload = (Operation.Upload) last.operation();
        assertThat(upload.extracts()).contains(false);
        assertThat(upload.acl()).contains("public-read");
        assertThat(upload.target().spelled()).isEqualTo("s3://heron/site.zip");
        assertThat(last.credential().orElseThrow().name().text()).isEqualTo("arn:aws:iam::210987654321:role/delivery");
        assertThat(pipeline.steps().get(1).operation()).isInstanceOf(Operation.Build.class);
        assertThat(pipeline.notUnderstood()).isEmpty();
    }
}
