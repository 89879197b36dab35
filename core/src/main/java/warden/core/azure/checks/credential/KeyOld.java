package warden.core.azure.checks.credential;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.audit.KeyCheck;
import warden.core.checks.CredentialCards;
import warden.core.survey.Citation;

/** Finds account keys that a pipeline uses and that were not made anew for long; which of the two it uses is not known, so the older counts. */
final class KeyOld implements KeyCheck {
    private static final CheckCard CARD = CredentialCards.KEY_OLD.told(
            "storage-account, pipeline-file",
            "The older a key, the more machines, logs and people it has passed.",
            "Publish by a principal that signs in by token; until then make both keys anew, one after the other.",
            "Storage documentation, \"Manage storage account access keys\"");

    private static final int OLD_DAYS = 90;
    private static final int VERY_OLD_DAYS = 365;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(KeyCheck.Of subject) {
        if (subject.publisher().isSigned()) {
            return List.of();
        }
        StorageAccount storage = subject.publisher().storage();
        List<String> unknown = new ArrayList<>();
        Optional<String> older = Optional.empty();
        for (String key : List.of("key1", "key2")) {
            Optional<Instant> made = made(storage, key);
            if (made.isEmpty()) {
                unknown.add(key);
            }
            older = made.isPresent()
                            && older.flatMap(other -> made(storage, other))
                                    .filter(other -> !made.get().isBefore(other))
                                    .isEmpty()
                    ? Optional.of(key)
                    : older;
        }
        if (older.isPresent()) {
            String key = older.get();
            long days = Duration.between(
                            made(storage, key).orElseThrow(), subject.context().at())
                    .toDays();
            if (days > OLD_DAYS) {
                Citation at = storage.cite("keyCreationTime", key).orElseThrow();
                return List.of(new Verdict.Flagged(subject.finding(
                                CARD,
                                "The older key of " + storage.name() + ", with which " + subject.place()
                                        + " may publish, was made " + days + " days ago.",
                                List.of(at))
                        .as(days > VERY_OLD_DAYS ? Severity.HIGH : Severity.MEDIUM)));
            }
        }
        return unknown.isEmpty() ? subject.clean() : subject.open(storage.need("when its keys were made is not said"));
    }

    private static Optional<Instant> made(StorageAccount storage, String key) {
        try {
            return storage.settings()
                    .found()
                    .flatMap(item -> item.text("keyCreationTime", key))
                    .map(text -> OffsetDateTime.parse(text).toInstant());
        } catch (DateTimeException noInstant) {
            return Optional.empty();
        }
    }
}
