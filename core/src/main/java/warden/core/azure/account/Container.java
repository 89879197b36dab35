package warden.core.azure.account;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.cloud.ObjectStore;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** One container. Safe for use by several threads. */
public final class Container implements ObjectStore {
    private final StorageAccount account;
    private final String id;
    private final Reading<Item> settings;
    private @Nullable BlobList blobs;

    Container(StorageAccount account, String id, Reading<Item> settings) {
        this.account = account;
        this.id = id;
        this.settings = settings;
    }

    public StorageAccount account() {
        return account;
    }

    @Override
    public String id() {
        return id;
    }

    @Override
    public String name() {
        return ResourceId.name(id);
    }

    /** True for the container that static websites are served from. */
    public boolean isWeb() {
        return name().equals(ResourceId.WEB);
    }

    public Reading<Item> settings() {
        return settings;
    }

    /** Returns the identifier of a blob. */
    public String blob(String name) {
        return id + "/blobs/" + name;
    }

    @Override
    public String object(String name) {
        return blob(name);
    }

    @Override
    public Optional<Names> listed() {
        BlobList all = blobs();
        return all.at().map(at -> all);
    }

    @Override
    public Optional<Need> unlistedObjects() {
        return blobs().open();
    }

    /** Returns all that are listed: the list itself says how each is stored. */
    @Override
    public List<String> asked() {
        return List.copyOf(blobs().names());
    }

    @Override
    public Optional<Reading<BlobList.Blob>> stored(String name) {
        return blobs().blob(name).map(blob -> new Reading.Found<>(blob, blob.at()));
    }

    @Override
    public String permissionToAsk() {
        return "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/read";
    }

    /** Returns the blobs, as far as they are listed. */
    public synchronized BlobList blobs() {
        if (blobs == null) {
            blobs = BlobList.read(account.subscription(), id);
        }
        return blobs;
    }

    /** Returns whether its own level lets anyone read a blob whose name they know. */
    public Truth isOpen() {
        return level("Blob", "Container");
    }

    /** Returns whether its own level lets anyone list it. */
    public Truth isListable() {
        return level("Container");
    }

    private Truth level(String... levels) {
        Optional<String> level = settings.found().flatMap(item -> item.text("publicAccess"));
        if (settings.isAbsent()) {
            return Truth.FALSE;
        }
        if (level.isEmpty() || !List.of("None", "Blob", "Container").contains(level.get())) {
            return Truth.UNKNOWN;
        }
        return Truth.of(List.of(levels).contains(level.get()));
    }

    /** Returns that its level has to be read. */
    public Need need() {
        return settings.missing()
                .orElse(new Need(
                        "container",
                        id,
                        "its level of anonymous access is not in the answer",
                        "Microsoft.Storage/storageAccounts/blobServices/containers/read"));
    }

    /** Returns where its level stands; absent when it was not read. */
    public Optional<Citation> citeLevel() {
        return settings.found().map(item -> item.cite("publicAccess"));
    }

    /** Returns whether overwriting and deleting may fail for everyone, by a hold or a policy of immutability. */
    public boolean mayBeImmutable() {
        boolean held = settings.found()
                .filter(item -> item.flag("hasImmutabilityPolicy").orElse(false)
                        || item.flag("hasLegalHold").orElse(false))
                .isPresent();
        boolean byAccount = account.settings()
                .found()
                .filter(item ->
                        item.flag("immutableStorageWithVersioning", "enabled").orElse(false))
                .isPresent();
        return held || byAccount;
    }
}
