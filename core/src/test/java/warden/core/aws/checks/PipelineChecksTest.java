package warden.core.aws.checks;

import static warden.core.fixture.Audited.check;
import static warden.core.fixture.HealthySites.BUCKET;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.sealed;
import static warden.core.fixture.PipelineBuilder.aPipeline;
import static warden.core.fixture.PipelineBuilder.term;
import static warden.core.fixture.PipelineBuilder.upload;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.audit.Severity;
import warden.core.fixture.PipelineBuilder;
import warden.core.fixture.SurveyBuilder;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;

class PipelineChecksTest {
    private static final String FILE = "publish.yml";
    private static final Operation UNCLEAR = new Operation.NotUnderstood("what deploy.py does is not in this file");

    private static Pipeline healthy() {
        return aPipeline()
                .on("push")
                .may("contents", false)
                .may("id-token", true)
                .asRole("arn:aws:iam::210987654321:role/publisher")
                .step(new Operation.Checkout(""))
                .step(new Operation.Test())
                .sync("dist", BUCKET, true)
                .invalidate("E1")
                .build();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "pipeline-secret-in-file",
                "pipeline-untrusted-trigger",
                "pipeline-unpinned-step",
                "pipeline-token-too-wide",
                "pipeline-opens-objects",
                "pipeline-uploads-everything",
                "pipeline-leaves-old-files",
                "pipeline-delete-without-net",
                "pipeline-no-invalidation",
                "pipeline-wrong-target",
                "pipeline-not-extracted",
                "pipeline-deploys-untested",
                "pipeline-state-exposed"
            })
    void isSilentOnAHealthyPipelineAndUnknownOnOneThatCannotBeRead(String id) {
        check(id, sealed(), healthy()).isSilent();
        if (!id.equals("pipeline-secret-in-file")) {
            check(id, sealed(), aPipeline().broken()).isUnknownFor("pipeline-file");
        }
        check(id, sealed().unread("pipeline-file", "lost.yml")).isUnknownFor("pipeline-file");
    }

    @Test
    void secretInFile() {
        String key = "AKIA" + "Q7HERONBOOK0TEST";
        check(
                        "pipeline-secret-in-file",
                        sealed(),
                        aPipeline().text("env:\n  KEY: " + key + "\n").broken())
                .flags(Severity.CRITICAL, FILE, "Line 2 holds an access key of the provider");
        check(
                        "pipeline-secret-in-file",
                        sealed(),
                        aPipeline().text("env:\n  KEY: ${{ secrets.KEY }}\n").build())
                .isSilent();
    }

    @ParameterizedTest
    @CsvSource({
        "pull_request_target, ${{ github.event.pull_request.head.sha }}, true",
        "workflow_run,        ${{ github.event.workflow_run.head_sha }}, true",
        "issue_comment,       refs/pull/${{ github.event.issue.number }}/merge, true",
        "pull_request_target, '',                                        false",
        "pull_request,        ${{ github.event.pull_request.head.sha }}, false",
        "push,                ${{ github.head_ref }},                    false",
    })
    void untrustedTrigger(String event, String ref, boolean flagged) {
        Pipeline pipeline = aPipeline()
                .on(event)
                .withKey("$secrets.KEY", "eu-west-1")
                .step(new Operation.Checkout(ref))
                .sync("dist", BUCKET, true)
                .build();
        if (flagged) {
            check("pipeline-untrusted-trigger", sealed(), pipeline).flags(Severity.HIGH, FILE, "their own code");
        } else {
            check("pipeline-untrusted-trigger", sealed(), pipeline).isSilent();
        }
        Pipeline withoutSecrets =
                aPipeline().on(event).step(new Operation.Checkout(ref)).build();
        check("pipeline-untrusted-trigger", sealed(), withoutSecrets).isSilent();
    }

    @ParameterizedTest
    @CsvSource({
        "someone/upload,        v1,                                       true",
        "someone/upload,        master,                                   true",
        "someone/upload,        '',                                       true",
        "someone/upload,        e3dd6a429d7300a6a4c196c26e071d42e0343502, false",
        "actions/setup-node,    v4,                                       false",
        "aws-actions/configure-aws-credentials, v4,                       false",
    })
    void unpinnedStep(String name, String version, boolean flagged) {
        PipelineBuilder with =
                aPipeline().withKey("$secrets.KEY", "eu-west-1").step(new Operation.Reusable(name, version, false));
        if (flagged) {
            check("pipeline-unpinned-step", sealed(), with.build()).flags(Severity.MEDIUM, FILE, name);
        } else {
            check("pipeline-unpinned-step", sealed(), with.build()).isSilent();
        }
        check(
                        "pipeline-unpinned-step",
                        sealed(),
                        aPipeline()
                                .step(new Operation.Reusable(name, version, false))
                                .build())
                .isSilent();
    }

    @Test
    void unpinnedStepThatIsGivenSecrets() {
        check(
                        "pipeline-unpinned-step",
                        sealed(),
                        aPipeline()
                                .step(new Operation.Reusable("someone/notify", "v1", true))
                                .build())
                .flags(Severity.MEDIUM, FILE, "is given secrets");
    }

    @ParameterizedTest
    @CsvSource({
        "*, true, true",
        "contents, true, true",
        "packages, true, true",
        "contents, false, false",
        "id-token, true, false"
    })
    void tokenTooWide(String scope, boolean writes, boolean flagged) {
        Pipeline pipeline =
                aPipeline().may(scope, writes).sync("dist", BUCKET, true).build();
        if (flagged) {
            check("pipeline-token-too-wide", sealed(), pipeline).flags(Severity.MEDIUM, FILE, "may write");
        } else {
            check("pipeline-token-too-wide", sealed(), pipeline).isSilent();
        }
    }

    @Test
    void opensObjects() {
        Pipeline opens = aPipeline()
                .step(upload("dist", BUCKET, "", true, true, Optional.of("public-read")))
                .build();
        check("pipeline-opens-objects", sealed(), opens).flags(Severity.HIGH, FILE, "and fails");
        check(
                        "pipeline-opens-objects",
                        sealed().accountGuard(false)
                                .bucket("open", bucket -> bucket.aclsInForce().guard(false)),
                        aPipeline()
                                .step(upload("dist", "open", "", true, true, Optional.of("public-read")))
                                .build())
                .flags(Severity.MEDIUM, FILE, "by the ACL public-read");
        check(
                        "pipeline-opens-objects",
                        sealed(),
                        aPipeline()
                                .step(upload("dist", BUCKET, "", true, true, Optional.of("bucket-owner-full-control")))
                                .build())
                .isSilent();
    }

    @Test
    void uploadsEverything() {
        check(
                        "pipeline-uploads-everything",
                        sealed(),
                        aPipeline()
                                .step(new Operation.Checkout(""))
                                .sync(".", BUCKET, true)
                                .build())
                .flags(Severity.HIGH, FILE, "the repository itself");
        check(
                        "pipeline-uploads-everything",
                        sealed(),
                        aPipeline()
                                .named(Pipeline.Kind.GITLAB_PIPELINE)
                                .step(upload(".", BUCKET, "", true, true, Optional.empty(), ".git/*"))
                                .build())
                .flags(Severity.HIGH, FILE, ".github");
        check(
                        "pipeline-uploads-everything",
                        sealed(),
                        aPipeline()
                                .step(upload("./", BUCKET, "", true, true, Optional.empty(), ".*"))
                                .build())
                .isSilent();
        check(
                        "pipeline-uploads-everything",
                        sealed(),
                        aPipeline().sync("./dist", BUCKET, true).build())
                .isSilent();
    }

    @Test
    void leavesOldFiles() {
        check(
                        "pipeline-leaves-old-files",
                        sealed(),
                        aPipeline().sync("dist", BUCKET, false).build())
                .flags(Severity.LOW, FILE, "never deletes");
        check(
                        "pipeline-leaves-old-files",
                        sealed(),
                        aPipeline()
                                .sync("dist", BUCKET, false)
                                .step(new Operation.Remove(new Target(term(BUCKET), term("")), true))
                                .build())
                .isSilent();
        check(
                        "pipeline-leaves-old-files",
                        sealed(),
                        aPipeline().sync("dist", BUCKET, false).step(UNCLEAR).build())
                .isUnknownFor("pipeline-file");
        check(
                        "pipeline-leaves-old-files",
                        sealed(),
                        aPipeline()
                                .step(upload("a.html", BUCKET, "a.html", false, false, Optional.empty()))
                                .build())
                .doesNotApply();
    }

    @Test
    void deleteWithoutNet() {
        Pipeline deletes = aPipeline().sync("dist", BUCKET, true).build();
        check(
                        "pipeline-delete-without-net",
                        sealed().found("bucket-versioning", BUCKET_ARN, "{'Status':'Suspended'}"),
                        deletes)
                .flags(Severity.MEDIUM, FILE, "versioning is not on");
        check("pipeline-delete-without-net", sealed().found("bucket-versioning", BUCKET_ARN, "{}"), deletes)
                .flags(Severity.MEDIUM, FILE, "versioning is not on");
        check("pipeline-delete-without-net", sealed().without("bucket-versioning", BUCKET_ARN), deletes)
                .isUnknownFor("bucket-versioning");
        check(
                        "pipeline-delete-without-net",
                        sealed().found("bucket-versioning", BUCKET_ARN, "{}"),
                        aPipeline().sync("dist", BUCKET, false).build())
                .isSilent();
    }

    @Test
    void noInvalidation() {
        check(
                        "pipeline-no-invalidation",
                        sealed(),
                        aPipeline().sync("dist", BUCKET, true).build())
                .flags(Severity.MEDIUM, FILE, "never invalidates");
        check(
                        "pipeline-no-invalidation",
                        sealed(),
                        aPipeline().sync("dist", BUCKET, true).invalidate("E1").build())
                .isSilent();
        check(
                        "pipeline-no-invalidation",
                        sealed(),
                        aPipeline()
                                .sync("dist", BUCKET, true)
                                .invalidate("$EDGE")
                                .build())
                .isUnknownFor("pipeline-file");
        check(
                        "pipeline-no-invalidation",
                        sealed(),
                        aPipeline().sync("dist", BUCKET, true).step(UNCLEAR).build())
                .isUnknownFor("pipeline-file");
        Operation.Upload fresh = new Operation.Upload(
                PipelineValue.of("dist"),
                new Target(PipelineValue.of(BUCKET), PipelineValue.of("")),
                true,
                true,
                true,
                Optional.empty(),
                Optional.of("no-cache"),
                java.util.List.of(),
                Optional.empty());
        check("pipeline-no-invalidation", sealed(), aPipeline().step(fresh).build())
                .isSilent();
    }

    @Test
    void wrongTarget() {
        check(
                        "pipeline-wrong-target",
                        sealed(),
                        aPipeline().sync("dist", "heron-wwww", true).build())
                .flags(Severity.HIGH, FILE, "heron-wwww, which is in no surveyed account");
        check(
                        "pipeline-wrong-target",
                        sealed().unread("bucket-list", SurveyBuilder.ACCOUNT),
                        aPipeline().sync("dist", "heron-wwww", true).build())
                .isUnknownFor("bucket-list");
        check(
                        "pipeline-wrong-target",
                        sealed().unread("bucket-location", BUCKET_ARN),
                        aPipeline()
                                .withKey("$K", "us-west-2")
                                .sync("dist", BUCKET, true)
                                .build())
                .isUnknownFor("bucket-location");
        check(
                        "pipeline-wrong-target",
                        sealed(),
                        aPipeline()
                                .withKey("$K", "us-west-2")
                                .sync("dist", BUCKET, true)
                                .build())
                .flags(Severity.HIGH, FILE, "works in the region us-west-2");
        check(
                        "pipeline-wrong-target",
                        sealed(),
                        aPipeline().sync("dist", "$BUCKET", true).build())
                .isUnknownFor("pipeline-file");
        // What does not rest on the bucket is answered.
        for (String check : List.of("pipeline-state-exposed", "pipeline-not-extracted")) {
            check(check, sealed(), aPipeline().sync("dist", "$BUCKET", true).build())
                    .isSilent();
        }
        check(
                        "pipeline-delete-without-net",
                        sealed(),
                        aPipeline().sync("dist", "$BUCKET", true).build())
                .isUnknownFor("pipeline-file");
        check(
                        "pipeline-delete-without-net",
                        sealed(),
                        aPipeline().sync("dist", "$BUCKET", false).build())
                .isSilent();
        check(
                        "pipeline-state-exposed",
                        sealed(),
                        aPipeline()
                                .sync("dist", BUCKET, false)
                                .step(new Operation.KeepState(new Target(term("$STATE"), term("site.tfstate"))))
                                .build())
                .isUnknownFor("pipeline-file");
        check(
                        "pipeline-wrong-target",
                        sealed(),
                        aPipeline()
                                .sync("dist", BUCKET, true)
                                .invalidate("E0OTHERHERON")
                                .build())
                .findings();
    }

    @Test
    void notExtracted() {
        check(
                        "pipeline-not-extracted",
                        sealed(),
                        aPipeline()
                                .step(upload("site.zip", BUCKET, "", false, false, Optional.empty()))
                                .build())
                .flags(Severity.HIGH, FILE, "as the archive it is");
        check(
                        "pipeline-not-extracted",
                        sealed(),
                        aPipeline()
                                .step(upload("site.zip", BUCKET, "", false, false, Optional.empty()))
                                .sync("dist", BUCKET, true)
                                .build())
                .isSilent();
    }

    @Test
    void deploysUntested() {
        check(
                        "pipeline-deploys-untested",
                        sealed(),
                        aPipeline().sync("dist", BUCKET, true).build())
                .flags(Severity.LOW, FILE, "builds or tests nothing");
        check(
                        "pipeline-deploys-untested",
                        sealed(),
                        aPipeline().step(UNCLEAR).sync("dist", BUCKET, true).build())
                .isUnknownFor("pipeline-file");
        check(
                        "pipeline-deploys-untested",
                        sealed(),
                        aPipeline()
                                .named(Pipeline.Kind.SHELL_SCRIPT)
                                .sync("dist", BUCKET, true)
                                .build())
                .doesNotApply();
    }

    @Test
    void stateExposed() {
        Operation state =
                new Operation.KeepState(new Target(PipelineValue.of(BUCKET), PipelineValue.of("site.tfstate")));
        check("pipeline-state-exposed", sealed(), aPipeline().step(state).build())
                .flags(Severity.CRITICAL, FILE, "the visitors of a site can read");
        check(
                        "pipeline-state-exposed",
                        sealed().edit("bucket-objects", BUCKET_ARN, "'Key':'404.html'", "'Key':'infra/site.tfstate'"))
                .flags(Severity.CRITICAL, BUCKET_ARN + "/infra/site.tfstate", "deployment state");
        check(
                        "pipeline-state-exposed",
                        sealed().found(
                                        "bucket-objects",
                                        BUCKET_ARN,
                                        "{'Contents':[{'Key':'index.html'}],'IsTruncated':true}"))
                .isUnknownFor("bucket-objects");
        Operation apart =
                new Operation.KeepState(new Target(PipelineValue.of("heron-state"), PipelineValue.of("site.tfstate")));
        check(
                        "pipeline-state-exposed",
                        sealed().bucket("heron-state", bucket -> bucket.guard(true)),
                        aPipeline().step(apart).build())
                .isSilent();
    }

    @Test
    void staysWithTheEdgeThatItNames() {
        check(
                        "stale-after-deploy",
                        sealed().found("object", BUCKET_ARN + "/index.html", "{}"),
                        aPipeline().invalidate("E1").build())
                .isSilent();
        check(
                        "stale-after-deploy",
                        sealed().found("object", BUCKET_ARN + "/index.html", "{}"),
                        aPipeline().invalidate("E2").build())
                .flags(Severity.MEDIUM, EDGE, "no known pipeline");
    }
}
