package warden.core.checks.content;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.cloud.ObjectStore;
import warden.core.document.LatePattern;

/** Finds folders in which the site still lies in an archive. */
final class ContentArchiveOnly implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-archive-only",
            Area.CONTENT,
            Severity.HIGH,
            "an archive at the root and no index",
            "the published folder, bucket-objects",
            "Visitors get an error at the front page, and the archive to whoever knows its name.",
            "Extract the archive, and publish what is in it.",
            "S3 User Guide, \"Configuring an index document\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final LatePattern INDEX = LatePattern.of("(?i)(.*/)?index\\.html?");
    private static final LatePattern ARCHIVE = LatePattern.of("(?i)[^/]+\\.(zip|tar|tgz|tar\\.(gz|bz2|xz)|7z|rar)");

    @Override
    public List<Finding> inFolder(Folder folder) {
        List<Finding> findings = new ArrayList<>();
        archive(folder.folder().files().keySet())
                .ifPresent(archive -> findings.add(folder.finding(
                        CARD,
                        archive,
                        1,
                        archive,
                        "The folder holds the archive " + archive + " and no index document.")));
        return findings;
    }

    @Override
    public List<Verdict> inStore(Stored stored) {
        Optional<ObjectStore.Names> listing = stored.store().listed().filter(ObjectStore.Names::isComplete);
        if (listing.isEmpty()) {
            return List.of(stored.cleanUnlessUnread());
        }
        Optional<String> archive = archive(listing.get().keys());
        return List.of(archive.<Verdict>map(key -> new Verdict.Flagged(stored.finding(
                        CARD,
                        key,
                        listing.get().citation(key).orElseThrow(),
                        "The archive " + key + " is stored for " + stored.site().name() + ", and no index document.")))
                .orElseGet(stored::clean));
    }

    private static Optional<String> archive(Iterable<String> paths) {
        String archive = null;
        for (String path : paths) {
            if (INDEX.matcher(path).matches()) {
                return Optional.empty();
            }
            archive = archive == null && ARCHIVE.matcher(path).matches() ? path : archive;
        }
        return Optional.ofNullable(archive);
    }
}
