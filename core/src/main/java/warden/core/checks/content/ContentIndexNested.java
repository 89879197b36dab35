package warden.core.checks.content;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.site.Site;
import warden.core.site.SiteFile.StatedSite;

/** Finds folders whose index lies further down. */
final class ContentIndexNested implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-index-nested",
            Area.CONTENT,
            Severity.HIGH,
            "no index at the root; one further down",
            "the published folder",
            "The front page answers with an error, and every address is one folder too deep.",
            "Publish the folder in which the index lies.",
            "S3 User Guide, \"Configuring an index document\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Finding> inFolder(Folder folder) {
        String index =
                folder.inSite().flatMap(Site::stated).flatMap(StatedSite::index).orElse("index.html");
        List<Finding> findings = new ArrayList<>();
        if (folder.folder().file(index).isEmpty()) {
            Optional<String> nested = folder.folder().files().keySet().stream()
                    .filter(path -> path.endsWith("/" + index))
                    .min(Comparator.comparingInt((String path) -> path.split("/").length)
                            .thenComparing(Comparator.naturalOrder()));
            nested.ifPresent(path -> findings.add(folder.finding(
                    CARD,
                    path,
                    1,
                    path,
                    "The folder has no " + index + " at its root; there is one at " + path + ".")));
        }
        return findings;
    }
}
