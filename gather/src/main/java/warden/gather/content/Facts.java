package warden.gather.content;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import warden.core.content.PublishedFile.Reference;
import warden.core.content.PublishedFile.Spot;

/** Collects what one file refers to. */
final class Facts {
    private static final Pattern HERE = Pattern.compile("http://(localhost|127\\.0\\.0\\.1)([:/].*)?");

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
        if (isPart && plain.regionMatches(true, 0, "http://", 0, 7)) {
            if (!HERE.matcher(plain.toLowerCase(Locale.ROOT)).matches()) {
                plainParts.add(new Spot(line, FolderReader.shown(plain), ""));
            }
        }
        target(plain, base)
                .ifPresent(target -> references.add(new Reference(line, FolderReader.shown(plain), target, isPart)));
    }

    private Optional<String> target(String address, String base) {
        // What still has to be filled in, by a template or a script, is no address yet.
        boolean noFile = address.isEmpty() || address.startsWith("#") || address.startsWith("?");
        if (noFile || address.startsWith("//") || base.contains("//")) {
            return Optional.empty();
        }
        int end = address.length();
        // Before the first of these a colon ends a scheme. Source: RFC 3986, section 4.1, "URI Reference".
        boolean isScheme = isLetter(address.charAt(0));
        for (int i = 0; i < address.length(); i++) {
            char c = address.charAt(i);
            if (c == '{' || c == '}' || c == '<' || c == '>' || c == '$' || (c == ':' && isScheme)) {
                return Optional.empty();
            }
            isScheme = isScheme && (isLetter(c) || (c >= '0' && c <= '9') || c == '+' || c == '.' || c == '-');
            end = c == '?' || c == '#' ? Math.min(end, i) : end;
        }
        String withoutQuery = address.substring(0, end);
        String folder = path.substring(0, path.lastIndexOf('/') + 1);
        String from = withoutQuery.startsWith("/")
                ? ""
                : base.isEmpty() ? folder : base.startsWith("/") ? base.substring(1) : folder + base;
        return normal(from.substring(0, from.lastIndexOf('/') + 1) + withoutQuery);
    }

    private static boolean isLetter(char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
    }

    /** True for a path that is surely spelled as the file's name is: most are. */
    private static boolean isNormal(String path) {
        return path.indexOf('%') < 0
                && !path.startsWith("/")
                && !path.startsWith(".")
                && !path.contains("//")
                && !path.contains("/.");
    }

    private static Optional<String> normal(String joined) {
        if (isNormal(joined)) {
            return Optional.of(joined);
        }
        String decoded = joined;
        if (joined.indexOf('%') >= 0) {
            try {
                decoded = URLDecoder.decode(joined.replace("+", "%2B"), StandardCharsets.UTF_8);
            } catch (IllegalArgumentException strange) {
                return Optional.empty();
            }
        }
        Deque<String> parts = new ArrayDeque<>();
        for (String part : decoded.split("/", -1)) {
            if (part.equals("..")) {
                parts.pollLast();
            } else if (!part.equals(".") && !part.isEmpty()) {
                parts.addLast(part);
            }
        }
        String last = decoded.substring(decoded.lastIndexOf('/') + 1);
        boolean isFolder = last.isEmpty() || last.equals(".") || last.equals("..");
        String whole = String.join("/", parts);
        return Optional.of(isFolder && !whole.isEmpty() ? whole + "/" : whole);
    }
}
