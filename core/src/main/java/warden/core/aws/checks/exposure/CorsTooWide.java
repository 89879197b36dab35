package warden.core.aws.checks.exposure;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.checks.ExposureCards;
import warden.core.document.JsonPart;

/** Finds buckets whose CORS rules let pages of any origin send requests that change things. */
final class CorsTooWide implements BucketCheck {
    private static final Set<String> CHANGING = Set.of("PUT", "POST", "DELETE");
    private static final Set<String> ANY_ORIGIN = Set.of("*", "http://*", "https://*");
    private static final CheckCard CARD = ExposureCards.CORS_TOO_WIDE;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Verdict verdict = subject.bucket()
                .crossOriginRules()
                .fold(
                        found -> wide(found.value())
                                .<Verdict>map(rule -> new Verdict.Flagged(Finding.of(
                                        CARD,
                                        subject.bucket().arn(),
                                        subject.site(),
                                        "Pages of any origin may send " + String.join(", ", changing(rule))
                                                + " requests to the bucket.",
                                        List.of(found.at().at(rule)))))
                                .orElseGet(subject::clean),
                        absent -> subject.clean(),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }

    private static Optional<JsonPart> wide(List<JsonPart> rules) {
        return rules.stream()
                .filter(rule -> rule.texts("AllowedOrigins").stream().anyMatch(ANY_ORIGIN::contains))
                .filter(rule -> !changing(rule).isEmpty())
                .findFirst();
    }

    private static List<String> changing(JsonPart rule) {
        return rule.texts("AllowedMethods").stream().filter(CHANGING::contains).toList();
    }
}
