package warden.gather.aws.pipeline;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.pipeline.DeploymentStep;
import warden.gather.Pipelines;

/** What changes or reads the first provider's things from PowerShell is never taken for harmless. */
class AwsCmdletsTest {
    @ParameterizedTest
    @ValueSource(
            strings = {
                "Write-S3Object -BucketName heron -Folder dist -KeyPrefix / -Recurse",
                "write-s3object -BucketName heron -File index.html",
                "Get-S3Object -BucketName heron | Remove-S3Object -Force",
                "New-CFInvalidation -DistributionId E1HERON",
                "Get-IAMPolicyVersion -PolicyArn x",
                "Test-S3Bucket -BucketName heron",
                "if (Get-S3Object -BucketName heron) {\n  Write-Host 'there'\n}",
                "$found = Get-S3Object -BucketName heron",
                "foreach ($file in (Get-S3Object -BucketName heron)) { Write-Host $file }",
                "foreach ($file in Get-S3Object -BucketName heron) { Write-Host $file }",
                "Write-Host (Get-S3Object -BucketName heron)",
                "(Get-ChildItem dist).Count -eq (Get-S3Object -BucketName heron).Count",
                "Invoke-WebRequest -Method Put -InFile a.html -Uri https://heron.s3.amazonaws.com/a.html",
                "Invoke-RestMethod -Method $method -Uri $uploadUrl -InFile a.html",
                "Write-SomethingElse -To somewhere"
            })
    void areNotUnderstood(String script) {
        assertThat(Pipelines.parse("deploy.ps1", script).notUnderstood())
                .extracting(DeploymentStep::line)
                .isNotEmpty()
                .containsOnly(1);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "Get-STSCallerIdentity",
                "Set-DefaultAWSRegion -Region eu-west-1",
                "Import-Module AWS.Tools.S3",
                "Write-Host 'Write-S3Object is next'",
                "Write-Output done",
                "Write-Progress -Activity upload",
                "Invoke-WebRequest https://heronferry.example/ -OutFile a.html",
                "Invoke-RestMethod -Method Post -Uri $chatHook -Body $text",
                "Get-ChildItem dist"
            })
    void mayBeHarmless(String script) {
        assertThat(Pipelines.parse("deploy.ps1", script).notUnderstood()).isEmpty();
    }

    @Test
    void sayWhichOneItIs() {
        assertThat(Pipelines.parse("deploy.ps1", "Write-S3Object -BucketName heron -File a")
                        .notUnderstood()
                        .get(0)
                        .operation()
                        .toString())
                .contains("Write-S3Object");
    }
}
