package warden.core.checks.content;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.cloud.ObjectStore;
import warden.core.content.PublishedFile;
import warden.core.content.PublishedFolder;
import warden.core.document.LatePattern;

/** Finds files, and front pages, that visitors wait for long. */
final class ContentHeavy implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-heavy",
            Area.CONTENT,
            Severity.LOW,
            "single files or a first page far larger than visitors should wait for",
            "the published folder, bucket-objects",
            "On a ferry's Wi-Fi the page takes minutes, and each visit costs traffic.",
            "Shrink images, split scripts, and load late what is not seen first.",
            "MDN Web Docs, \"Web performance\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final LatePattern TEXT = LatePattern.of("(?i).*\\.(html?|js|mjs|css|svg|json)");
    private static final long HEAVY_FILE = 3_000_000;
    private static final long HEAVY_PAGE = 5_000_000;
    private static final Set<String> WAITED_FOR = Set.of(
            "html", "htm", "js", "mjs", "css", "png", "jpg", "jpeg", "gif", "webp", "avif", "svg", "woff", "woff2",
            "ttf", "json");

    @Override
    public List<Finding> inFolder(Folder folder) {
        List<Finding> findings = new ArrayList<>();
        for (PublishedFile file : folder.folder().files().values()) {
            if (isWaitedFor(file.path()) && file.compressedSize() > HEAVY_FILE) {
                findings.add(folder.finding(
                        CARD, file.path(), 1, "size", file.path() + " is " + megabytes(file.size()) + "."));
            }
        }
        folder.folder().file("index.html").ifPresent(index -> {
            long whole = whole(folder.folder(), index);
            if (whole > HEAVY_PAGE && findings.isEmpty()) {
                findings.add(folder.finding(
                        CARD,
                        index.path(),
                        1,
                        "first page",
                        "The first page with all that it loads takes " + megabytes(whole) + " to send."));
            }
        });
        return findings;
    }

    @Override
    public List<Verdict> inStore(Stored stored) {
        Optional<ObjectStore.Names> listing = stored.store().listed();
        if (listing.isEmpty()) {
            return List.of(stored.cleanUnlessUnread());
        }
        List<Verdict> verdicts = new ArrayList<>();
        for (String key : listing.get().keys()) {
            long size = listing.get().size(key).orElse(0);
            boolean text = TEXT.matcher(key).matches();
            long sent = size / (text ? 3 : 1);
            if (isWaitedFor(key) && sent > HEAVY_FILE) {
                verdicts.add(new Verdict.Flagged(stored.finding(
                        CARD, key, listing.get().citation(key).orElseThrow(), key + " is " + megabytes(size) + ".")));
            }
        }
        return verdicts.isEmpty() ? List.of(stored.cleanUnlessUnread()) : verdicts;
    }

    /** Returns the bytes that the page and all its parts, and their parts, take to send. */
    private static long whole(PublishedFolder folder, PublishedFile page) {
        Set<String> loaded = new LinkedHashSet<>(Set.of(page.path()));
        List<PublishedFile> open = new ArrayList<>(List.of(page));
        long whole = 0;
        while (!open.isEmpty()) {
            PublishedFile file = open.remove(0);
            whole += file.compressedSize();
            for (PublishedFile.Reference reference : file.references()) {
                if (reference.isPart() && loaded.add(reference.target())) {
                    folder.file(reference.target()).ifPresent(open::add);
                }
            }
        }
        return whole;
    }

    private static boolean isWaitedFor(String path) {
        int dot = path.lastIndexOf('.');
        return dot >= 0 && WAITED_FOR.contains(path.substring(dot + 1).toLowerCase(Locale.ROOT));
    }

    private static String megabytes(long bytes) {
        return bytes / 1_000_000 + "." + bytes / 100_000 % 10 + " MB";
    }
}
