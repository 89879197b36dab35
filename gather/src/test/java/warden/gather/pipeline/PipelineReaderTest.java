package warden.gather.pipeline;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.core.aws.account.Account;
import warden.core.aws.survey.AwsAspects;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.Trigger;
import warden.core.survey.Survey;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyReader;
import warden.gather.Pipelines;

class PipelineReaderTest {
    private static Pipeline parse(String name, String... lines) {
        return Pipelines.parse(name, lines);
    }

    private static List<DeploymentStep> operation(Pipeline pipeline, Class<? extends Operation> kind) {
        return pipeline.steps().stream()
                .filter(step -> kind.isInstance(step.operation()))
                .toList();
    }

    private static Operation.Upload upload(Pipeline pipeline) {
        return (Operation.Upload)
                operation(pipeline, Operation.Upload.class).get(0).operation();
    }

    @Test
    void readsAWorkflow() {
        Pipeline pipeline = parse(
                ".github/workflows/publish.yml",
                "name: publish",
                "on:",
                "  push: {branches: [main]}",
                "  pull_request_target:",
                "permissions: write-all",
                "env:",
                "  BUCKET: heron",
                "jobs:",
                "  publish:",
                "    permissions: {contents: read, id-token: write}",
                "    strategy: {matrix: {folder: [public]}}",
                "    env: {PREFIX: site}",
                "    steps:",
                "      - uses: actions/checkout@v4",
                "        with: {ref: '${{ github.event.pull_request.head.sha }}'}",
                "      - uses: aws-actions/configure-aws-credentials@v4",
                "        with:",
                "          role-to-assume: arn:aws:iam::210987654321:role/publisher",
                "          aws-region: eu-west-1",
                "      - name: upload",
                "        working-directory: ${{ matrix.folder }}",
                "        run: |",
                "          npm run build",
                "          aws s3 sync . s3://${{ env.BUCKET }}/$PREFIX",
                "      - run: aws cloudfront create-invalidation --distribution-id ${{ secrets.EDGE }} --paths '/*'",
                "      - uses: someone/else@v1",
                "      - run: Write-Host x",
                "        shell: pwsh",
                "  other:",
                "    uses: heron-sound-ferries/shared/.github/workflows/deploy.yml@main");
        assertThat(pipeline.problem()).isEmpty();
        assertThat(pipeline.kind()).isEqualTo(Pipeline.Kind.GITHUB_WORKFLOW);
        assertThat(pipeline.triggers()).containsExactly(new Trigger("push", 3), new Trigger("pull_request_target", 4));
        assertThat(pipeline.tokenScopes())
                .extracting(scope -> scope.job() + "/" + scope.scope() + "/" + scope.writes() + "/" + scope.line())
                .containsExactly("/*/true/5", "publish/contents/false/10", "publish/id-token/true/10");
        assertThat(operation(pipeline, Operation.Checkout.class))
                .singleElement()
                .satisfies(step -> assertThat(((Operation.Checkout) step.operation()).ref())
                        .contains("pull_request.head"));
        DeploymentStep upload = operation(pipeline, Operation.Upload.class).get(0);
        assertThat(upload.line()).isEqualTo(24);
        assertThat(upload.job()).isEqualTo("publish");
        assertThat(upload(pipeline).target().spelled()).isEqualTo("s3://heron/site");
        assertThat(upload.credential().orElseThrow().kind()).isEqualTo(Kind.ROLE_BY_TOKEN);
        assertThat(upload.credential().orElseThrow().region().orElseThrow().text())
                .isEqualTo("eu-west-1");
        Operation.Invalidate invalidation = (Operation.Invalidate)
                operation(pipeline, Operation.Invalidate.class).get(0).operation();
        assertThat(invalidation.distribution().open()).containsExactly("secrets.EDGE");
        assertThat(pipeline.notUnderstood()).extracting(DeploymentStep::line).containsExactly(26, 30);
        assertThat(operation(pipeline, Operation.Reusable.class))
                .extracting(step -> ((Operation.Reusable) step.operation()).isPinned())
                .containsExactly(false, false, false);
    }

    @Test
    void readsStepsOfOthersThatUpload() {
        Pipeline pipeline = parse(
                "publish.yml",
                "on: push",
                "jobs:",
                "  publish:",
                "    steps:",
                "      - uses: jakejarvis/s3-sync-action@v0.5.1",
                "        with: {args: '--acl public-read --delete --exclude \".git/*\"'}",
                "        env:",
                "          AWS_S3_BUCKET: heron",
                "          AWS_ACCESS_KEY_ID: ${{ secrets.KEY }}",
                "          SOURCE_DIR: public",
                "      - uses: reggionick/s3-deploy@v4",
                "        with: {folder: dist, bucket: heron-two, dist-id: E1, private: true, delete-removed: true}");
        assertThat(operation(pipeline, Operation.Upload.class))
                .extracting(step -> (Operation.Upload) step.operation())
                .satisfiesExactly(
                        first -> {
                            assertThat(first.target().spelled()).isEqualTo("s3://heron");
                            assertThat(first.acl()).contains("public-read");
                            assertThat(first.deletes()).isTrue();
                            assertThat(first.takes(".git/config")).isFalse();
                        },
                        second -> {
                            assertThat(second.target().spelled()).isEqualTo("s3://heron-two");
                            assertThat(second.acl()).isEmpty();
                        });
        assertThat(operation(pipeline, Operation.Upload.class)
                        .get(0)
                        .credential()
                        .orElseThrow()
                        .kind())
                .isEqualTo(Kind.ACCESS_KEY);
        assertThat(pipeline.invalidates()).isTrue();
    }

    @Test
    void readsAPipelineOfTheSecondHost() {
        Pipeline pipeline = parse(
                ".gitlab-ci.yml",
                "stages: [build, publish]",
                "variables: &shared",
                "  BUCKET: heron",
                "include: other.yml",
                ".base:",
                "  before_script: [cd site]",
                "  variables: {<<: *shared, PREFIX: a}",
                "publish:",
                "  stage: publish",
                "  extends: .base",
                "  script:",
                "    - aws s3 sync . s3://$BUCKET/$PREFIX",
                "    - |",
                "      aws cloudfront create-invalidation \\",
                "        --distribution-id E1 --paths '/*'",
                "  rules: [{if: '$CI_PIPELINE_SOURCE == \"merge_request_event\"'}]",
                "pages:",
                "  stage: build",
                "  script: hugo");
        assertThat(pipeline.kind()).isEqualTo(Pipeline.Kind.GITLAB_PIPELINE);
        assertThat(operation(pipeline, Operation.Build.class)).hasSize(1);
        assertThat(upload(pipeline).target().spelled()).isEqualTo("s3://heron/a");
        assertThat(upload(pipeline).source().text()).isEqualTo("site");
        assertThat(operation(pipeline, Operation.Invalidate.class).get(0).line())
                .isEqualTo(14);
        assertThat(pipeline.notUnderstood()).hasSize(1);
        assertThat(pipeline.triggers()).extracting(Trigger::event).containsExactly("merge_request_event");
        assertThat(pipeline.steps()
                        .indexOf(operation(pipeline, Operation.Build.class).get(0)))
                .isLessThan(pipeline.steps()
                        .indexOf(operation(pipeline, Operation.Upload.class).get(0)));
    }

    @Test
    void readsABuildServersPipeline() {
        Pipeline pipeline = parse(
                "Jenkinsfile",
                "@Grab('org.example:never-fetched:1') import x.Y",
                "def target = 'heron'",
                "pipeline {",
                "  agent any",
                "  environment { PREFIX = 'site'; KEY = credentials('aws') }",
                "  stages {",
                "    stage('Build') { steps { sh 'npm test' } }",
                "    stage('Publish') {",
                "      steps {",
                "        dir('dist') {",
                "          withAWS(role: 'publisher', region: 'eu-west-1') {",
                "            sh \"aws s3 sync . s3://${target}/${env.PREFIX} --delete\"",
                "            s3Upload(bucket: 'heron', path: 'x/', includePathPattern: '**/*.html', acl: 'PublicRead')",
                "            cfInvalidate(distribution: \"$EDGE\", paths: ['/*'])",
                "          }",
                "        }",
                "        script { if (params.X) { sh(script: 'aws s3 rm s3://heron/old', returnStatus: true) } }",
                "        shipIt to: 'there'",
                "      }",
                "    }",
                "  }",
                "  post { always { cleanWs() } }",
                "}");
        assertThat(pipeline.problem()).isEmpty();
        assertThat(pipeline.kind()).isEqualTo(Pipeline.Kind.JENKINS_PIPELINE);
        assertThat(upload(pipeline).source().text()).isEqualTo("dist");
        assertThat(upload(pipeline).target().spelled()).isEqualTo("s3://heron/site");
        DeploymentStep step = operation(pipeline, Operation.Upload.class).get(0);
        assertThat(step.line()).isEqualTo(12);
        assertThat(step.job()).isEqualTo("Publish");
        assertThat(step.credential().orElseThrow().kind()).isEqualTo(Kind.ROLE);
        assertThat(((Operation.Upload) operation(pipeline, Operation.Upload.class)
                                .get(1)
                                .operation())
                        .acl())
                .contains("public-read");
        assertThat(operation(pipeline, Operation.Invalidate.class)).hasSize(1);
        assertThat(operation(pipeline, Operation.Remove.class)).hasSize(1);
        assertThat(pipeline.notUnderstood()).singleElement().satisfies(unclear -> assertThat(unclear.line())
                .isEqualTo(18));
    }

    @Test
    void readsABuildSpecificationAndPackageScripts() {
        Pipeline build = parse(
                "buildspec.yml",
                "version: 0.2",
                "env: {variables: {BUCKET: heron}, parameter-store: {EDGE: /site/edge}}",
                "phases:",
                "  build: {commands: [npm run build]}",
                "  post_build:",
                "    commands:",
                "      - aws s3 sync dist s3://$BUCKET",
                "      - aws cloudfront create-invalidation --distribution-id $EDGE --paths '/*'");
        assertThat(build.kind()).isEqualTo(Pipeline.Kind.BUILD_SPECIFICATION);
        assertThat(upload(build).target().spelled()).isEqualTo("s3://heron");
        assertThat(build.invalidates()).isTrue();
        Pipeline scripts = parse(
                "package.json",
                "{\"scripts\": {",
                "  \"build\": \"vite build\",",
                "  \"predeploy\": \"npm run build\",",
                "  \"deploy\": \"aws s3 sync dist s3://heron\"",
                "}}");
        assertThat(scripts.kind()).isEqualTo(Pipeline.Kind.PACKAGE_SCRIPTS);
        assertThat(operation(scripts, Operation.Upload.class).get(0).line()).isEqualTo(4);
        assertThat(operation(scripts, Operation.Build.class)).hasSize(1);
    }

    @Test
    void readsPowerShellInABuildServersFile() {
        Pipeline pipeline = parse(
                "Jenkinsfile",
                "pipeline { stages { stage('publish') { steps {",
                "  powershell '''",
                "    Write-Host 'next'",
                "    aws s3 sync dist s3://heron",
                "  '''",
                "  pwsh(returnStdout: true, script: 'Write-S3Object -BucketName heron -File a')",
                "  bat 'deploy.cmd'",
                "} } } }");
        assertThat(operation(pipeline, Operation.Upload.class))
                .singleElement()
                .satisfies(step -> assertThat(step.line()).isBetween(2, 4));
        assertThat(pipeline.notUnderstood()).extracting(DeploymentStep::line).containsExactly(6, 7);
    }

    @Test
    void knowsNothingOfWhatALibrarysObjectPublishes() {
        Pipeline pipeline = parse(
                "Jenkinsfile",
                "@Library('heron') _",
                "node {",
                "  def name = env.BRANCH_NAME.trim()",
                "  publisher.deploySite('www')",
                "  heron.site.syncAll()",
                "}");
        assertThat(pipeline.notUnderstood()).extracting(DeploymentStep::line).containsExactly(4, 5);
    }

    @Test
    void saysWhereAFileIsBroken() {
        assertThat(parse("a.yml", "jobs:", "\tx: 1").problem().orElseThrow()).satisfies(problem -> {
            assertThat(problem.line()).isEqualTo(2);
            assertThat(problem.says()).startsWith("this is not valid YAML");
        });
        assertThat(parse(".gitlab-ci.yml", "include:\n  - project: heron/ci\n    file: deploy.yml\n"))
                .satisfies(pipeline -> {
                    assertThat(pipeline.problem()).isEmpty();
                    assertThat(pipeline.notUnderstood()).hasSize(1);
                });
        assertThat(parse("bitbucket-pipelines.yml", "pipelines:\n  default:\n    - step: {script: [ls]}\n"))
                .satisfies(pipeline -> {
                    assertThat(pipeline.problem()).isEmpty();
                    assertThat(pipeline.notUnderstood()).hasSize(1);
                });
        assertThat(parse("a.yml", "some: thing").problem().orElseThrow().says()).contains("no pipeline of a kind");
        assertThat(parse("Jenkinsfile", "pipeline {", "  stages { ((( }")
                        .problem()
                        .orElseThrow())
                .satisfies(problem -> assertThat(problem.says()).startsWith("this is not valid Groovy"));
        assertThat(parse("package.json", "{").problem()).isPresent();
        assertThat(parse("x.sh", "a\0b").problem()).isPresent();
    }

    @Test
    void doesNotUnfoldABomb() {
        StringBuilder bomb = new StringBuilder("a0: &a0 [x,x,x,x,x,x,x,x,x,x]\n");
        for (int i = 1; i < 30; i++) {
            bomb.append("a").append(i).append(": &a").append(i).append(" [");
            bomb.append(("*a" + (i - 1) + ",").repeat(9))
                    .append("*a")
                    .append(i - 1)
                    .append("]\n");
        }
        Pipeline pipeline = parse("a.yml", bomb + "jobs: {}");
        assertThat(pipeline.problem().map(Pipeline.Problem::says).orElse(""))
                .containsAnyOf("million parts", "not valid YAML");
        assertThat(parse("b.yml", "jobs: " + "[".repeat(5_000)).problem()).isPresent();
    }

    @Test
    void readsAHundredThousandLines() {
        StringBuilder jobs = new StringBuilder("on: push\njobs:\n");
        for (int i = 0; i < 25_000; i++) {
            jobs.append("  job")
                    .append(i)
                    .append(":\n    steps:\n      - run: echo ")
                    .append(i)
                    .append("\n      - run: make\n");
        }
        Pipeline pipeline = parse("a.yml", jobs.toString());
        assertThat(pipeline.problem()).isEmpty();
        assertThat(operation(pipeline, Operation.Build.class)).hasSize(25_000);
    }

    @Test
    void readsFilesAndSaysWhichOneIsUnusable(@TempDir Path folder) throws IOException {
        Path script = Files.writeString(folder.resolve("deploy.sh"), "aws s3 sync dist s3://heron");
        Path binary = Files.write(folder.resolve("binary.yml"), new byte[] {(byte) 0xff, (byte) 0xfe, 0});
        assertThat(Pipelines.READER.read(List.of(script.toString()), List.of(), PipelineVariables.none()))
                .singleElement()
                .satisfies(pipeline -> assertThat(pipeline.subject()).isEqualTo(script.toString()));
        assertThatThrownBy(() -> Pipelines.READER.read(List.of(binary.toString()), List.of(), PipelineVariables.none()))
                .hasMessageContaining("binary.yml: this is not UTF-8 text");
        assertThatThrownBy(() -> Pipelines.READER.read(List.of("nowhere.yml"), List.of(), PipelineVariables.none()))
                .hasMessageContaining("nowhere.yml: there is no such pipeline file");
    }

    @Test
    void putsInWhatTheUserTellsOfVariables(@TempDir Path folder) throws IOException {
        Path file = Files.writeString(folder.resolve("publish.yml"), """
                on: push
                env: {SET: heron}
                jobs:
                  publish:
                    steps:
                      - run: |
                          aws s3 sync a s3://${{ vars.BUCKET }}/x
                          aws s3 sync b s3://$WHERE
                          aws s3 sync c s3://${{ env.SET }}
                          aws s3 sync d s3://${{ secrets.OTHER }}
                """);
        PipelineVariables told =
                new PipelineVariables(Map.of("BUCKET", "told", "WHERE", "there", "SET", "never", "NOBODY", "x"));
        Pipeline pipeline =
                Pipelines.READER.read(List.of(file.toString()), List.of(), told).get(0);
        assertThat(operation(pipeline, Operation.Upload.class))
                .extracting(
                        step -> ((Operation.Upload) step.operation()).target().spelled())
                // What the file sets itself is as it says.
                .containsExactly("s3://told/x", "s3://there", "s3://heron", "s3://${{ secrets.OTHER }}");
        assertThat(told.unused()).containsExactly("NOBODY", "SET");
        assertThat(told.open()).containsExactly("secrets.OTHER");
    }

    /** Repositories of different accounts call their pipelines alike. */
    @Test
    void readsThePipelinesOfEachAccount() throws Exception {
        List<Account> accounts = new ArrayList<>();
        for (String number : List.of("210987654321", "109876543210")) {
            String survey = "{\"survey\":1,\"provider\":\"aws\",\"account\":\"" + number + "\"}\n"
                    + "{\"aspect\":\"pipeline-file\",\"of\":\"deploy.sh\",\"found\":{\"Path\":\"deploy.sh\",\"Text\":\"aws s3 sync x s3://of-"
                    + number + "\"}}\n";
            Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
            SurveyHeader header = SurveyReader.read(
                    new ByteArrayInputStream(survey.getBytes(StandardCharsets.UTF_8)), number, collector::add);
            accounts.add(new Account(collector.toSurvey(header)));
        }
        assertThat(Pipelines.READER.read(List.of(), accounts, PipelineVariables.none()))
                .extracting(pipeline -> upload(pipeline).target().spelled())
                .containsExactly("s3://of-210987654321", "s3://of-109876543210");
    }

    @Test
    void citesTheLineOfAFileOfItsOwn() {
        Pipeline pipeline = parse("deploy.sh", "", "aws s3 sync dist s3://heron");
        assertThat(pipeline.cite(pipeline.steps().get(0))).satisfies(citation -> {
            assertThat(citation.file()).isEqualTo("deploy.sh");
            assertThat(citation.line()).isEqualTo(2);
            assertThat(citation.quote()).isEqualTo("aws s3 sync dist s3://heron");
        });
        assertThat(pipeline.problem()).isEqualTo(Optional.empty());
    }

    /** Wherever a character of two parts stands. */
    @Test
    void readsSignsBeyondTheBasicPlane() {
        for (int i = 900; i < 1_100; i++) {
            String text =
                    "# " + "x".repeat(i) + "\uD83D\uDEA2\njobs:\n  a:\n    steps:\n      - run: aws s3 sync a s3://b\n";
            assertThat(Pipelines.READER
                            .parse(PipelineText.ofFile("a.yml", "on: push\n" + text), Map.of())
                            .problem())
                    .as("at " + i)
                    .isEmpty();
        }
    }
}
