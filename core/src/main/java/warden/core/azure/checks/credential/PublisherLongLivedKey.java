package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.KeyCheck;
import warden.core.azure.publishing.AzureDeployments;
import warden.core.azure.publishing.KeyPublisher;
import warden.core.azure.site.WebSite;
import warden.core.checks.CredentialCards;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Pipeline;
import warden.core.survey.Need;

/** Finds pipelines that publish with an account's key, or with URLs that are signed with it. */
final class PublisherLongLivedKey implements KeyCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_LONG_LIVED_KEY.told(
            "pipeline-file",
            "Whoever sees the key, or the signed URL, can change every container of the account, and no role shows it.",
            "Let the pipeline sign in by a federated credential and work with --auth-mode login; then set allowSharedKeyAccess to false.",
            "Storage documentation, \"Prevent Shared Key authorization for an Azure Storage account\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(KeyCheck.Of subject) {
        KeyPublisher publisher = subject.publisher();
        boolean isSure = publisher.uses().stream()
                .flatMap(use -> use.step().credential().stream())
                .anyMatch(use -> use.kind() != Kind.SIGNED);
        if (!isSure) {
            return subject.open(byWhom(publisher.uses().get(0).pipeline()));
        }
        boolean isFetched = publisher.uses().stream().anyMatch(use -> use.pipeline().steps().stream()
                .anyMatch(step -> step.line() == use.step().line() && AzureDeployments.fetchesKey(step)));
        String name = publisher.storage().name();
        return subject.flagged(
                CARD,
                (publisher.isSigned()
                                ? "The pipeline works with a URL that is signed with the key of " + name
                                : "The pipeline works with the key of " + name
                                        + (isFetched
                                                ? ", which the command fetches for lack of --auth-mode login"
                                                : ""))
                        + " (" + subject.place() + ").",
                subject.steps());
    }

    private static Need byWhom(Pipeline pipeline) {
        return new Need(
                pipeline.aspect(),
                pipeline.subject(),
                "whether the signed URL is signed with the account's key is not in the file",
                "");
    }

    /** A pipeline works with a key of an account that nothing names, too. */
    @Override
    public List<Verdict> unread(AzureContext context) {
        List<Verdict> verdicts = new ArrayList<>(KeyCheck.super.unread(context));
        AzureDeployments deployments = context.publishing().deployments();
        for (Pipeline pipeline : deployments.pipelines()) {
            Optional<DeploymentStep> first = pipeline.steps().stream()
                    .filter(step -> step.provider().equals(deployments.provider()))
                    .filter(step -> step.credential()
                            .filter(use -> use.kind().isByStoreKey())
                            .isPresent())
                    .filter(step -> step.place()
                            .flatMap(place -> deployments.accountOf(pipeline, place))
                            .isEmpty())
                    .findFirst();
            Optional<String> site =
                    deployments.sitesOf(pipeline).stream().findFirst().map(WebSite::name);
            first.ifPresent(step -> verdicts.add(
                    step.credential().orElseThrow().kind() == Kind.SIGNED
                            ? new Verdict.Unknown(pipeline.subject(), site, List.of(byWhom(pipeline)))
                            : new Verdict.Flagged(Finding.of(
                                            CARD,
                                            pipeline.subject(),
                                            site,
                                            "The pipeline works with a storage account's key, or a URL signed with it.",
                                            List.of(pipeline.cite(step)))
                                    .at(step.command()))));
        }
        return verdicts;
    }
}
