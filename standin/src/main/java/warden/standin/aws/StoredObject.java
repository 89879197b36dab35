package warden.standin.aws;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.document.JsonPart;
import warden.standin.Content;

/**
 * One version of an object.
 *
 * @param entry what a listing says of it
 * @param head what head-object says of it; null when the survey had no line
 * @param content null as long as it is made up
 * @param version its id; {@code null}, the word, where versions are not kept
 * @param isMarker true for what says that the object was deleted
 * @param tags by name; null for an object of the survey, which tells none
 * @param parts the sizes of the parts in which it was uploaded; empty for one that came whole
 */
record StoredObject(
        String key,
        JsonPart entry,
        @Nullable JsonPart head,
        @Nullable Content content,
        String version,
        boolean isMarker,
        @Nullable Map<String, String> tags,
        List<Long> parts) {
    /** The id of the one version of an object of which no others are kept. */
    static final String ONLY = "null";

    StoredObject {
        parts = List.copyOf(parts);
    }

    long size() {
        return content != null
                ? content.size()
                : entry.text("Size")
                        .filter(text -> text.matches("[0-9]{1,18}"))
                        .map(Long::parseLong)
                        .orElse(0L);
    }

    Optional<String> tag() {
        return entry.text("ETag");
    }

    Optional<String> modified() {
        return entry.text("LastModified");
    }

    StoredObject tagged(Map<String, String> other) {
        return new StoredObject(key, entry, head, content, version, isMarker, Map.copyOf(other), parts);
    }
}
