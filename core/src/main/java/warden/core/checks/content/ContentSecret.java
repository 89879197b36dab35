package warden.core.checks.content;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.content.PublishedFile;

/** Finds secrets in files that are about to be published. */
final class ContentSecret implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-secret",
            Area.CONTENT,
            Severity.CRITICAL,
            "a token, key or private key in a published file (masked)",
            "the published folder",
            "Everyone who visits the site can take it and use it.",
            "Revoke it now, and keep its successor on a server that visitors cannot read.",
            "IAM User Guide, \"Security best practices in IAM\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public boolean asksAboutTexts() {
        return true;
    }

    @Override
    public List<Finding> inFolder(Folder folder) {
        List<Finding> findings = new ArrayList<>();
        for (PublishedFile file : folder.folder().files().values()) {
            for (PublishedFile.Spot spot : file.secrets()) {
                String says = file.path() + ", line " + spot.line() + ", holds " + spot.kind() + ".";
                findings.add(folder.finding(CARD, spot, file.path(), says));
            }
        }
        return findings;
    }
}
