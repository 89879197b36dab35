package warden.gather.aws.inventory;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.KeyFilter;
import warden.core.aws.storage.NotableNames;
import warden.core.document.Json;
import warden.core.survey.SurveyLine;

/**
 * Sums rows of an inventory up: a bucket of few objects is kept as a whole; of a larger one, the notable names and the heavy files, and of all
 * others whether they are there.
 */
final class InventoryTally {
    /** A listing of so many is no burden to whoever reads the survey. */
    private static final int MOST_WHOLE = 100_000;
    /** With more, the notable ones are not all kept, and the survey says so. */
    private static final int MOST_NOTABLE = 200_000;
    /** A check asks for files that are larger than visitors wait for. */
    private static final long HEAVY = 3_000_000;

    private static final int CHUNK = 1 << 16;
    private static final int MOST_FOLDERS = 50_000;

    private final String bucket;
    private final int bucketAt;
    private final int keyAt;
    private final int latestAt;
    private final int markerAt;
    private final int sizeAt;
    private final int classAt;
    private final int encryptionAt;
    private final List<Map<String, Object>> notable = new ArrayList<>();
    /** While there are few. */
    private final List<Map<String, Object>> all = new ArrayList<>();
    /** What was worked out of folders of late. */
    private final Map<String, Boolean> folders = new HashMap<>();

    private final List<long[]> hashes = new ArrayList<>();
    private final Map<String, Long> classes = new TreeMap<>();
    private final Map<String, Long> encryptions = new TreeMap<>();
    private long objects;
    private long bytes;
    private boolean isOverfull;

    InventoryTally(String bucket, List<String> columns) {
        this.bucket = bucket;
        this.bucketAt = InventoryReader.place(columns, "Bucket");
        this.keyAt = InventoryReader.place(columns, "Key");
        this.latestAt = InventoryReader.place(columns, "IsLatest");
        this.markerAt = InventoryReader.place(columns, "IsDeleteMarker");
        this.sizeAt = InventoryReader.place(columns, "Size");
        this.classAt = InventoryReader.place(columns, "StorageClass");
        this.encryptionAt = InventoryReader.place(columns, "EncryptionStatus");
    }

    /**
     * Adds a row.
     *
     * @throws IllegalArgumentException for one that cannot be of this bucket's inventory
     */
    void add(String[] row) {
        if (bucketAt >= 0 && !row[bucketAt].equals(bucket)) {
            throw new IllegalArgumentException("it is of another bucket than " + bucket);
        }
        boolean isOld = latestAt >= 0 && row[latestAt].equalsIgnoreCase("false");
        boolean isMarker = markerAt >= 0 && row[markerAt].equalsIgnoreCase("true");
        if (isOld || isMarker) {
            return;
        }
        String key = InventoryReader.decoded(row[keyAt]);
        long size = sizeAt < 0 || row[sizeAt].isEmpty() ? -1 : Long.parseLong(row[sizeAt]);
        String storageClass = classAt < 0 ? "" : row[classAt];
        String encryption = encryptionAt < 0 ? "" : row[encryptionAt];
        count(key, size, storageClass, encryption);
        boolean isKept = size > HEAVY || isNotable(key);
        if (!isKept && objects > MOST_WHOLE) {
            return;
        }
        Map<String, Object> entry = entry(key, size, storageClass, encryption);
        if (objects <= MOST_WHOLE) {
            all.add(entry);
        } else {
            all.clear();
        }
        if (isKept && notable.size() < MOST_NOTABLE) {
            notable.add(entry);
        } else if (isKept) {
            isOverfull = true;
        }
    }

    private boolean isNotable(String key) {
        if (!NotableNames.isPlainFile(key)) {
            return true;
        }
        String folder = key.substring(0, key.lastIndexOf('/') + 1);
        if (folders.size() > MOST_FOLDERS) {
            folders.clear();
        }
        return folders.computeIfAbsent(folder, NotableNames::isNotableFolder);
    }

    private void count(String key, long size, String storageClass, String encryption) {
        int within = (int) (objects % CHUNK);
        if (within == 0) {
            hashes.add(new long[CHUNK]);
        }
        hashes.get(hashes.size() - 1)[within] = KeyFilter.hash(key);
        objects++;
        bytes += Math.max(0, size);
        if (classAt >= 0) {
            classes.merge(storageClass, 1L, Long::sum);
        }
        if (encryptionAt >= 0) {
            encryptions.merge(encryption, 1L, Long::sum);
        }
    }

    private static Map<String, Object> entry(String key, long size, String storageClass, String encryption) {
        Map<String, Object> entry = new LinkedHashMap<>();
        entry.put("Key", key);
        if (size >= 0) {
            entry.put("Size", size);
        }
        if (!storageClass.isEmpty()) {
            entry.put("StorageClass", storageClass);
        }
        if (!encryption.isEmpty()) {
            entry.put("Encryption", encryption);
        }
        return entry;
    }

    /** Returns what came of all rows. */
    Inventory inventory(Instant made) {
        boolean isWhole = objects <= MOST_WHOLE;
        List<Map<String, Object>> contents = isWhole ? all : notable;
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("Date", made.toString());
        body.put("Objects", objects);
        body.put("Bytes", bytes);
        body.put("StorageClasses", classes);
        body.put("Encryption", encryptions);
        body.put("HoldsAllNotable", !isOverfull);
        body.put("Contents", contents);
        if (!isWhole) {
            body.put("Others", filter().spelled());
        }
        SurveyLine reading = new SurveyLine(
                "",
                1,
                "bucket-inventory",
                Bucket.arnOf(bucket),
                "inventory",
                SurveyLine.Outcome.FOUND,
                Json.text(body));
        return new Inventory(
                bucket,
                reading,
                contents.stream().map(entry -> String.valueOf(entry.get("Key"))).toList(),
                objects);
    }

    private KeyFilter filter() {
        KeyFilter filter = KeyFilter.forKeys(objects);
        long left = objects;
        for (long[] chunk : hashes) {
            int count = (int) Math.min(CHUNK, left);
            for (int i = 0; i < count; i++) {
                filter.add(chunk[i]);
            }
            left -= count;
        }
        return filter;
    }
}
