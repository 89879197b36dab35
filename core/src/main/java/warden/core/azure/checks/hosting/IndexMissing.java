package warden.core.azure.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.BlobList;
import warden.core.azure.account.WebHosting;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;
import warden.core.survey.Citation;

/** Finds websites whose index document does not exist at the root. */
final class IndexMissing implements WebCheck {
    private static final CheckCard CARD = HostingCards.INDEX_MISSING.told(
            "static-website, container-blobs",
            "Visitors of the front page get an error.",
            "Upload the index document to the root of $web, or name the one that is there.",
            "Storage documentation, \"Static website hosting in Azure Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        if (subject.isOn() == Truth.UNKNOWN) {
            return subject.open(subject.hostingNeed());
        }
        if (subject.isOn() == Truth.FALSE) {
            return List.of();
        }
        WebHosting settings = subject.hosting().found().orElseThrow();
        BlobList blobs = subject.web().blobs();
        if (settings.index()
                .filter(name -> name.isEmpty() || name.contains("/"))
                .isPresent()) {
            return List.of();
        }
        if (blobs.hasAny() == Truth.FALSE && !subject.isLedTo()) {
            return List.of();
        }
        List<Citation> because =
                new ArrayList<>(subject.hosting().citation().stream().toList());
        if (settings.root().isEmpty()) {
            return subject.flagged(CARD, "No index document is set, so that the root shows none.", because);
        }
        String root = settings.root().get();
        return switch (blobs.has(root)) {
            case TRUE -> subject.clean();
            case UNKNOWN -> subject.open(subject.blobsNeed());
            case FALSE -> {
                Optional<String> other = blobs.names().stream()
                        .filter(name -> name.equalsIgnoreCase(root))
                        .findFirst()
                        .or(() -> blobs.names().stream()
                                .filter(name -> name.endsWith("/" + root))
                                .findFirst());
                blobs.at().ifPresent(at -> because.add(at.at("", "")));
                yield subject.flagged(
                        CARD,
                        "The index document " + root + " does not exist at the root of $web"
                                + other.map(name -> "; the nearest is " + name).orElse("") + ".",
                        because);
            }
        };
    }
}
