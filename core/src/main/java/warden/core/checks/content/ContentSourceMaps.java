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
import warden.core.content.PublishedPath;

/** Finds source maps. */
final class ContentSourceMaps implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-source-maps",
            Area.CONTENT,
            Severity.LOW,
            "source maps",
            "the published folder, bucket-objects",
            "Visitors can read the source as it was written, comments and all.",
            "Build without source maps, or leave *.map out of the upload.",
            "AWS CLI Command Reference, \"s3 sync\", option --exclude");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Finding> inFolder(Folder folder) {
        List<String> maps = maps(folder.folder().files().keySet());
        List<Finding> findings = new ArrayList<>();
        if (!maps.isEmpty()) {
            findings.add(folder.finding(CARD, maps.get(0), 1, "source maps", says(maps) + " would be published."));
        }
        return findings;
    }

    @Override
    public List<Verdict> inStore(Stored stored) {
        Optional<ObjectStore.Names> listing = stored.store().listed();
        if (listing.isEmpty()) {
            return List.of(stored.cleanUnlessUnread());
        }
        List<String> maps = maps(listing.get().keys());
        return List.of(
                maps.isEmpty()
                        ? stored.cleanUnlessUnread()
                        : new Verdict.Flagged(stored.finding(
                                CARD,
                                maps.get(0),
                                listing.get().citation(maps.get(0)).orElseThrow(),
                                says(maps) + (maps.size() == 1 ? " is" : " are") + " published with "
                                        + stored.site().name() + ".")));
    }

    private static String says(List<String> maps) {
        return maps.size() == 1
                ? "The source map " + maps.get(0)
                : maps.size() + " source maps (" + maps.get(0) + " …)";
    }

    private static List<String> maps(Iterable<String> paths) {
        List<String> maps = new ArrayList<>();
        paths.forEach(path -> {
            if (PublishedPath.isSourceMap(path)) {
                maps.add(path);
            }
        });
        return maps;
    }
}
