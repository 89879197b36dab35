package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Decision;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.access.Actions;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.account.Container;
import warden.core.azure.account.Network;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.principal.Principal;
import warden.core.azure.site.WebSite;
import warden.core.checks.CredentialCards;
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
        for (WebSite site : subject.publisher().sites()) {
            Container web = site.container().orElseThrow();
            for (String action : List.of(Actions.READ, Actions.WRITE)) {
                Decision decision =
                        subject.rules().decide(who, action, web.blob("index.html"), RequestContext.PLAIN, false);
                if (decision.outcome() == Decision.Outcome.DENY) {
                    List<Citation> because = decision.because().isEmpty()
                            ? web.account().settings().citation().stream().toList()
                            : decision.because();
                    if (because.isEmpty()) {
                        open.addAll(decision.needs());
                        continue;
                    }
                    return subject.flagged(
                            CARD,
                            subject.called() + " lacks " + action + " on "
                                    + web.account().name() + "/" + web.name() + ": " + decision.says(),
                            because);
                }
                open.addAll(decision.needs());
            }
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
}
