package warden.core.checks.content;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.content.PublishedFile;

/** Finds pages that load parts over plain HTTP. */
final class ContentMixed implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-mixed",
            Area.CONTENT,
            Severity.MEDIUM,
            "pages load parts over plain HTTP",
            "the published folder",
            "Browsers refuse such scripts and styles on a page served over HTTPS, and anyone on the way can change them.",
            "Load the part over https, or publish it with the site.",
            "W3C, \"Mixed Content\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Finding> inFolder(Folder folder) {
        List<Finding> findings = new ArrayList<>();
        for (PublishedFile file : folder.folder().files().values()) {
            for (PublishedFile.Spot part : file.plainParts()) {
                findings.add(folder.finding(
                        CARD,
                        part,
                        file.path(),
                        file.path() + ", line " + part.line() + ", loads " + part.quote() + " over plain HTTP."));
            }
        }
        return findings;
    }
}
