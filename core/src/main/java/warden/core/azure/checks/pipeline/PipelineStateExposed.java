package warden.core.azure.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.azure.access.Caller;
import warden.core.azure.account.BlobList;
import warden.core.azure.account.Container;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.DeploymentCheck;
import warden.core.azure.site.WebSite;
import warden.core.checks.PipelineCards;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.StateFiles;
import warden.core.survey.Need;

/** Finds deployment state that the public can read. */
final class PipelineStateExposed implements DeploymentCheck {
    private static final CheckCard CARD = PipelineCards.PIPELINE_STATE_EXPOSED.told(
            "pipeline-file, container-blobs, container, storage-account",
            "The state names every part of the set-up, and often holds passwords and keys in plain text.",
            "Keep state in a container of its own, in an account that admits no anonymous reading, and replace the secrets that were in it.",
            "Storage documentation, \"Overview: Remediating anonymous read access for blob data\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> unread(AzureContext context) {
        List<Verdict> verdicts = new ArrayList<>(DeploymentCheck.super.unread(context));
        for (WebSite site : context.cloud().sites()) {
            site.container().ifPresent(container -> stored(site, container, verdicts));
        }
        return verdicts;
    }

    private static void stored(WebSite site, Container container, List<Verdict> verdicts) {
        BlobList blobs = container.blobs();
        Optional<String> state =
                blobs.names().stream().filter(StateFiles::isOne).findFirst();
        if (state.isEmpty()) {
            blobs.open()
                    .ifPresent(need ->
                            verdicts.add(new Verdict.Unknown(container.id(), Optional.of(site.name()), List.of(need))));
            return;
        }
        verdicts.add(new Verdict.Flagged(Finding.of(
                CARD,
                container.blob(state.get()),
                Optional.of(site.name()),
                "The blob " + state.get() + " is deployment state, stored among the pages that visitors of "
                        + site.name() + " can ask for.",
                List.of(blobs.citation(state.get()).orElseThrow()))));
    }

    @Override
    public List<Verdict> examine(DeploymentCheck.Of subject) {
        List<Finding> findings = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        for (DeploymentStep step : subject.steps()) {
            StateFiles.kept(step)
                    .flatMap(target -> subject.deployments().containerOf(subject.pipeline(), target))
                    .ifPresent(container -> judge(subject, step, container, findings, needs));
        }
        needs.addAll(subject.deployments()
                .openStores(subject.pipeline(), step -> StateFiles.kept(step).isPresent()));
        return subject.asked().verdictsUnless(needs, findings, false);
    }

    private static void judge(
            DeploymentCheck.Of subject,
            DeploymentStep step,
            Container container,
            List<Finding> findings,
            List<Need> needs) {
        Extent extent = subject.context()
                .cloud()
                .accountOf(container.account())
                .reach()
                .extent(container, Caller.ANYONE, Ability.READ);
        boolean servesSite = subject.context().cloud().siteOf(container).isPresent();
        if (extent.isSome() || servesSite) {
            findings.add(subject.asked()
                    .finding(
                            CARD,
                            step,
                            "The pipeline keeps deployment state in "
                                    + container.account().name() + "/" + container.name() + ", which "
                                    + (extent.isSome() ? "anyone can read." : "the visitors of a site can read."))
                    .with(extent.witness()));
        } else if (extent.kind() == Extent.Kind.UNKNOWN) {
            needs.addAll(extent.needs());
        }
    }
}
