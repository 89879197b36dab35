package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.access.Witness;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.Effect;
import warden.core.aws.reach.Possibility;
import warden.core.aws.reach.Reach;
import warden.core.checks.CredentialCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds publishing credentials that can do everything. */
final class PublisherIsAdmin implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_IS_ADMIN;

    private static final Map<String, ContextValue> OVER_TLS =
            Map.of("aws:SecureTransport", ContextValue.Known.of("true"));

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        Truth admin = subject.permissions().isAdmin();
        if (admin == Truth.FALSE) {
            return List.of(subject.clean());
        }
        return List.of(admin == Truth.TRUE ? flagged(subject, ".", Optional.empty()) : underConditions(subject));
    }

    /** What hangs on conditions of requests only is there for whoever sends such a request. */
    private static Verdict underConditions(Subject subject) {
        Reach reach = subject.context().cloud().reach(subject.publisher().account());
        String account = subject.publisher().account().number();
        Possibility possibility = reach.can(
                subject.publisher().actor(), "iam:CreateUser", "arn:aws:iam::" + account + ":user/anybody", OVER_TLS);
        if (possibility instanceof Possibility.Never) {
            return subject.clean();
        }
        List<Need> missing = subject.permissions().missing();
        if (possibility instanceof Possibility.Open open) {
            return subject.unknown(missing.isEmpty() ? open.needs() : missing);
        }
        return missing.isEmpty()
                ? flagged(
                        subject,
                        ", under conditions that a request can meet.",
                        Optional.of(((Possibility.Allowed) possibility).witness()))
                : subject.unknown(missing);
    }

    private static Verdict flagged(Subject subject, String end, Optional<Witness> witness) {
        List<Citation> because = new ArrayList<>();
        for (HeldPolicy policy : subject.publisher().principal().holdings().policies()) {
            policy.document().statements().stream()
                    .filter(statement -> !statement.isOpaque() && statement.effect() == Effect.ALLOW)
                    .filter(statement -> statement.actions().language().isEverything())
                    .findFirst()
                    .ifPresent(statement -> because.add(policy.cite(statement)));
        }
        String says = subject.name() + " publishes"
                + subject.site().map(name -> " " + name).orElse("") + " and can do everything in the account" + end;
        return new Verdict.Flagged(subject.finding(CARD, says, because).with(witness));
    }
}
