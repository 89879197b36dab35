package warden.core.aws.checks.credential;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.identity.KeyIds;
import warden.core.checks.CredentialCards;
import warden.core.document.Instants;
import warden.core.survey.Need;

/** Finds active access keys that have not been changed for long. */
final class KeyOld implements KeyCheck {
    private static final CheckCard CARD = CredentialCards.KEY_OLD;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final int OLD_DAYS = 90;
    private static final int VERY_OLD_DAYS = 365;

    @Override
    public List<Verdict> examine(AccessKey key) {
        return List.of(judge(key));
    }

    private static Verdict judge(AccessKey key) {
        String id = KeyIds.shortened(key.id());
        Optional<Instant> created = Instants.parse(key.created());
        if (created.isEmpty()) {
            return new Verdict.Unknown(
                    key.user(),
                    key.site(),
                    List.of(new Need(
                            "iam-user-keys",
                            key.user(),
                            "the date of the key " + id + " is in a form that is not understood",
                            "iam:ListAccessKeys")));
        }
        long days = Duration.between(created.get(), key.context().at()).toDays();
        if (days <= OLD_DAYS) {
            return key.clean();
        }
        String says = "The active access key " + id + " is " + days + " days old.";
        Finding finding = Finding.of(CARD, key.user(), key.site(), says, List.of(key.at()))
                .at(id);
        return new Verdict.Flagged(days > VERY_OLD_DAYS ? finding.as(Severity.HIGH) : finding);
    }
}
