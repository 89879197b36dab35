package warden.core.azure.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.azure.account.Container;
import warden.core.azure.account.Item;
import warden.core.azure.audit.DeploymentCheck;
import warden.core.checks.PipelineCards;
import warden.core.pipeline.DeploymentStep;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds pipelines that delete where nothing can be brought back. */
final class PipelineDeleteWithoutNet implements DeploymentCheck {
    private static final CheckCard CARD = PipelineCards.PIPELINE_DELETE_WITHOUT_NET.told(
            "pipeline-file, blob-service",
            "One build that comes out empty deletes the site, and nothing brings it back.",
            "Switch soft delete for blobs on, or versioning.",
            "Storage documentation, \"Soft delete for blobs\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DeploymentCheck.Of subject) {
        List<Finding> findings = new ArrayList<>();
        List<Need> open = new ArrayList<>();
        for (DeploymentStep step : subject.steps()) {
            Optional<Container> container =
                    step.deletesMany() ? subject.deployments().storeOf(subject.pipeline(), step) : Optional.empty();
            container.ifPresent(each -> judge(subject, step, each, findings, open));
        }
        open.addAll(subject.deployments().openStores(subject.pipeline(), DeploymentStep::deletesMany));
        return subject.asked().verdictsUnless(open, findings, false);
    }

    private static void judge(
            DeploymentCheck.Of subject,
            DeploymentStep step,
            Container container,
            List<Finding> findings,
            List<Need> open) {
        Reading<Item> service = container.account().blobService();
        service.missing().ifPresent(open::add);
        Optional<Item> item = service.found();
        Truth keeps = item.map(each -> each.isOn(Truth.FALSE, "deleteRetentionPolicy", "enabled")
                        .or(each.isOn(Truth.FALSE, "isVersioningEnabled")))
                .orElse(Truth.UNKNOWN);
        if (item.isPresent() && keeps == Truth.UNKNOWN) {
            open.add(new Need(
                    "blob-service",
                    item.get().id(),
                    "whether deleted blobs are kept is not understood",
                    "Microsoft.Storage/storageAccounts/blobServices/read"));
        }
        if (item.isPresent() && keeps == Truth.FALSE) {
            findings.add(subject.asked()
                    .finding(
                            CARD,
                            step,
                            "The pipeline deletes in " + container.account().name() + "/" + container.name()
                                    + ", where neither soft delete nor versions are on.")
                    .restingOn(item.get().cite("deleteRetentionPolicy", "enabled")));
        }
    }
}
