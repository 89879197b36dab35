package warden.gather.azure.pipeline;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.gather.Pipelines;

/** The second provider's commands, cmdlets and forge: what each does, and by what. */
class AzureCommandsTest {
    private static List<String> steps(String name, String... lines) {
        return Pipelines.parse(name, lines).steps().stream()
                .filter(step -> !(step.operation() instanceof Operation.Nothing))
                .map(AzureCommandsTest::spelled)
                .toList();
    }

    /** Says what a step does, and by what, in few words. */
    private static String spelled(DeploymentStep step) {
        String by = step.credential()
                .map(use -> " by " + use.kind() + " " + use.name())
                .orElse("");
        Operation operation = step.operation();
        if (operation instanceof Operation.Upload upload) {
            return "upload " + upload.source() + " to " + upload.target().spelled() + (upload.many() ? " many" : "")
                    + (upload.lists() ? " lists" : "") + (upload.deletes() ? " deletes" : "")
                    + upload.cacheControl().map(cache -> " cache=" + cache).orElse("") + by;
        }
        if (operation instanceof Operation.Fetch fetch) {
            return "fetch " + fetch.from().spelled()
                    + fetch.to().map(to -> " to " + to.spelled()).orElse("") + by;
        }
        if (operation instanceof Operation.Remove removal) {
            return "remove " + removal.target().spelled() + (removal.many() ? " many" : "") + by;
        }
        if (operation instanceof Operation.Invalidate invalidation) {
            return "purge " + invalidation.distribution() + by;
        }
        if (operation instanceof Operation.Call call) {
            return "call " + call.action().substring(call.action().indexOf('/') + 1) + " on " + call.on() + by;
        }
        if (operation instanceof Operation.KeepState state) {
            return "state " + state.target().spelled() + by;
        }
        return operation instanceof Operation.NotUnderstood
                ? "?"
                : operation.getClass().getSimpleName();
    }

    private static final String LISTS = "call storageAccounts/read on subscription";
    private static final String KEY = "call storageAccounts/listKeys/action on storageAccounts/";

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "az storage blob upload-batch --auth-mode login -s dist -d '$web' --account-name wifi | upload dist to wifi/$web many",
                "az storage blob upload-batch --auth-mode login --overwrite -s dist -d \"\\$web/sub\" --account-name wifi --content-cache-control no-cache | upload dist to wifi/$web/sub many cache=no-cache",
                "az storage blob upload-batch --auth-mode login --overwrite true -d https://wifi.blob.core.windows.net/\\$web -s . | upload . to wifi/$web many",
                "az storage blob sync --auth-mode login -s dist -c '$web' --account-name wifi | upload dist to wifi/$web many lists deletes",
                "az storage blob sync --auth-mode login --delete-destination false -s dist -c '$web' --account-name wifi | upload dist to wifi/$web many lists",
                "az storage blob upload --auth-mode login -f index.html -c '$web' -n index.html --account-name wifi | upload index.html to wifi/$web/index.html",
                "az storage blob delete-batch --auth-mode login -s '$web' --account-name wifi --pattern '*.html' | remove wifi/$web many",
                "az storage blob delete --auth-mode login -c '$web' -n a.html --account-name wifi | remove wifi/$web/a.html",
                "az storage blob list --auth-mode login -c '$web' --account-name wifi | fetch wifi/$web",
                "az storage blob upload-batch -s dist -d '$web' --account-name wifi --account-key $KEY | upload dist to wifi/$web many by STORE_KEY KEY",
                "az storage blob upload-batch -s dist -d '$web' --account-name wifi --sas-token $SAS | upload dist to wifi/$web many by SIGNED SAS",
                "az storage blob upload-batch -s dist -d '$web' --account-name wifi --sas-token 'se=2027&ss=b&srt=co&sig=x' | upload dist to wifi/$web many by SIGNED_BY_KEY in the file",
                "az storage blob upload-batch -s dist -d '$web' --connection-string $CONNECTION | upload dist to ?/$web many by STORE_KEY CONNECTION",
                "AZURE_STORAGE_AUTH_MODE=login AZURE_STORAGE_ACCOUNT=wifi az storage blob upload-batch -s dist -d '$web' | upload dist to wifi/$web many",
                "AZURE_STORAGE_KEY=$KEY az storage blob upload-batch -s dist -d '$web' --account-name wifi | upload dist to wifi/$web many by STORE_KEY KEY",
                "AZURE_STORAGE_KEY=$KEY az storage blob upload-batch -s dist -d '$web' --account-name wifi --auth-mode login | upload dist to wifi/$web many",
                "az storage blob service-properties update --auth-mode login --static-website --account-name wifi | call storageAccounts/blobServices/write on storageAccounts/wifi",
                "az storage account update -n wifi --min-tls-version TLS1_2 | call storageAccounts/write on storageAccounts/wifi",
                "az storage account keys list -n wifi | call storageAccounts/listKeys/action on storageAccounts/wifi",
                "az cdn endpoint purge -g rg --profile-name front -n wifi --content-paths '/*' | purge profiles/front/endpoints/wifi",
                "az afd endpoint purge -g rg --profile-name front --endpoint-name wifi --content-paths '/*' --no-wait | purge profiles/front/afdEndpoints/wifi",
                "az afd endpoint purge --profile-name front --endpoint-name $ENDPOINT --content-paths '/*' | purge profiles/front/afdEndpoints/$ENDPOINT",
                "az vm create -n x | ?",
                "az storage container frobnicate | ?",
                "az account show | ",
                "az extension add -n storage-preview | ",
                "azcopy sync dist 'https://wifi.blob.core.windows.net/$web?sv=2024&sr=c&sig=x' --delete-destination=true | upload dist to wifi/$web many lists deletes by SIGNED_BY_KEY in the file",
                "azcopy sync dist 'https://wifi.blob.core.windows.net/$web' | upload dist to wifi/$web many lists",
                "azcopy copy 'dist/*' \"https://wifi.blob.core.windows.net/\\$web$SAS\" --recursive | upload dist to wifi/$web many by SIGNED SAS",
                "azcopy copy dist 'https://wifi.blob.core.windows.net/$web?skoid=1&sktid=2&sig=x' --recursive --overwrite=ifSourceNewer | upload dist to wifi/$web many lists by SIGNED_BY_PRINCIPAL in the file",
                "AZCOPY_AUTO_LOGIN_TYPE=SPN AZCOPY_SPA_APPLICATION_ID=abc azcopy cp dist https://wifi.blob.core.windows.net/\\$web --recursive=true | upload dist to wifi/$web many by PRINCIPAL_BY_PASSWORD abc",
                "AZCOPY_AUTO_LOGIN_TYPE=MSI azcopy rm https://wifi.blob.core.windows.net/\\$web/old --recursive | remove wifi/$web/old many by MANAGED_IDENTITY ?",
                "azcopy copy dist \"$DESTINATION\" --recursive | ?",
                "rclone sync dist :azureblob:'$web' --azureblob-account wifi --azureblob-key $KEY | upload dist to wifi/$web many lists deletes by STORE_KEY KEY",
                "terraform init -backend-config=storage_account_name=state -backend-config=container_name=tf -backend-config=key=site.tfstate | state state/tf/site.tfstate"
            })
    void understandsACommand(String command, String expected) {
        List<String> steps = steps("deploy.sh", command);
        assertThat(steps).hasSizeLessThanOrEqualTo(1);
        assertThat(steps.isEmpty() ? null : steps.get(0)).isEqualTo(expected);
    }

    @Test
    void aCommandThatIsGivenNothingFetchesTheKey() {
        assertThat(steps(
                        "deploy.sh",
                        "az login --service-principal -u abc -p \"$SECRET\" --tenant t",
                        "az storage blob upload-batch -s dist -d '$web' --account-name wifi"))
                .containsExactly(
                        LISTS + " by PRINCIPAL_BY_PASSWORD abc",
                        KEY + "wifi by PRINCIPAL_BY_PASSWORD abc",
                        "upload dist to wifi/$web many by STORE_KEY fetched by the command");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "az login --service-principal -u abc -p $SECRET --tenant t | PRINCIPAL_BY_PASSWORD abc",
                "az login --service-principal -u abc -p cert.pem --tenant t | PRINCIPAL_BY_CERTIFICATE abc",
                "az login --service-principal --username abc --certificate c --tenant t | PRINCIPAL_BY_CERTIFICATE abc",
                "az login --service-principal -u $ID --federated-token $TOKEN --tenant t | PRINCIPAL_BY_TOKEN $ID",
                "az login --identity | MANAGED_IDENTITY ?",
                "az login -i -u abc | MANAGED_IDENTITY abc",
                "az login --identity --client-id abc | MANAGED_IDENTITY abc"
            })
    void understandsWhoSignsIn(String login, String expected) {
        assertThat(steps("deploy.sh", login, "az afd endpoint purge --profile-name p --endpoint-name e"))
                .containsExactly("purge profiles/p/afdEndpoints/e by " + expected);
    }

    @Test
    void readsPowerShell() {
        assertThat(steps(
                        "deploy.ps1",
                        "param([string]$Folder = 'dist')",
                        "<# nothing of this",
                        "   Set-AzStorageBlobContent #>",
                        "Connect-AzAccount -ServicePrincipal -ApplicationId abc -FederatedToken $token -Tenant t | Out-Null",
                        "$name = \"wifi\"",
                        "$ctx = New-AzStorageContext -StorageAccountName $name -UseConnectedAccount  # by login",
                        "Get-ChildItem -Path dist -File -Recurse | Set-AzStorageBlobContent `",
                        "    -Container '$web' -Context $ctx -Force",
                        "if ($clean) {",
                        "    Get-AzStorageBlob -Container \"`$web\" -Context $ctx | Remove-AzStorageBlob -Container '$web' -Context $ctx",
                        "}",
                        "foreach ($page in $pages) { Remove-AzStorageBlob -Container '$web' -Blob $page -Context $ctx }",
                        "Set-AzStorageBlobContent -File index.html -Container '$web' -Blob index.html "
                                + "-Properties @{ CacheControl = \"no-cache\"; ContentType = 'text/html' } -Context $ctx",
                        "Clear-AzFrontDoorCdnEndpointContent -ResourceGroupName rg -ProfileName front -EndpointName wifi -ContentPath '/*'",
                        "Clear-AzCdnEndpointContent -ProfileName old -EndpointName wifi -ContentPath '/*'",
                        "az storage blob upload -f a.html -c '$web' --account-name wifi --auth-mode login",
                        "Invoke-Deployment",
                        "Write-Host \"done\""))
                .containsExactly(
                        "upload dist to wifi/$web many by PRINCIPAL_BY_TOKEN abc",
                        "fetch wifi/$web by PRINCIPAL_BY_TOKEN abc",
                        "remove wifi/$web many by PRINCIPAL_BY_TOKEN abc",
                        "remove wifi/$web/$page by PRINCIPAL_BY_TOKEN abc",
                        "upload index.html to wifi/$web/index.html cache=no-cache by PRINCIPAL_BY_TOKEN abc",
                        "purge profiles/front/afdEndpoints/wifi by PRINCIPAL_BY_TOKEN abc",
                        "purge profiles/old/endpoints/wifi by PRINCIPAL_BY_TOKEN abc",
                        "upload a.html to wifi/$web",
                        "?");
    }

    @Test
    void readsTheCmdletsThatAnotherCommandAsksFirst() {
        assertThat(steps(
                        "deploy.ps1",
                        "foreach ($page in (get-azstorageblob -Container '$web' -Context $ctx)) { Write-Host $page }",
                        "foreach ($page in Get-AzStorageBlob -Container '$web' -Context $ctx) { Write-Host $page }",
                        "if (get-azstorageblob -Container '$web' -Context $ctx) { Write-Host 'there' }",
                        "Write-Host (Get-AzStorageBlob -Container '$web' -Context $ctx).Count"))
                .hasSize(4)
                .allMatch(step -> step.startsWith("fetch ?/$web"));
    }

    @Test
    void readsAGenericClientInAContainerAsOnTheMachine() {
        String call = "copy dist :azureblob:$web --azureblob-account wifi --azureblob-key $KEY";
        assertThat(steps("deploy.sh", "rclone " + call.replace("$web", "\\$web")))
                .isEqualTo(steps(
                        "deploy.sh", "docker run -v $PWD:/data rclone/rclone:1.60 " + call.replace("$web", "\\$web")))
                .singleElement()
                .isEqualTo("upload dist to wifi/$web many lists by STORE_KEY KEY");
    }

    @Test
    void readsByWhatACmdletReachesTheBlobs() {
        assertThat(steps(
                        "deploy.ps1",
                        "$ctx = (Get-AzStorageAccount -ResourceGroupName rg -Name wifi).Context",
                        "Set-AzStorageBlobContent -File a.html -Container '$web' -Blob a.html -Context $ctx"))
                .containsExactly(
                        "call storageAccounts/read on storageAccounts/wifi",
                        "call storageAccounts/read on storageAccounts/wifi",
                        KEY + "wifi",
                        "upload a.html to wifi/$web/a.html by STORE_KEY fetched by the command");
        assertThat(steps(
                        "deploy.ps1",
                        "$key = $env:KEY",
                        "$ctx = New-AzStorageContext -StorageAccountName wifi -StorageAccountKey $key",
                        "Set-AzStorageBlobContent -File a.html -Container '$web' -Blob a.html -Context $ctx"))
                .containsExactly("upload a.html to wifi/$web/a.html by STORE_KEY key");
        assertThat(steps(
                        "deploy.ps1",
                        "Set-AzStorageBlobContent -File a.html -Container '$web' -Blob a.html "
                                + "-Context (New-AzStorageContext -StorageAccountName wifi -SasToken $sas)"))
                .containsExactly("upload a.html to wifi/$web/a.html by SIGNED sas");
        assertThat(steps("deploy.ps1", "Enable-AzStorageStaticWebsite -Context $ctx -IndexDocument index.html"))
                .containsExactly("call storageAccounts/blobServices/write on storageAccounts/?");
    }

    @Test
    void readsAWorkflowThatSignsIn() {
        Pipeline pipeline = Pipelines.parse(
                ".github/workflows/publish.yml",
                "on: push",
                "permissions: {id-token: write, contents: read}",
                "jobs:",
                "  publish:",
                "    steps:",
                "      - uses: actions/checkout@v4",
                "      - uses: azure/login@v2",
                "        with:",
                "          client-id: 11111111-2222-4333-8444-555555555555",
                "          tenant-id: t",
                "          subscription-id: s",
                "      - run: az storage blob sync --auth-mode login -s dist -c '$web' --account-name wifi",
                "        env: {LEVEL: debug}",
                "      - uses: azure/CLI@v2",
                "        with:",
                "          inlineScript: |",
                "            az afd endpoint purge -g rg --profile-name front --endpoint-name wifi --content-paths '/*'",
                "      - uses: azure/powershell@v2",
                "        with:",
                "          inlineScript: Clear-AzCdnEndpointContent -ProfileName old -EndpointName wifi -ContentPath '/*'",
                "  keyed:",
                "    steps:",
                "      - uses: azure/login@v2",
                "        with: {creds: '${{ secrets.AZURE }}'}",
                "      - run: az storage blob upload-batch -s dist -d '$web' --account-name wifi --auth-mode login",
                "  other:",
                "    steps:",
                "      - run: az storage blob upload-batch -s dist -d '$web' --account-name wifi --auth-mode login");
        assertThat(pipeline.steps().stream()
                        .filter(step -> step.operation() instanceof Operation.Upload
                                || step.operation() instanceof Operation.Invalidate)
                        .map(step -> step.line() + " " + step.job() + " " + spelled(step)))
                .containsExactly(
                        "12 publish upload dist to wifi/$web many lists deletes by PRINCIPAL_BY_TOKEN 11111111-2222-4333-8444-555555555555",
                        "17 publish purge profiles/front/afdEndpoints/wifi by PRINCIPAL_BY_TOKEN 11111111-2222-4333-8444-555555555555",
                        "20 publish purge profiles/old/endpoints/wifi by PRINCIPAL_BY_TOKEN 11111111-2222-4333-8444-555555555555",
                        "25 keyed upload dist to wifi/$web many by PRINCIPAL_BY_PASSWORD ${{ secrets.AZURE }}",
                        "28 other upload dist to wifi/$web many");
        assertThat(pipeline.notUnderstood()).isEmpty();
    }

    @Test
    void readsTheProvidersOwnForge() {
        Pipeline pipeline = Pipelines.parse(
                "azure-pipelines.yml",
                "trigger: {branches: {include: [main]}}",
                "pool: {vmImage: ubuntu-latest}",
                "variables:",
                "  account: wifi",
                "stages:",
                "  - stage: deploy",
                "    jobs:",
                "      - deployment: web",
                "        environment: production",
                "        strategy:",
                "          runOnce:",
                "            deploy:",
                "              steps:",
                "                - checkout: self",
                "                - task: NodeTool@0",
                "                - script: npm run build",
                "                - task: AzureCLI@2",
                "                  inputs:",
                "                    azureSubscription: quayside",
                "                    scriptType: bash",
                "                    scriptLocation: inlineScript",
                "                    inlineScript: |",
                "                      az storage blob sync --auth-mode login -s dist -c '$web' --account-name $(account)",
                "                      az afd endpoint purge --profile-name $(profile) --endpoint-name wifi --content-paths '/*'",
                "                - task: AzurePowerShell@5",
                "                  inputs:",
                "                    azureSubscription: quayside",
                "                    ScriptType: InlineScript",
                "                    Inline: Clear-AzCdnEndpointContent -ProfileName old -EndpointName wifi -ContentPath '/*'",
                "                - task: AzureFileCopy@6",
                "                  inputs:",
                "                    azureSubscription: quayside",
                "                    SourcePath: dist",
                "                    Destination: AzureBlob",
                "                    storage: $(account)",
                "                    ContainerName: $web",
                "                - task: SomethingElse@1");
        assertThat(pipeline.kind()).isEqualTo(Pipeline.Kind.AZURE_PIPELINE);
        assertThat(pipeline.problem()).isEmpty();
        assertThat(pipeline.triggers()).singleElement().satisfies(trigger -> assertThat(trigger.event())
                .isEqualTo("trigger"));
        assertThat(pipeline.steps().stream()
                        .filter(step -> !(step.operation() instanceof Operation.Nothing))
                        .map(step -> step.line() + " " + spelled(step))
                        .collect(Collectors.toList()))
                .containsExactly(
                        "14 Checkout",
                        "16 Build",
                        "23 upload dist to wifi/$web many lists deletes by SERVICE_CONNECTION quayside",
                        "24 purge profiles/${{ profile }}/afdEndpoints/wifi by SERVICE_CONNECTION quayside",
                        "29 purge profiles/old/endpoints/wifi by SERVICE_CONNECTION quayside",
                        "30 upload dist to wifi/$web many by SERVICE_CONNECTION quayside",
                        "37 ?");
    }

    @Test
    void jobsThatStandByTheirNamesAreNotOfThatForge() {
        Pipeline pipeline = Pipelines.parse(
                "publish.yml",
                "on: push",
                "jobs:",
                "  deployment:",
                "    steps:",
                "      - run: aws s3 rm s3://heron/a");
        assertThat(pipeline.kind()).isEqualTo(Pipeline.Kind.GITHUB_WORKFLOW);
        assertThat(pipeline.steps()).hasSize(1);
        assertThat(Pipelines.parse(
                                "job.yml",
                                "on: push",
                                "jobs:",
                                "  job:",
                                "    steps:",
                                "      - run: aws s3 rm s3://heron/a")
                        .kind())
                .isEqualTo(Pipeline.Kind.GITHUB_WORKFLOW);
    }

    @Test
    void bracketsWithoutEndTakeNoTime() {
        Pipeline nested = Pipelines.parse("deploy.ps1", "$x = " + "(".repeat(200_000) + " Get-Item");
        assertThat(nested.notUnderstood()).hasSize(1);
        assertThat(Pipelines.parse("deploy.ps1", "\"" + "`\"".repeat(50_000), "'", "@{", "${", "$(")
                        .steps())
                .isNotNull();
    }

    @Test
    void secretsStayOutOfWhatIsShown() {
        String signature = "c2lnbmF0dXJlLXRoYXQtbm9ib2R5LXNob3VsZC1zZWUhIQ%3D%3D";
        Pipeline pipeline = Pipelines.parse(
                "deploy.sh",
                "azcopy copy dist 'https://wifi.blob.core.windows.net/$web?sv=2024-11-04&ss=b&srt=co&sp=rwl&sig="
                        + signature + "' --recursive");
        assertThat(pipeline.steps()).allSatisfy(step -> {
            assertThat(step.command()).doesNotContain(signature);
            assertThat(String.valueOf(step.credential())).doesNotContain(signature);
            assertThat(String.valueOf(step.operation())).doesNotContain(signature);
        });
    }
}
