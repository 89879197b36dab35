package warden.core.checks.content;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.content.PublishedFile;
import warden.core.content.PublishedFolder;

/** Finds references between the files of the folder that lead to nothing. */
final class ContentBrokenLink implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-broken-link",
            Area.CONTENT,
            Severity.MEDIUM,
            "a local reference leads to nothing",
            "the published folder",
            "Visitors follow a link to an error, or see a page without its style or its script.",
            "Correct the reference, or publish what it names.",
            "HTML Living Standard, \"Links\"");

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
            for (PublishedFile.Reference reference : file.references()) {
                if (!leadsSomewhere(folder.folder(), reference.target())) {
                    String says = file.path() + ", line " + reference.line() + ", "
                            + (reference.isPart() ? "loads " : "links to ") + reference.spelled()
                            + ", which does not exist.";
                    findings.add(folder.finding(CARD, file.path(), reference.line(), reference.spelled(), says));
                }
            }
        }
        return findings;
    }

    /** A folder leads to its index; a name without its ending counts as the page, since an edge may add the ending. */
    private static boolean leadsSomewhere(PublishedFolder folder, String target) {
        if (target.isEmpty()) {
            return folder.file("index.html").isPresent()
                    || folder.file("index.htm").isPresent();
        }
        if (target.endsWith("/")) {
            return folder.file(target + "index.html").isPresent()
                    || folder.file(target + "index.htm").isPresent();
        }
        boolean unread = folder.unread().containsKey(target);
        return unread
                || folder.file(target).isPresent()
                || folder.file(target + ".html").isPresent()
                || folder.file(target + "/index.html").isPresent()
                || folder.file(target + "/index.htm").isPresent();
    }
}
