package warden.core.aws.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.PipelineCheck;
import warden.core.aws.decision.AclSide;
import warden.core.aws.storage.Bucket;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.survey.Need;

/** Finds uploads that open each object to everyone. */
final class PipelineOpensObjects implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
                    "pipeline-opens-objects",
                    Area.PIPELINE,
                    Severity.MEDIUM,
                    "uploads with a public ACL (high: where ownership or the block makes the upload fail)",
                    "pipeline-file, delivery-pipeline, bucket-ownership, bucket-public-access, account-public-access",
                    "Each object is opened on its own, whatever the bucket's policy says; and where ACLs are off, the upload fails.",
                    "Leave the ACL out of the upload, and let the bucket's policy say who may read.",
                    "S3 User Guide, \"Controlling ownership of objects and disabling ACLs for your bucket\"")
            .atWorst(Severity.HIGH);

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (DeploymentStep step : subject.steps()) {
            Optional<String> acl = acl(step.operation());
            if (acl.filter(name -> name.startsWith("public-read")).isPresent()) {
                verdicts.addAll(judge(subject, step, acl.get()));
            }
        }
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }

    private static Optional<String> acl(Operation operation) {
        if (operation instanceof Operation.Upload upload) {
            return upload.acl();
        }
        return operation instanceof Operation.Call call && call.action().startsWith("s3:PutObject")
                ? call.acl()
                : Optional.empty();
    }

    private static List<Verdict> judge(Subject subject, DeploymentStep step, String acl) {
        Optional<Bucket> bucket = bucketName(step.operation())
                .flatMap(name -> subject.deployments().bucketOf(subject.pipeline(), name));
        Optional<AclSide.Refusal> refusal = bucket.flatMap(
                each -> AclSide.uploadRefusal(each, subject.context().cloud().ownerOf(each.name()), acl));
        String what = acl.equals("public-read-write") ? "to read and to write" : "to read";
        String says = "The upload opens each object to everyone " + what + " by the ACL " + acl
                + refusal.map(why -> ", and fails: " + why.says()).orElse("") + ".";
        boolean worse = refusal.isPresent() || acl.equals("public-read-write");
        Finding finding = subject.finding(CARD, step, says).as(worse ? Severity.HIGH : Severity.MEDIUM);
        if (refusal.isPresent() || worse) {
            return List.of(new Verdict.Flagged(
                    refusal.map(why -> finding.restingOn(why.at())).orElse(finding)));
        }
        List<Need> unread =
                bucket.map(each -> unread(subject, each)).orElseGet(() -> subject.openBuckets(step::equals));
        return unread.isEmpty()
                ? List.of(new Verdict.Flagged(finding))
                : Verdict.atLeast(finding, Severity.HIGH, subject.unknown(unread));
    }

    private static Optional<PipelineValue> bucketName(Operation operation) {
        if (operation instanceof Operation.Upload upload) {
            return Optional.of(upload.target().bucket());
        }
        PipelineValue on = ((Operation.Call) operation).on();
        return Optional.of(Target.ofPath(new PipelineValue(on.text().replaceFirst("^arn:aws:s3:::", ""), on.open()))
                .bucket());
    }

    /** Returns the settings that may make the upload fail and were not read. */
    private static List<Need> unread(Subject subject, Bucket bucket) {
        List<Need> needs = new ArrayList<>();
        bucket.ownership().missing().ifPresent(needs::add);
        bucket.publicAccessBlock().missing().ifPresent(needs::add);
        subject.context()
                .cloud()
                .ownerOf(bucket.name())
                .flatMap(account -> account.publicAccessBlock().missing())
                .ifPresent(needs::add);
        return needs;
    }
}
