package warden.core.aws.checks.credential;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.identity.KeyIds;
import warden.core.document.Instants;
import warden.core.document.JsonPart;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds active access keys that nobody uses. */
final class KeyUnused implements KeyCheck {
    private static final CheckCard CARD = new CheckCard(
            "key-unused",
            Area.CREDENTIAL,
            Severity.MEDIUM,
            "an active key not used for 90 days, or never",
            "iam-user-keys, iam-key-used",
            "A key that nobody uses is missed by nobody when somebody else does.",
            "Make the key inactive, and delete it when nothing breaks.",
            "IAM User Guide, \"Find unused AWS credentials\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final int LONG_DAYS = 90;

    @Override
    public List<Verdict> examine(AccessKey key) {
        return List.of(judge(key));
    }

    private static Verdict judge(AccessKey key) {
        Reading<JsonPart> used = key.account().survey().reading("iam-key-used", key.id());
        if (used.isUnread()) {
            Need need = used.missing().orElseThrow();
            return new Verdict.Unknown(
                    key.user(),
                    key.site(),
                    List.of(new Need(need.aspect(), KeyIds.shortened(key.id()), need.why(), need.permission())));
        }
        Optional<String> last = used.found()
                .flatMap(answer ->
                        answer.text("AccessKeyLastUsed", "LastUsedDate").or(() -> answer.text("LastUsedDate")))
                .filter(text -> !text.equals("N/A"));
        Optional<Instant> instant = last.flatMap(Instants::parse);
        if (last.isPresent() && instant.isEmpty()) {
            return new Verdict.Unknown(
                    key.user(),
                    key.site(),
                    List.of(new Need(
                            "iam-key-used",
                            KeyIds.shortened(key.id()),
                            "its date is in a form that is not understood",
                            "iam:GetAccessKeyLastUsed")));
        }
        Instant since = instant.or(() -> Instants.parse(key.created())).orElse(Instant.MIN);
        long days = since.equals(Instant.MIN)
                ? Long.MAX_VALUE
                : Duration.between(since, key.context().at()).toDays();
        // A key of yesterday has not been used because its pipeline has not run yet.
        boolean unused = instant.isPresent() ? days > LONG_DAYS : days > 1;
        if (!unused) {
            return key.clean();
        }
        String says = "The active access key " + KeyIds.shortened(key.id())
                + (instant.isPresent() ? " was last used " + days + " days ago." : " was never used.");
        return new Verdict.Flagged(Finding.of(
                        CARD,
                        key.user(),
                        key.site(),
                        says,
                        List.of(AccessKey.masked(used.citation().orElseThrow()), key.at()))
                .at(KeyIds.shortened(key.id())));
    }
}
