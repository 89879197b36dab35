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
import warden.core.document.LatePattern;
import warden.core.survey.Citation;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/**
 * The names of a bucket's objects: as far as they were listed, or as an inventory has them, which holds the names that anybody asks for and
 * tells of the others whether they are there.
 */
public final class ObjectListing implements ObjectStore.Names {
    private static final LatePattern DIGITS = LatePattern.of("[0-9]{1,18}");

    /**
     * What is said of one object; the size is in bytes, empty when not said.
     *
     * @param encryption as an inventory calls it; absent where only the name was listed
     */
    public record Entry(String key, OptionalLong size, String storageClass, Optional<String> encryption, Citation at) {}

    private final Map<String, Entry> entries;
    private final NavigableSet<String> sorted;
    private final boolean complete;
    private final Optional<KeyFilter> others;
    private final Map<String, Long> encryptions;

    private ObjectListing(
            Map<String, Entry> entries, boolean complete, Optional<KeyFilter> others, Map<String, Long> encryptions) {
        this.entries = entries;
        this.sorted = new TreeSet<>(entries.keySet());
        this.complete = complete;
        this.others = others;
        this.encryptions = encryptions;
    }

    static ObjectListing of(Survey.Listing listing) {
        Map<String, Entry> entries = new LinkedHashMap<>();
        for (Reading.Found<JsonPart> page : listing.pages()) {
            put(page, entries);
        }
        return new ObjectListing(entries, listing.complete(), Optional.empty(), Map.of());
    }

    /**
     * Reads an inventory. Source of what it says: S3 User Guide, "Amazon S3 Inventory list".
     *
     * @param inventory the reading {@code bucket-inventory}
     */
    static ObjectListing ofInventory(Reading.Found<JsonPart> inventory) {
        JsonPart body = inventory.value();
        Map<String, Entry> entries = new LinkedHashMap<>();
        put(inventory, entries);
        Map<String, Long> encryptions = new LinkedHashMap<>();
        if (body.find("Encryption").orElse(body) instanceof JsonPart.JsonObject counts
                && body.find("Encryption").isPresent()) {
            counts.members().forEach((kind, count) -> count.scalar()
                    .filter(text -> DIGITS.matcher(text).matches())
                    .ifPresent(text -> encryptions.put(kind, Long.parseLong(text))));
        }
        return new ObjectListing(
                entries, body.flag("HoldsAllNotable").orElse(false), KeyFilter.parse(body), encryptions);
    }

    private static void put(Reading.Found<JsonPart> page, Map<String, Entry> entries) {
        for (JsonPart part : page.value().list("Contents")) {
            part.text("Key")
                    .ifPresent(key -> entries.put(
                            key,
                            new Entry(
                                    key,
                                    size(part),
                                    part.text("StorageClass").orElse("STANDARD"),
                                    part.text("Encryption"),
                                    page.at().at(part.at().toString(), key))));
        }
    }

    private static OptionalLong size(JsonPart part) {
        Optional<String> digits =
                part.text("Size").filter(text -> DIGITS.matcher(text).matches());
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

    /** True when no {@linkplain NotableNames notable} object exists beside those that are named. */
    @Override
    public boolean isComplete() {
        return complete;
    }

    /** True when no object at all exists beside those that are named. */
    public boolean isWhole() {
        return complete && others.isEmpty();
    }

    /**
     * Returns whether the object exists; unknown when it is not listed and the listing did not end, and of an object that an inventory may hold
     * and does not name.
     */
    public Truth has(String key) {
        if (entries.containsKey(key)) {
            return Truth.TRUE;
        }
        boolean mayBe = others.map(filter -> filter.mayHold(key)).orElse(!complete);
        return mayBe && !(complete && others.isPresent() && NotableNames.isNotable(key)) ? Truth.UNKNOWN : Truth.FALSE;
    }

    /** Returns whether an object exists whose key begins with {@code prefix}. */
    public Truth hasUnder(String prefix) {
        String first = sorted.ceiling(prefix);
        if (first != null && first.startsWith(prefix)) {
            return Truth.TRUE;
        }
        return isWhole() ? Truth.FALSE : Truth.UNKNOWN;
    }

    /** Returns the ways in which an inventory says that objects are encrypted; none where it does not say. */
    public Set<String> encryptions() {
        return encryptions.keySet();
    }

    @Override
    public Optional<Citation> citation(String key) {
        return entry(key).map(Entry::at);
    }
}
