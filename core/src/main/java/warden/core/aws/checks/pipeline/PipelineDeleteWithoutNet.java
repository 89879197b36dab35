package warden.core.aws.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.PipelineCheck;
import warden.core.aws.storage.Bucket;
import warden.core.checks.PipelineCards;
import warden.core.pipeline.DeploymentStep;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds pipelines that delete where nothing can be brought back. */
final class PipelineDeleteWithoutNet implements PipelineCheck {
    private static final CheckCard CARD = PipelineCards.PIPELINE_DELETE_WITHOUT_NET;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Finding> findings = new ArrayList<>();
        List<Verdict> open = new ArrayList<>();
        for (DeploymentStep step : subject.steps()) {
            Optional<Bucket> bucket = step.deletesMany()
                    ? step.target()
                            .flatMap(target -> subject.deployments().bucketOf(subject.pipeline(), target.bucket()))
                    : Optional.empty();
            bucket.ifPresent(each -> judge(subject, step, each, findings, open));
        }
        return !findings.isEmpty() || open.isEmpty()
                ? subject.verdictsUnless(subject.openBuckets(DeploymentStep::deletesMany), findings, false)
                : open;
    }

    private static void judge(
            Subject subject, DeploymentStep step, Bucket bucket, List<Finding> findings, List<Verdict> open) {
        Reading<String> versioning = bucket.versioning();
        versioning
                .missing()
                .ifPresent(need -> open.add(
                        new Verdict.Unknown(subject.pipeline().subject(), subject.site(), List.<Need>of(need))));
        Optional<Citation> at = versioning.citation();
        if (versioning.missing().isEmpty()
                && versioning.found().filter("Enabled"::equals).isEmpty()
                && at.isPresent()) {
            Finding finding = subject.finding(
                    CARD, step, "The pipeline deletes in " + bucket.name() + ", where versioning is not on.");
            findings.add(finding.restingOn(at.get()));
        }
    }
}
