package warden.core.azure.checks.cdn;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.checks.CdnCards;

/** Finds edges before a blob endpoint whose folders show no index document. */
final class FolderIndexUnserved implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.FOLDER_INDEX_UNSERVED.told(
            "cdn-endpoint, front-door-origin",
            "Visitors of folders get an error.",
            "Make the web endpoint the origin.",
            "Storage documentation, \"Integrate a static website with Azure CDN\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        boolean hasFolders = subject.edge().liveOrigins().stream()
                .flatMap(origin -> subject.storage(origin).stream())
                .filter(storage -> !storage.isWeb())
                .anyMatch(storage -> storage.account().containers().stream()
                        .anyMatch(container ->
                                container.blobs().names().stream().anyMatch(name -> name.endsWith("/index.html"))));
        return hasFolders
                ? IndexAtBlobs.examine(
                        subject,
                        CARD,
                        "/a-folder/",
                        "The edge fetches from a blob endpoint, which shows no index"
                                + " document of folders, and no rule rewrites them.")
                : List.of();
    }
}
