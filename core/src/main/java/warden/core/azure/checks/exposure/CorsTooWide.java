package warden.core.azure.checks.exposure;

import java.util.List;
import java.util.Locale;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.Item;
import warden.core.azure.audit.AccountCheck;
import warden.core.checks.ExposureCards;
import warden.core.document.JsonPart;
import warden.core.survey.Reading;

/** Finds blob services that let any page send changing requests. */
final class CorsTooWide implements AccountCheck {
    private static final CheckCard CARD = ExposureCards.CORS_TOO_WIDE.told(
            "blob-service",
            "A page of anybody can change blobs with what its visitor's browser holds.",
            "Name the origins that need it, or allow reading methods only.",
            "Storage documentation, \"Cross-Origin Resource Sharing (CORS) support for Azure Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(AccountCheck.Of subject) {

        Reading<Item> service = subject.account().blobService();
        if (service.found().isEmpty()) {
            return service.missing().map(subject::open).orElse(List.of());
        }
        for (JsonPart rule : service.found().get().list("cors", "corsRules")) {
            boolean isAny = rule.texts("allowedOrigins").stream().anyMatch("*"::equals);
            List<String> changing = rule.texts("allowedMethods").stream()
                    .map(method -> method.toUpperCase(Locale.ROOT))
                    .filter(method ->
                            List.of("PUT", "POST", "DELETE", "PATCH", "MERGE").contains(method))
                    .toList();
            if (isAny && !changing.isEmpty()) {
                return subject.flagged(
                        CARD,
                        "The blob service of " + subject.account().name() + " lets pages of any origin send "
                                + String.join(", ", changing) + ".",
                        service.found().map(item -> item.cite("cors", "corsRules")));
            }
        }
        return subject.clean();
    }
}
