package warden.core.checks.content;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.content.PublishedFile;

/** Finds template text that was to be replaced before publishing. */
final class ContentTemplateText implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-template-text",
            Area.CONTENT,
            Severity.MEDIUM,
            "template text left in a script, page or configuration",
            "the published folder",
            "The page shows it, or the script calls an address that does not exist.",
            "Fill in what the text stands for, and let the build stop when something is left.",
            "AWS CLI Command Reference, \"s3 sync\"");

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
            if (!file.templates().isEmpty()) {
                PublishedFile.Spot first = file.templates().get(0);
                int more = file.templates().size() - 1;
                String says = file.path() + ", line " + first.line() + ", still holds template text: " + first.quote()
                        + (more > 0 ? ", and " + more + " more." : ".");
                findings.add(folder.finding(CARD, first, file.path(), says));
            }
        }
        return findings;
    }
}
