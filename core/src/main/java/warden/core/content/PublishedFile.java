package warden.core.content;

import java.util.List;

/**
 * One file of the folder.
 *
 * @param path within the folder, {@code /}-separated
 * @param size in bytes
 * @param compressedSize what it takes to send, in bytes, compressed where an edge would do so
 * @param isRead false when its text was not looked at: it is no text, or could not be read
 * @param secrets the secrets in it, masked
 * @param templates the template text left in it
 * @param references what it refers to within the site
 * @param plainParts the parts that it loads over plain HTTP
 */
public record PublishedFile(
        String path,
        long size,
        long compressedSize,
        boolean isRead,
        List<Spot> secrets,
        List<Spot> templates,
        List<Reference> references,
        List<Spot> plainParts) {
    public PublishedFile {
        secrets = List.copyOf(secrets);
        templates = List.copyOf(templates);
        references = List.copyOf(references);
        plainParts = List.copyOf(plainParts);
    }

    /**
     * A place in the file.
     *
     * @param line counted from 1
     * @param quote what stands there, shortened and masked
     * @param kind what it is, as a phrase; empty when there is only one kind
     */
    public record Spot(int line, String quote, String kind) {}

    /**
     * A reference to another file of the site.
     *
     * @param line counted from 1
     * @param spelled as the file spells it
     * @param target the path that it leads to, within the folder; ends with a slash for a folder
     * @param isPart true for what the page loads with itself (scripts, styles), false for links
     */
    public record Reference(int line, String spelled, String target, boolean isPart) {}
}
