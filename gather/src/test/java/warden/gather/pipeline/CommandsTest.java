package warden.gather.pipeline;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.gather.Pipelines;

class CommandsTest {
    private static List<DeploymentStep> steps(String script) {
        return Pipelines.parse("deploy.sh", script).steps().stream()
                .filter(step -> !(step.operation() instanceof Operation.Nothing))
                .toList();
    }

    /** Says what a step does in few words. */
    private static String spelled(Operation operation) {
        if (operation instanceof Operation.Upload upload) {
            return "upload " + upload.source() + " to " + upload.target().spelled() + (upload.many() ? " many" : "")
                    + (upload.lists() ? " lists" : "") + (upload.deletes() ? " deletes" : "")
                    + upload.acl().map(acl -> " acl=" + acl).orElse("")
                    + upload.cacheControl().map(cache -> " cache=" + cache).orElse("");
        }
        if (operation instanceof Operation.Fetch fetch) {
            return (fetch.moves() ? "move " : "fetch ")
                    + fetch.from().spelled()
                    + fetch.to().map(to -> " to " + to.spelled()).orElse("")
                    + (fetch.many() ? " many" : "");
        }
        if (operation instanceof Operation.Remove removal) {
            return "remove " + removal.target().spelled() + (removal.many() ? " many" : "");
        }
        if (operation instanceof Operation.Invalidate invalidation) {
            return "invalidate " + invalidation.distribution();
        }
        if (operation instanceof Operation.Call call) {
            return "call " + call.action() + " on " + call.on();
        }
        if (operation instanceof Operation.KeepState state) {
            return "state " + state.target().spelled();
        }
        return operation instanceof Operation.NotUnderstood
                ? "?"
                : operation.getClass().getSimpleName();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "aws s3 sync dist s3://heron --delete | upload dist to s3://heron many lists deletes",
                "aws --region eu-west-1 --profile x s3 sync --delete --exact-timestamps dist/ s3://heron/site | upload dist/ to s3://heron/site many lists deletes",
                "aws s3 sync --no-progress dist s3://heron --acl public-read --cache-control 'max-age=60, public' | upload dist to s3://heron many lists acl=public-read cache=max-age=60, public",
                "aws s3 cp index.html s3://heron/index.html --cache-control=no-cache | upload index.html to s3://heron/index.html cache=no-cache",
                "aws s3 cp --recursive dist s3://heron --grants read=uri=http://acs.amazonaws.com/groups/global/AllUsers full=id=1 | upload dist to s3://heron many acl=public-read",
                "aws s3 mv dist s3://heron --recursive | upload dist to s3://heron many",
                "aws s3 cp s3://heron/a s3://other/b | fetch s3://heron/a to s3://other/b",
                "aws s3 sync s3://heron backup | fetch s3://heron many",
                "aws s3 mv s3://heron/a s3://heron/b | move s3://heron/a to s3://heron/b",
                "aws s3 rm s3://heron/old --recursive | remove s3://heron/old many",
                "aws s3 ls s3://heron | call s3:ListBucket on arn:aws:s3:::heron",
                "aws s3 website s3://heron --index-document index.html | call s3:PutBucketWebsite on arn:aws:s3:::heron",
                "aws s3 mb s3://heron | call s3:CreateBucket on arn:aws:s3:::heron",
                "aws s3api put-object --bucket heron --key a.html --body a.html --acl public-read | upload a.html to s3://heron/a.html acl=public-read",
                "aws s3api delete-object --bucket heron --key a.html | remove s3://heron/a.html",
                "aws s3api copy-object --copy-source heron/a --bucket heron --key b | fetch s3://heron/a to s3://heron/b",
                "aws s3api put-object-acl --bucket heron --key a --acl public-read | call s3:PutObjectAcl on arn:aws:s3:::heron/a",
                "aws s3api put-bucket-policy --bucket heron --policy file://p.json | call s3:PutBucketPolicy on arn:aws:s3:::heron",
                "aws s3api put-bucket-lifecycle-configuration --bucket heron --lifecycle-configuration x | call s3:PutLifecycleConfiguration on arn:aws:s3:::heron",
                "aws s3api head-object --bucket heron --key a | call s3:GetObject on arn:aws:s3:::heron/a",
                "aws s3api list-objects-v2 --bucket heron | call s3:ListBucket on arn:aws:s3:::heron",
                "aws cloudfront create-invalidation --distribution-id E1 --paths '/*' /index.html | invalidate E1",
                "aws cloudfront wait invalidation-completed --distribution-id E1 --id I1 | call cloudfront:GetInvalidation on distribution/E1",
                "aws cloudfront get-distribution --id E1 | call cloudfront:GetDistribution on distribution/E1",
                "aws cloudfront list-distributions | call cloudfront:ListDistributions on *",
                "aws lambda update-function-code --function-name f | call lambda:UpdateFunctionCode on *",
                "aws ec2 run-instances | ?",
                "aws s3 frobnicate s3://heron | ?",
                "aws s3 sync $FROM $TO | ?",
                "aws s3 sync dist s3://heron --dryrun | ",
                "aws sts get-caller-identity | ",
                "aws --version | ",
                "sudo -E aws s3 rm s3://heron/a | remove s3://heron/a",
                "npx --yes aws s3 rm s3://heron/a | remove s3://heron/a",
                "AWS_PROFILE=x timeout 60 aws s3 rm s3://heron/a | remove s3://heron/a",
                "docker run --rm -v $PWD:/x amazon/aws-cli:2 s3 rm s3://heron/a | remove s3://heron/a",
                "docker run heron/tools deploy | ?",
                "docker run --rm -v \"$PWD/dist\":/aws amazon/aws-cli s3 sync . s3://heron --delete | upload dist to s3://heron many lists deletes",
                "docker run -v $(pwd)/dist:/site:ro public.ecr.aws/aws-cli/aws-cli:2.1 s3 sync /site/www s3://heron | upload dist/www to s3://heron many lists",
                "docker run --mount type=bind,source=./out,target=/data -w /data amazon/aws-cli s3 cp a.html s3://heron/ | upload out/a.html to s3://heron",
                "docker run -v $PWD:/src -w /src/site amazon/aws-cli s3 sync public s3://heron | upload site/public to s3://heron many lists",
                "cd web; podman run --volume=${PWD}/dist:/data rclone/rclone sync . remote:heron | upload web/dist to s3://heron many lists deletes",
                "docker run amazon/aws-cli s3 sync /srv/site s3://heron | upload /srv/site to s3://heron many lists",
                "docker build . | Build",
                "rclone sync --fast-list public remote:heron/site | upload public to s3://heron/site many lists deletes",
                "rclone copy public remote:heron | upload public to s3://heron many lists",
                "rclone delete remote:heron/old | remove s3://heron/old many",
                "s3cmd sync --delete-removed --acl-public dist/ s3://heron/ | upload dist/ to s3://heron many lists deletes acl=public-read",
                "s3cmd del s3://heron/a | remove s3://heron/a",
                "mc mirror --remove dist store/heron/site | upload dist to s3://heron/site many lists deletes",
                "s5cmd sync --delete dist/ s3://heron/ | upload dist/ to s3://heron many lists deletes",
                "az vm create | ?",
                "terraform init -backend-config=\"bucket=heron-state\" -backend-config=key=site.tfstate | state s3://heron-state/site.tfstate",
                "terraform apply -auto-approve | ?",
                "terraform validate | ",
                "hugo --minify | Build",
                "make test | Test",
                "make deploy | ?",
                "npm ci | ",
                "npm test | Test",
                "npm run build | Build",
                "yarn lint | Test",
                "npm run deploy | ?",
                "npx html-validate dist | Test",
                "python -m pytest | Test",
                "python build.py | Build",
                "python tools/publish.py | ?",
                "./scripts/build.sh | Build",
                "./scripts/deploy.sh | ?",
                "bash -c 'aws s3 rm s3://heron/a' | remove s3://heron/a",
                "$TOOL sync | ?",
                "kubectl apply -f x | ?",
                "echo aws s3 rm s3://heron/a | ",
                "eval \"$(deploy-command)\" | ?"
            })
    void understandsACommand(String command, String expected) {
        assertThat(steps(command)).extracting(step -> spelled(step.operation())).hasSizeLessThanOrEqualTo(2);
        String all = steps(command).isEmpty()
                ? null
                : spelled(steps(command).get(steps(command).size() - 1).operation());
        assertThat(all).isEqualTo(expected);
    }

    @Test
    void readsTheShellsGrammar() {
        String script = String.join(
                "\n",
                "#!/bin/sh",
                "set -euo pipefail   # nothing",
                "BUCKET=heron; PREFIX=site",
                "export REGION=\"eu-west-1\"",
                "aws s3 sync dist \\",
                "    \"s3://${BUCKET}/$PREFIX\" \\",
                "    --delete",
                "if [ \"$1\" = all ]; then",
                "  BUCKET=other",
                "  aws s3 rm s3://$BUCKET/a",
                "else aws s3 rm s3://heron/b; fi",
                "for page in a b; do aws s3 rm \"s3://heron/$page\"; done",
                "case $1 in",
                "  x|y) aws s3 rm s3://heron/case ;;",
                "  *) true ;;",
                "esac",
                "publish() {",
                "  aws s3 cp a s3://heron/f",
                "}",
                "publish",
                "ID=$(aws cloudfront create-invalidation --distribution-id E1 --paths '/*' | jq -r .Id)",
                "cat <<-'END' > file",
                "aws s3 rm s3://heron/not-a-command",
                "END",
                "echo \"aws s3 rm s3://heron/quoted\" >/dev/null 2>&1 && aws s3 rm s3://heron/`date +%s`",
                "(cd public && aws s3 sync . s3://heron)",
                "aws s3 sync $OTHER s3://${TARGET:-heron-default}");
        assertThat(steps(script))
                .extracting(step -> step.line() + " " + spelled(step.operation()))
                .containsExactly(
                        "5 upload dist to s3://heron/site many lists deletes",
                        "10 remove s3://$BUCKET/a",
                        "11 remove s3://heron/b",
                        "12 remove s3://heron/$page",
                        "14 remove s3://heron/case",
                        "18 upload a to s3://heron/f",
                        "21 invalidate E1",
                        "25 remove s3://heron/$(date +%s)",
                        "26 upload public to s3://heron many lists",
                        "27 upload $OTHER to s3://heron-default many lists");
        DeploymentStep branch = steps(script).get(1);
        assertThat(((Operation.Remove) branch.operation()).target().bucket().open())
                .containsExactly("BUCKET");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "aws s3 sync 'dist",
                "$(",
                "${",
                "`",
                "case x in",
                "if true; then",
                "<<EOF",
                "a=(1 2 3)",
                "\\",
                "((((((((((((((",
                "$((1+",
                "cat <<",
                "\"$(aws s3 rm \"s3://heron/a\"",
                ";;;;&&&&||||",
                "${{ secrets.X",
                "aws",
                "aws s3",
                "az",
                "rclone sync",
                "docker run",
                "npm"
            })
    void survivesWhatIsCutOff(String script) {
        assertThat(Pipelines.parse("deploy.sh", script).problem()).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "find dist -name '*.html' -exec aws s3 cp {} s3://heron/ \\;",
                "find dist -type f -execdir az storage blob upload -f {} \\;",
                "curl -T index.html https://heron.s3.eu-west-1.amazonaws.com/index.html",
                "curl -fsS -X PUT --data-binary @index.html \"https://wifi.blob.core.windows.net/\\$web/index.html?$SAS\"",
                "curl --request=DELETE https://s3.amazonaws.com/heron/index.html",
                "curl -XPOST -d '{}' https://management.azure.com/subscriptions/x/purge",
                "curl --upload-file site.zip \"$UPLOAD_URL\"",
                "curl -X \"$METHOD\" \"$UPLOAD_URL\"",
                "curl --tlsv1.2 --upload-file a https://heron.s3.amazonaws.com/a",
                "curl --some-new-flag https://heron.s3.amazonaws.com/a -T a",
                "curl -sSfTindex.html https://heron.s3.amazonaws.com/",
                "curl -fsSXDELETE https://heron.s3.amazonaws.com/a",
                "wget --method=PUT --body-file=index.html https://heron.s3.amazonaws.com/index.html",
                "wget --method PUT --body-file index.html $UPLOAD_URL",
                "eval \"aws s3 sync dist $PLACE\"",
                "eval \"$DEPLOY_COMMAND\"",
                "trap \"$CLEAN_UP\" EXIT",
                "python3 - <<EOF\nimport boto3\nEOF",
                "python3 <<EOF\nimport boto3\nEOF",
                "python3 -c \"import boto3; boto3.client('s3').put_object(Bucket='heron', Key='a')\"",
                "node -e \"require('child_process').spawnSync(process.argv[2])\"",
                "bash -s < build-all",
                "python3 -u sync.py",
                "node -r dotenv/config sync.js",
                "perl -e 'system(\"aws s3 rm s3://heron/a\")'",
                "curl -fsS https://heronferry.example/build.sh | bash -s -- build",
                "bash -",
                "bash <<EOF\naws s3 rm s3://heron/a\nEOF"
            })
    void takesForNothingThatMayChangeAStore(String script) {
        assertThat(Pipelines.parse("run.sh", script).notUnderstood()).hasSize(1);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "find dist -name '*.map' -delete",
                "find dist -name '*.html' -exec gzip -9 {} \\;",
                "find dist -type f -exec sed -i s/a/b/ {} +",
                "curl -fsS https://heron.s3.eu-west-1.amazonaws.com/index.html -o index.html",
                "curl -I \"$SITE_URL\"",
                "curl -X POST -H 'Content-type: application/json' --data '{}' \"$CHAT_HOOK\"",
                "curl -X PUT https://api.heronferry.example/deployments/1",
                "wget -q https://heronferry.example/",
                "wget -T 30 -O page.html \"$SITE_URL\"",
                "curl -X PUT -H \"Authorization: Bearer $TOKEN\" -d \"$BODY\" -o \"$OUT\" https://api.heronferry.example/releases",
                "curl --retry 3 --output a.tgz \"$SITE_URL\"",
                "eval \"$(ssh-agent -s)\"",
                "eval \"cd dist && ls\"",
                "trap - EXIT",
                "trap 'rm -rf \"$work\"' EXIT INT",
                "command -v aws",
                "node -p \"require('./package.json').version\"",
                "python3 -c \"print(1)\"",
                "node -p process.env.VERSION",
                "perl -pi -e 's/http:/https:/g' dist/index.html",
                "ruby -rjson -e 'puts 1'",
                "python3 --version",
                "bash --version",
                "command -v hugo"
            })
    void takesForNothingThatChangesNoStore(String script) {
        assertThat(steps(script)).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "command aws s3 rm s3://heron/a",
                "eval \"aws s3 rm s3://heron/a\"",
                "eval aws s3 rm s3://heron/a",
                "trap 'aws s3 rm s3://heron/a' EXIT",
                "bash -ec 'aws s3 rm s3://heron/a'",
                "bash -eo pipefail -c 'aws s3 rm s3://heron/a'",
                "/usr/bin/bash -c 'aws s3 rm s3://heron/a'"
            })
    void readsWhatAWordOfTheShellRuns(String script) {
        assertThat(steps(script)).extracting(step -> spelled(step.operation())).containsExactly("remove s3://heron/a");
    }

    @ParameterizedTest
    @ValueSource(strings = {"$PWD", "${PWD}", "$(pwd)", "`pwd`", "."})
    void knowsTheFolderThatAContainerMounts(String here) {
        DeploymentStep step = steps("docker run -v " + here + "/dist:/aws amazon/aws-cli s3 sync . s3://heron")
                .get(0);
        assertThat(((Operation.Upload) step.operation()).source().isKnown()).isTrue();
        DeploymentStep other = steps("docker run -v $OUT:/aws amazon/aws-cli s3 sync . s3://heron")
                .get(0);
        assertThat(((Operation.Upload) other.operation()).source().isKnown()).isFalse();
    }

    @Test
    void knowsTheCredentialAndTheRegion() {
        String script = "export AWS_ACCESS_KEY_ID=$KEY AWS_DEFAULT_REGION=eu-west-1\naws s3 rm s3://heron/a\n"
                + "aws sts assume-role-with-web-identity --role-arn arn:aws:iam::210987654321:role/publisher --role-session-name x\n"
                + "aws s3 rm s3://heron/b";
        List<DeploymentStep> steps = steps(script);
        CredentialUse first = steps.get(0).credential().orElseThrow();
        assertThat(first.kind()).isEqualTo(CredentialUse.Kind.ACCESS_KEY);
        assertThat(first.name().isKnown()).isFalse();
        assertThat(first.region().orElseThrow().text()).isEqualTo("eu-west-1");
        CredentialUse second = steps.get(1).credential().orElseThrow();
        assertThat(second.kind()).isEqualTo(CredentialUse.Kind.ROLE_BY_TOKEN);
        assertThat(second.name().text()).isEqualTo("arn:aws:iam::210987654321:role/publisher");
    }

    @Test
    void takesFiltersInTheirOrder() {
        Operation.Upload upload = (Operation.Upload)
                steps("aws s3 sync . s3://heron --exclude '*' --include '*.html' --exclude 'drafts/*'")
                        .get(0)
                        .operation();
        assertThat(upload.takes("index.html")).isTrue();
        assertThat(upload.takes("drafts/new.html")).isFalse();
        assertThat(upload.takes(".git/config")).isFalse();
    }

    @Test
    void masksSecretsInWhatItShows() {
        String key = "AKIA" + "Q7HERONBOOK0TEST";
        assertThat(steps("aws configure set aws_access_key_id " + key + " && frobnicate " + key)
                        .get(0)
                        .command())
                .doesNotContain(key)
                .contains("****");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "pwsh deploy.ps1",
                "pwsh -NoProfile -File ./deploy.ps1",
                "./deploy.ps1",
                "powershell -ExecutionPolicy Bypass -f deploy.ps1"
            })
    void readsAPowerShellScriptThatIsGivenTooInItsOwnLanguage(String call) {
        Map<String, String> files = Map.of("deploy.ps1", "$place = 's3://heron'\nif ($true) {\n  aws s3 rm $place\n}");
        assertThat(Pipelines.READER
                        .parse(PipelineText.ofFile("run.sh", call), files)
                        .steps())
                .filteredOn(step -> !(step.operation() instanceof Operation.Nothing))
                .extracting(step -> spelled(step.operation()))
                .containsExactly("remove s3://heron");
    }

    @Test
    void readsScriptsThatAreGivenToo() {
        Map<String, String> files = Map.of(
                "repo/scripts/deploy.sh", "aws s3 sync \"$1\" s3://heron\n./scripts/deploy.sh",
                "repo/package.json",
                        "{\"scripts\":{\"predeploy\":\"npm run build\",\"build\":\"vite build\",\"deploy\":\"sh scripts/deploy.sh\"}}");
        Pipeline pipeline = Pipelines.READER.parse(PipelineText.ofFile("run.sh", "npm run deploy"), files);
        assertThat(pipeline.steps())
                .filteredOn(step -> !(step.operation() instanceof Operation.Nothing))
                .extracting(step -> spelled(step.operation()))
                .containsExactly("Build", "upload $1 to s3://heron many lists", "?");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {"aws s3 rm", "az storage blob delete -n", "azcopy rm", "s5cmd rm", "mc rm", "rclone deletefile"})
    void doesNotGuessWhatIsHandedToACommand(String command) {
        assertThat(steps("find . -name '*.html' | xargs -n 1 " + command))
                .extracting(step -> spelled(step.operation()))
                .containsExactly("?");
    }
}
