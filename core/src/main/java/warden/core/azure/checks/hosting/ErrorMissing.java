package warden.core.azure.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.WebHosting;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;
import warden.core.survey.Citation;

/** Finds error documents that do not exist. */
final class ErrorMissing implements WebCheck {
    private static final CheckCard CARD = HostingCards.ERROR_MISSING.told(
            "static-website, container-blobs",
            "Visitors of unknown addresses see the provider's own page.",
            "Upload the error document, or name the one that is there.",
            "Storage documentation, \"Static website hosting in Azure Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        if (subject.isOn() != Truth.TRUE) {
            return subject.isOn() == Truth.UNKNOWN ? subject.open(subject.hostingNeed()) : List.of();
        }
        Optional<String> error = subject.hosting().found().flatMap(WebHosting::error);
        if (error.isEmpty()) {
            return List.of();
        }
        return switch (subject.web().blobs().has(error.get())) {
            case TRUE -> subject.clean();
            case UNKNOWN -> subject.open(subject.blobsNeed());
            case FALSE -> {
                List<Citation> because =
                        new ArrayList<>(subject.hosting().citation().stream().toList());
                subject.web().blobs().at().ifPresent(at -> because.add(at.at("", "")));
                yield subject.flagged(CARD, "The error document " + error.get() + " does not exist in $web.", because);
            }
        };
    }
}
