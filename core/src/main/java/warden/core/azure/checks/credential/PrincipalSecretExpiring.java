package warden.core.azure.checks.credential;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.principal.Principal;

/** Finds publishers whose last secret ends soon. */
final class PrincipalSecretExpiring implements PublisherCheck {
    private static final CheckCard CARD = new CheckCard(
            "principal-secret-expiring",
            Area.CREDENTIAL,
            Severity.MEDIUM,
            "the newest secret of a publisher ends within 30 days",
            "application, service-principal",
            "When it ends, nobody can publish.",
            "Make a new secret, or let the pipeline sign in by a federated credential.",
            "Microsoft Entra documentation, \"Add and manage application credentials\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        Principal principal = subject.publisher().principal();
        List<Principal.Secret> alive = principal.secrets().stream()
                .filter(secret -> secret.isAlive(subject.context().at()))
                .toList();
        if (alive.isEmpty() || !principal.federated().isEmpty()) {
            return subject.open(principal.unread());
        }
        Optional<Instant> last =
                alive.stream().map(secret -> secret.end().orElse(Instant.MAX)).max(Comparator.naturalOrder());
        boolean soon = last.get() != Instant.MAX
                && Duration.between(subject.context().at(), last.get()).toDays() < 30;
        return soon
                ? subject.flagged(
                        CARD,
                        "The newest secret of " + subject.called() + " ends on "
                                + last.get().toString().substring(0, 10) + ".",
                        alive.stream().map(Principal.Secret::at).limit(2).toList())
                : subject.open(principal.unread());
    }
}
