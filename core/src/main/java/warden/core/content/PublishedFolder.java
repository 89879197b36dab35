package warden.core.content;

import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;
import warden.core.survey.Citation;

/**
 * A folder that is about to be published.
 *
 * @param name as the user gave it
 * @param files its files, by path
 * @param unread the paths that could not be read, and why
 */
public record PublishedFolder(String name, NavigableMap<String, PublishedFile> files, Map<String, String> unread) {
    public PublishedFolder {
        files = java.util.Collections.unmodifiableNavigableMap(new TreeMap<>(files));
        unread = java.util.Collections.unmodifiableMap(new TreeMap<>(unread));
    }

    /** Returns a folder of these files. */
    public static PublishedFolder of(String name, List<PublishedFile> files, Map<String, String> unread) {
        TreeMap<String, PublishedFile> byPath = new TreeMap<>();
        files.forEach(file -> byPath.put(file.path(), file));
        return new PublishedFolder(name, byPath, unread);
    }

    public Optional<PublishedFile> file(String path) {
        return Optional.ofNullable(files.get(path));
    }

    /** True when a file lies under the prefix, which ends with a slash. */
    public boolean hasUnder(String prefix) {
        String first = files.ceilingKey(prefix);
        return first != null && first.startsWith(prefix);
    }

    /** Cites a line of a file, counted from 1. */
    public Citation cite(String path, int line, String quote) {
        return new Citation(
                name.endsWith("/") ? name + path : name + "/" + path, line, "published-file", path, "", quote);
    }
}
