package warden.core.azure.account;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import warden.core.access.Truth;
import warden.core.cloud.ObjectStore;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/**
 * The blobs of a container, as far as they are listed.
 *
 * @param blobs by name
 * @param open what keeps the list from being whole; absent when it is whole
 * @param at where the list stands; absent when it was not read
 */
public record BlobList(Map<String, Blob> blobs, Optional<Need> open, Optional<Citation> at)
        implements ObjectStore.Names {
    /** One blob. */
    public record Blob(String name, JsonPart document, Citation at) implements ObjectStore.Stored {
        @Override
        public Optional<String> contentType() {
            return text("contentType").filter(type -> !type.isEmpty());
        }

        @Override
        public Optional<String> cacheControl() {
            return text("cacheControl").filter(control -> !control.isEmpty());
        }

        @Override
        public boolean redirects() {
            return false;
        }

        @Override
        public String contentTypeAt() {
            return at.path() + "/properties/contentType";
        }

        @Override
        public String cacheControlAt() {
            return at.path() + "/properties/cacheControl";
        }

        /** Returns one of its properties as text; absent where it is missing or null. */
        public Optional<String> text(String property) {
            return document.text("properties", property);
        }
    }

    static BlobList read(Subscription subscription, String container) {
        Map<String, Blob> blobs = new LinkedHashMap<>();
        Reading<Survey.Listing> listing =
                subscription.survey().listing("container-blobs", subscription.spelled("container-blobs", container));
        Optional<Need> open = listing.missing();
        if (listing.found().isPresent()) {
            boolean understood = true;
            for (Reading.Found<JsonPart> page : listing.found().get().pages()) {
                understood &= Page.isWhole(page.value(), "name");
                for (JsonPart blob : Page.elements(page.value()).orElse(List.of())) {
                    blob.text("name")
                            .ifPresent(name -> blobs.put(
                                    name, new Blob(name, blob, page.at().at(blob))));
                }
            }
            if (!listing.found().get().complete()) {
                open = Optional.of(Need.cutShort(
                        "container-blobs",
                        container,
                        "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/read"));
            } else if (!understood) {
                open = Optional.of(new Need("container-blobs", container, "the answer is no list of names", ""));
            }
        }
        return new BlobList(blobs, open, listing.citation());
    }

    @Override
    public Set<String> keys() {
        return blobs.keySet();
    }

    @Override
    public OptionalLong size(String name) {
        return blob(name)
                .flatMap(blob -> blob.text("contentLength"))
                .filter(text -> text.matches("[0-9]{1,18}"))
                .map(text -> OptionalLong.of(Long.parseLong(text)))
                .orElse(OptionalLong.empty());
    }

    @Override
    public boolean isComplete() {
        return open.isEmpty();
    }

    @Override
    public Optional<Citation> citation(String name) {
        return blob(name).map(Blob::at);
    }

    /** Returns whether there is a blob of this name. */
    public Truth has(String name) {
        return blobs.containsKey(name) ? Truth.TRUE : open.isPresent() ? Truth.UNKNOWN : Truth.FALSE;
    }

    public Optional<Blob> blob(String name) {
        return Optional.ofNullable(blobs.get(name));
    }

    public Set<String> names() {
        return blobs.keySet();
    }

    /** Returns whether there is any blob. */
    public Truth hasAny() {
        return !blobs.isEmpty() ? Truth.TRUE : open.isPresent() ? Truth.UNKNOWN : Truth.FALSE;
    }
}
