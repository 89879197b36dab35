package warden.core.azure.checks.hosting;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.Item;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;
import warden.core.survey.Reading;

/** Finds sites of which a bad deployment cannot be undone. */
final class VersioningOff implements WebCheck {
    private static final CheckCard CARD = HostingCards.VERSIONING_OFF.told(
            "blob-service",
            "An upload replaces what was there, and a delete is for good.",
            "Switch soft delete for blobs on, which keeps overwritten blobs too, or versioning.",
            "Storage documentation, \"Soft delete for blobs\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        Reading<Item> service = subject.account().blobService();
        if (service.found().isEmpty()) {
            return service.missing().map(subject::open).orElse(List.of());
        }
        Item item = service.found().get();
        boolean keeps = item.flag("deleteRetentionPolicy", "enabled").orElse(false)
                || item.flag("isVersioningEnabled").orElse(false);
        if (keeps) {
            return subject.clean();
        }
        return List.of(new Verdict.Flagged(subject.finding(
                        CARD,
                        "Neither soft delete nor versions are on for the blobs of "
                                + subject.account().name() + ", so that a bad deployment cannot be undone.",
                        List.of(item.cite("deleteRetentionPolicy", "enabled")))
                .mendedBy("Switch soft delete for blobs on, which keeps overwritten blobs too, or versioning.")));
    }
}
