package warden.core.aws.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.PipelineCheck;
import warden.core.aws.storage.Bucket;
import warden.core.checks.PipelineCards;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.survey.Need;

/** Finds pipelines that publish where nothing of the survey is. */
final class PipelineWrongTarget implements PipelineCheck {
    private static final CheckCard CARD = PipelineCards.PIPELINE_WRONG_TARGET;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Finding> findings = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        for (DeploymentStep step : subject.steps()) {
            step.target().ifPresent(target -> bucket(subject, step, target, findings, needs));
            if (step.operation() instanceof Operation.Invalidate invalidation
                    && invalidation.distribution().isKnown()
                    && subject.pipeline().kind() != Pipeline.Kind.OTHER) {
                distribution(subject, step, invalidation.distribution().text(), findings, needs);
            }
        }
        needs.addAll(subject.deployments().openTargets(subject.pipeline()));
        return subject.verdictsUnless(needs, findings, false);
    }

    private static void bucket(
            Subject subject, DeploymentStep step, Target target, List<Finding> findings, List<Need> needs) {
        List<Account> accounts = subject.context().cloud().accounts();
        String name = target.bucket().text();
        if (!target.bucket().isKnown() || !name.matches("[a-z0-9][a-z0-9.-]{1,61}[a-z0-9]")) {
            return;
        }
        Optional<Account> owner = subject.context().cloud().ownerOf(name);
        if (owner.isEmpty()) {
            boolean nowhere = accounts.stream().allMatch(account -> account.ownsBucket(name) == Truth.FALSE);
            if (nowhere) {
                findings.add(subject.finding(
                        CARD,
                        step,
                        "The pipeline publishes to the bucket " + name + ", which is in no surveyed account."));
            } else {
                accounts.stream()
                        .flatMap(account -> account.listedBuckets().missing().stream())
                        .forEach(needs::add);
            }
            return;
        }
        Bucket bucket = owner.get().bucket(name);
        Optional<String> region = step.credential()
                .flatMap(use -> use.region())
                .filter(PipelineValue::isKnown)
                .map(PipelineValue::text);
        Optional<String> own = bucket.region().found();
        if (region.isPresent()) {
            bucket.region().missing().ifPresent(needs::add);
        }
        if (region.isPresent() && own.isPresent() && !region.equals(own)) {
            findings.add(subject.finding(
                    CARD,
                    step,
                    "The pipeline works in the region " + region.get() + ", and the bucket " + name + " is in "
                            + own.get() + "."));
        }
    }

    private static void distribution(
            Subject subject, DeploymentStep step, String id, List<Finding> findings, List<Need> needs) {
        List<Account> accounts = subject.context().cloud().accounts();
        boolean known = accounts.stream()
                        .flatMap(account -> account.edges().distributions().stream())
                        .anyMatch(edge -> edge.id().equals(id))
                || accounts.stream().anyMatch(account -> isListed(account, id));
        boolean listed = accounts.stream()
                .allMatch(account -> account.survey()
                                .listing("distribution-list", account.number())
                                .found()
                                .isPresent()
                        && account.edges().listedDistributionDomains().found().isPresent());
        if (!known && !listed) {
            accounts.forEach(account -> account.survey()
                    .unlisted("distribution-list", account.number())
                    .ifPresent(needs::add));
        }
        if (!known && listed && id.matches("E[A-Z0-9]{8,}")) {
            String others = accounts.stream()
                    .flatMap(account -> account.edges().distributions().stream())
                    .map(edge -> edge.id())
                    .limit(3)
                    .collect(Collectors.joining(", "));
            findings.add(subject.finding(
                    CARD,
                    step,
                    "The pipeline invalidates the distribution " + id + ", which is in no surveyed account"
                            + (others.isEmpty() ? "" : " (there are " + others + ")") + "."));
        }
    }

    private static boolean isListed(Account account, String id) {
        return account.survey().listing("distribution-list", account.number()).found().stream()
                .flatMap(listing -> listing.pages().stream())
                .flatMap(page -> page.value().find("DistributionList").orElse(page.value()).list("Items").stream())
                .anyMatch(item -> item.text("Id").filter(id::equals).isPresent());
    }
}
