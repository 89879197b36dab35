package warden.core.checks.content;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.cloud.ObjectStore;
import warden.core.content.PublishedFile;
import warden.core.content.PublishedPath;

/** Finds files that were never meant for visitors. */
final class ContentPrivateFiles implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-private-files",
            Area.CONTENT,
            Severity.HIGH,
            "version control data, environment files, editor and package folders, deployment state",
            "the published folder, bucket-objects",
            "History, settings and passwords can be fetched by anyone who guesses the well-known names.",
            "Publish the folder that the build makes, leave these out of the upload, and delete what is already there.",
            "AWS CLI Command Reference, \"s3 sync\", option --exclude");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Finding> inFolder(Folder folder) {
        List<Finding> findings = new ArrayList<>();
        // A key file whose text holds no private key is a public one.
        List<String> paths = folder.folder().files().values().stream()
                .filter(file -> !file.path().endsWith(".pem")
                        || !file.isRead()
                        || file.secrets().stream().anyMatch(spot -> spot.kind().equals("a private key")))
                .map(PublishedFile::path)
                .toList();
        grouped(paths)
                .forEach((kind, group) -> findings.add(
                        folder.finding(CARD, group.first(), 1, kind, says(kind, group) + " would be published.")));
        return findings;
    }

    @Override
    public List<Verdict> inStore(Stored stored) {
        Optional<ObjectStore.Names> listing = stored.store().listed();
        if (listing.isEmpty()) {
            return List.of(stored.cleanUnlessUnread());
        }
        List<Verdict> verdicts = new ArrayList<>();
        grouped(listing.get().keys())
                .forEach((kind, group) -> verdicts.add(new Verdict.Flagged(stored.finding(
                        CARD,
                        group.first(),
                        listing.get().citation(group.first()).orElseThrow(),
                        says(kind, group) + (group.count() == 1 ? " is" : " are") + " stored among the pages of "
                                + stored.site().name() + "."))));
        return verdicts.isEmpty() ? List.of(stored.cleanUnlessUnread()) : verdicts;
    }

    /** Files of one kind. */
    private record Group(String first, int count) {}

    private static String says(String kind, Group group) {
        return group.count() == 1 ? group.first() : group.count() + " files of " + kind;
    }

    private static Map<String, Group> grouped(Iterable<String> paths) {
        Map<String, Group> groups = new LinkedHashMap<>();
        for (String path : paths) {
            PublishedPath.privateName(path)
                    .ifPresent(name -> groups.merge(
                            name, new Group(path, 1), (old, one) -> new Group(old.first(), old.count() + 1)));
        }
        return groups;
    }
}
