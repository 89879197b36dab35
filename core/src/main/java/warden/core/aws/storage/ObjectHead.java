package warden.core.aws.storage;

import java.util.Optional;
import warden.core.cloud.ObjectStore;
import warden.core.document.JsonPart;

/**
 * What is stored with one object. Source: S3 API Reference, HeadObject.
 *
 * @param redirect where the website endpoint sends a request of it, a path or a whole address
 * @param restored true when an archived object has a copy that can be read
 */
public record ObjectHead(
        Optional<String> contentType,
        Optional<String> contentEncoding,
        Optional<String> cacheControl,
        Optional<String> redirect,
        String storageClass,
        boolean restored)
        implements ObjectStore.Stored {
    @Override
    public boolean redirects() {
        return redirect.isPresent();
    }

    static ObjectHead parse(JsonPart answer) {
        return new ObjectHead(
                answer.text("ContentType"),
                answer.text("ContentEncoding"),
                answer.text("CacheControl"),
                answer.text("WebsiteRedirectLocation"),
                answer.text("StorageClass").orElse("STANDARD"),
                answer.text("Restore")
                        .filter(text -> text.contains("ongoing-request=\"false\""))
                        .isPresent());
    }

    /** True for the storage classes whose objects cannot be read before they are restored. */
    public static boolean isArchived(String storageClass) {
        return storageClass.equals("GLACIER") || storageClass.equals("DEEP_ARCHIVE");
    }
}
