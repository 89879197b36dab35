package warden.core.azure.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.WebHosting;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;

/** Finds names of index documents that cannot work. */
final class IndexInvalid implements WebCheck {
    private static final CheckCard CARD = HostingCards.INDEX_INVALID.told(
            "static-website",
            "The root and the folders show no page.",
            "Name one document, such as index.html, without a slash.",
            "Blob service REST API, \"Set Blob Service Properties\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        if (subject.isOn() != Truth.TRUE) {
            return subject.isOn() == Truth.UNKNOWN ? subject.open(subject.hostingNeed()) : List.of();
        }
        Optional<String> index = subject.hosting().found().flatMap(WebHosting::index);
        if (index.filter(name -> name.isEmpty() || name.contains("/")).isEmpty()) {
            return subject.clean();
        }
        return subject.flagged(
                CARD,
                index.get().isEmpty()
                        ? "The name of the index document is empty."
                        : "The name of the index document, " + index.get()
                                + ", holds a slash; it is one name for every folder.",
                subject.hosting().citation());
    }
}
