package warden.core.aws.storage;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.NavigableSet;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeSet;
import warden.core.access.Truth;
import warden.core.cloud.ObjectStore;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** The names of a bucket's objects, as far as they were listed. */
public final class ObjectListing implements ObjectStore.Names {
    /** What a listing says of one object; the size is in bytes, empty when not said. */
    public record Entry(String key, OptionalLong size, String storageClass, Citation at) {}

    private final Map<String, Entry> entries;
    private final NavigableSet<String> sorted;
    private final boolean complete;

    private ObjectListing(Map<String, Entry> entries, boolean complete) {
        this.entries = entries;
        this.sorted = new TreeSet<>(entries.keySet());
        this.complete = complete;
    }

    static ObjectListing of(Survey.Listing listing) {
        Map<String, Entry> entries = new LinkedHashMap<>();
        for (Reading.Found<JsonPart> page : listing.pages()) {
            for (JsonPart part : page.value().list("Contents")) {
                part.text("Key")
                        .ifPresent(key -> entries.put(
                                key,
                                new Entry(
                                        key,
                                        size(part),
                                        part.text("StorageClass").orElse("STANDARD"),
                                        page.at().at(part.at().toString(), key))));
            }
        }
        return new ObjectListing(entries, listing.complete());
    }

    private static OptionalLong size(JsonPart part) {
        Optional<String> digits = part.text("Size").filter(text -> text.matches("[0-9]{1,18}"));
        return digits.isPresent() ? OptionalLong.of(Long.parseLong(digits.get())) : OptionalLong.empty();
    }

    @Override
    public Set<String> keys() {
        return entries.keySet();
    }

    /** Returns what is said of the object. */
    public Optional<Entry> entry(String key) {
        return Optional.ofNullable(entries.get(key));
    }

    @Override
    public OptionalLong size(String key) {
        Entry entry = entries.get(key);
        return entry == null ? OptionalLong.empty() : entry.size();
    }

    @Override
    public boolean isComplete() {
        return complete;
    }

    /** Returns whether the object exists; unknown when it is not listed and the listing did not end. */
    public Truth has(String key) {
        if (entries.containsKey(key)) {
            return Truth.TRUE;
        }
        return complete ? Truth.FALSE : Truth.UNKNOWN;
    }

    /** Returns whether an object exists whose key begins with {@code prefix}. */
    public Truth hasUnder(String prefix) {
        String first = sorted.ceiling(prefix);
        if (first != null && first.startsWith(prefix)) {
            return Truth.TRUE;
        }
        return complete ? Truth.FALSE : Truth.UNKNOWN;
    }

    @Override
    public Optional<Citation> citation(String key) {
        return entry(key).map(Entry::at);
    }
}
