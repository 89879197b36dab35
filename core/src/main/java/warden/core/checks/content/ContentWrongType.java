package warden.core.checks.content;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.cloud.ObjectStore;
import warden.core.content.PublishedPath;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds objects stored with a content type that browsers download or refuse. */
final class ContentWrongType implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-wrong-type",
            Area.CONTENT,
            Severity.HIGH,
            "stored with a content type that makes browsers download or refuse it",
            "object",
            "Instead of seeing the page, visitors are offered a file to save; or the page shows without its style.",
            "Store the object again with the content type of its kind.",
            "S3 API Reference, PutObject, \"Content-Type\"; MDN Web Docs, \"Common MIME types\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> inStore(Stored stored) {
        List<Verdict> verdicts = new ArrayList<>();
        for (String key : stored.store().asked()) {
            Reading<? extends ObjectStore.Stored> head =
                    stored.store().stored(key).orElseThrow();
            if (PublishedPath.needsType(key) && head instanceof Reading.Found<? extends ObjectStore.Stored> found) {
                Optional<String> type = found.value().contentType();
                boolean fits = type.isEmpty() || !PublishedPath.isWrongType(key, type.get());
                boolean redirects = found.value().redirects();
                if (!fits && !redirects) {
                    verdicts.add(new Verdict.Flagged(stored.finding(
                            CARD,
                            key,
                            found.at().at(found.value().contentTypeAt(), type.get()),
                            key + " is stored as " + type.get() + ", which browsers "
                                    + (PublishedPath.isPage(key)
                                            ? "do not show as a page."
                                            : "do not take for what it is."))));
                }
            }
        }
        List<Need> unread = stored.unreadHeads(PublishedPath::needsType);
        return !verdicts.isEmpty() ? verdicts : List.of(unread.isEmpty() ? stored.clean() : stored.unknown(unread));
    }
}
