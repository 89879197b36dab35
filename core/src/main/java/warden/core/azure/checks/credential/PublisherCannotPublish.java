package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.account.Container;
import warden.core.azure.account.Network;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.principal.Principal;
import warden.core.azure.publishing.AzureDeployments;
import warden.core.azure.publishing.AzureDeployments.StepOf;
import warden.core.azure.publishing.KeyPublisher;
import warden.core.azure.publishing.RoleNeeds;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.WebSite;
import warden.core.checks.CredentialCards;
import warden.core.pipeline.Needed;
import warden.core.pipeline.Operation;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds publishers that lack what publishing takes. */
final class PublisherCannotPublish implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_CANNOT_PUBLISH.told(
            "role-assignment, role-definition, storage-account",
            "The next deployment fails.",
            "Grant what is missing at the container.",
            "Storage documentation, \"Authorize access to blobs using Microsoft Entra ID\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        if (subject.publisher().sites().isEmpty()) {
            return List.of();
        }
        List<Need> open = new ArrayList<>();
        Caller who = Caller.principal(subject.id());
        Principal principal = subject.publisher().principal();
        boolean onlySecrets = principal.federated().isEmpty() && !principal.isManagedIdentity();
        boolean allEnded = !principal.secrets().isEmpty()
                && principal.secrets().stream()
                        .noneMatch(secret -> secret.isAlive(subject.context().at()));
        if (onlySecrets && allEnded && principal.unread().isEmpty()) {
            return subject.flagged(
                    CARD,
                    "The last secret of " + subject.called() + " has ended, so that it cannot sign in.",
                    principal.secrets().stream()
                            .map(Principal.Secret::at)
                            .limit(2)
                            .toList());
        }
        AzureDeployments deployments = subject.context().publishing().deployments();
        for (Needed need : RoleNeeds.today(subject.publisher(), deployments).needed()) {
            Optional<List<Verdict>> lacks = lacks(subject, who, need.action(), sample(need), need.on(), open);
            if (lacks.isPresent()) {
                return lacks.get();
            }
        }
        for (StepOf of : deployments.stepsOf(principal)) {
            Optional<List<Verdict>> lacks =
                    of.step().operation() instanceof Operation.Call call && !ActionPattern.isData(call.action())
                            ? called(subject, who, of, call, open)
                            : Optional.empty();
            if (lacks.isPresent()) {
                return lacks.get();
            }
        }
        for (WebSite site : subject.publisher().sites()) {
            Container web = site.container().orElseThrow();
            if (web.mayBeImmutable()) {
                open.add(new Need(
                        "container", web.id(), "whether a hold or policy of immutability bites now is not read", ""));
            }
            boolean isFenced = web.account().network().reach() == Network.Reach.SOME;
            if (isFenced) {
                open.add(new Need(
                        "storage-account",
                        web.account().id(),
                        "whether the pipeline's address is let in is not known",
                        ""));
            }
        }
        return subject.open(open);
    }

    private static String sample(Needed need) {
        return ActionPattern.isData(need.action()) ? need.on() + "/blobs/index.html" : need.on();
    }

    private static Optional<List<Verdict>> called(
            PublisherCheck.Of subject, Caller who, StepOf of, Operation.Call call, List<Need> open) {
        AzureAccount account = subject.publisher().account();
        Optional<String> on =
                subject.context().publishing().deployments().resourceOf(of.pipeline(), call.on(), account);
        boolean listsAll = on.filter(account.subscription().id()::equals).isPresent();
        Optional<List<Verdict>> lacks = on.flatMap(id -> lacks(subject, who, call.action(), id, id, open));
        if (!listsAll || lacks.isEmpty()) {
            return lacks;
        }
        // Whether the list of a subscription is refused to who may see one account of it, or shows that one, is not
        // certain.
        boolean seesOwn = subject.publisher().sites().stream()
                .flatMap(site -> site.container().stream())
                .anyMatch(web -> subject.rules()
                                .decide(who, call.action(), web.account().id(), RequestContext.PLAIN, false)
                                .outcome()
                        == Decision.Outcome.ALLOW);
        if (seesOwn) {
            open.add(new Need(
                    "role-assignment-list",
                    account.subscription().id(),
                    "whether the list of all storage accounts is refused to who may read one of them is not certain",
                    ""));
        }
        return seesOwn ? Optional.empty() : lacks;
    }

    private static Optional<List<Verdict>> lacks(
            PublisherCheck.Of subject, Caller who, String action, String resource, String on, List<Need> open) {
        Decision decision = subject.rules().decide(who, action, resource, RequestContext.PLAIN, false);
        open.addAll(decision.needs());
        if (decision.outcome() != Decision.Outcome.DENY) {
            return Optional.empty();
        }
        List<Citation> because = decision.because().isEmpty()
                ? ResourceId.accountIn(on)
                        .flatMap(id ->
                                subject.publisher().account().subscription().account(id))
                        .flatMap(account -> account.settings().citation())
                        .or(() -> subject.publisher().principal().at())
                        .stream()
                        .toList()
                : decision.because();
        return because.isEmpty()
                ? Optional.empty()
                : Optional.of(subject.flagged(
                        CARD,
                        subject.called() + " lacks " + action + " on " + place(on) + ": " + decision.says(),
                        because));
    }

    private static String place(String id) {
        return ResourceId.accountIn(id)
                .map(account -> ResourceId.name(account)
                        + ResourceId.containerIn(id)
                                .map(container -> "/" + ResourceId.name(container))
                                .orElse(""))
                .orElse(ResourceId.name(id));
    }

    /** A pipeline that works with the account's key cannot publish where keys are refused. */
    @Override
    public List<Verdict> unread(AzureContext context) {
        List<Verdict> verdicts = new ArrayList<>(PublisherCheck.super.unread(context));
        for (KeyPublisher publisher : context.publishing().keys()) {
            Optional<String> site = publisher.sites().stream().findFirst().map(WebSite::name);
            Truth accepts = publisher.storage().acceptsSharedKeys();
            Optional<Citation> at = publisher.storage().cite("allowSharedKeyAccess");
            if (accepts == Truth.UNKNOWN || at.isEmpty()) {
                verdicts.add(new Verdict.Unknown(
                        publisher.id(),
                        site,
                        List.of(publisher.storage().need("whether it accepts keys is not said"))));
            } else if (accepts == Truth.FALSE) {
                KeyPublisher.Use first = publisher.uses().get(0);
                verdicts.add(new Verdict.Flagged(Finding.of(
                        CARD,
                        publisher.id(),
                        site,
                        first.pipeline().place(first.step()) + " works with the key of "
                                + publisher.storage().name() + ", which refuses keys.",
                        List.of(at.get(), first.pipeline().cite(first.step())))));
            } else {
                verdicts.add(new Verdict.Clean(publisher.id(), site));
            }
        }
        return verdicts;
    }
}
