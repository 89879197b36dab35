package warden.gather.content;

import java.net.URI;
import java.net.URISyntaxException;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.content.PublishedFile.Reference;
import warden.core.content.PublishedFile.Spot;

/** Collects what one file refers to. */
final class Facts {
    private final String path;
    private final List<Spot> templates = new ArrayList<>();
    private final List<Reference> references = new ArrayList<>();
    private final List<Spot> plainParts = new ArrayList<>();

    /**
     * Begins with nothing.
     *
     * @param path of the file within the folder
     */
    Facts(String path) {
        this.path = path;
    }

    List<Spot> templates() {
        return templates;
    }

    List<Reference> references() {
        return references;
    }

    List<Spot> plainParts() {
        return plainParts;
    }

    void template(int line, String quote) {
        templates.add(new Spot(line, FolderReader.shown(quote), ""));
    }

    /**
     * Adds a reference when it leads to another file of the site, or a part loaded over plain HTTP.
     *
     * @param base what the page says its references begin at; empty for its own place
     * @param isPart true for what the page loads with itself
     */
    void reference(String address, int line, boolean isPart, String base) {
        String plain = address.strip();
        String lower = plain.toLowerCase(Locale.ROOT);
        if (lower.startsWith("http://") && isPart && !lower.matches("http://(localhost|127\\.0\\.0\\.1)([:/].*)?")) {
            plainParts.add(new Spot(line, FolderReader.shown(plain), ""));
        }
        target(plain, base)
                .ifPresent(target -> references.add(new Reference(line, FolderReader.shown(plain), target, isPart)));
    }

    private Optional<String> target(String address, String base) {
        // What still has to be filled in, by a template or a script, is no address yet.
        if (address.isEmpty()
                || address.startsWith("#")
                || address.startsWith("?")
                || address.matches("(?s).*[{}<>$].*")) {
            return Optional.empty();
        }
        if (address.startsWith("//") || address.matches("(?s)[A-Za-z][A-Za-z0-9+.-]*:.*") || base.contains("//")) {
            return Optional.empty();
        }
        String withoutQuery = address.replaceFirst("[?#].*$", "");
        String folder = path.substring(0, path.lastIndexOf('/') + 1);
        String from = withoutQuery.startsWith("/")
                ? ""
                : base.isEmpty() ? folder : base.startsWith("/") ? base.substring(1) : folder + base;
        return normal(from.substring(0, from.lastIndexOf('/') + 1) + withoutQuery);
    }

    private static Optional<String> normal(String joined) {
        String decoded;
        try {
            decoded = URLDecoder.decode(joined.replace("+", "%2B"), StandardCharsets.UTF_8);
            new URI(null, null, "/" + decoded, null);
        } catch (IllegalArgumentException | URISyntaxException strange) {
            return Optional.empty();
        }
        Deque<String> parts = new ArrayDeque<>();
        for (String part : decoded.split("/", -1)) {
            if (part.equals("..")) {
                parts.pollLast();
            } else if (!part.equals(".") && !part.isEmpty()) {
                parts.addLast(part);
            }
        }
        boolean isFolder =
                decoded.endsWith("/") || decoded.endsWith("/.") || decoded.endsWith("..") || decoded.isEmpty();
        String whole = String.join("/", parts);
        return Optional.of(isFolder && !whole.isEmpty() ? whole + "/" : whole);
    }
}
