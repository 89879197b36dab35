package warden.core.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.cloud.ObjectStore;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.survey.Need;

/** Finds deployments that store the archive instead of what is in it. */
final class PipelineNotExtracted implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
            "pipeline-not-extracted",
            Area.PIPELINE,
            Severity.HIGH,
            "the deploy stage uploads the archive instead of what is in it",
            "pipeline-file, delivery-pipeline",
            "Visitors find an archive where the pages should be.",
            "Extract the archive: in a deploy stage by \"Extract file before deploy\", in a script before the upload.",
            "CodePipeline User Guide, \"Amazon S3 deploy action reference\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Finding> findings = new ArrayList<>();
        boolean folders =
                subject.pipeline().uploads().stream().anyMatch(step -> ((Operation.Upload) step.operation()).many());
        for (DeploymentStep step : subject.pipeline().uploads()) {
            Operation.Upload upload = (Operation.Upload) step.operation();
            Optional<ObjectStore> store = subject.storeOf(step);
            boolean servesSite = store.filter(each -> serves(subject, each)).isPresent();
            if (storesAnArchive(step) && servesSite && !folders) {
                findings.add(subject.finding(
                        CARD,
                        step,
                        "The deployment stores " + upload.source() + " in "
                                + store.get().name() + " as the archive it is, not what is in it."));
            }
        }
        List<Need> open = folders ? List.of() : subject.openStores(PipelineNotExtracted::storesAnArchive);
        return subject.verdictsUnless(open, findings, false);
    }

    private static boolean serves(Subject subject, ObjectStore store) {
        return subject.context().sites().stream()
                .anyMatch(site -> site.storeIds().contains(store.id()));
    }

    private static boolean storesAnArchive(DeploymentStep step) {
        return step.operation() instanceof Operation.Upload upload
                && upload.extracts().filter(extracts -> !extracts).isPresent();
    }
}
