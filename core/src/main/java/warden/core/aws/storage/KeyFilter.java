package warden.core.aws.storage;

import java.nio.ByteBuffer;
import java.nio.LongBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Optional;
import warden.core.document.JsonPart;

/**
 * Which keys of millions are surely not there, in a dozen bits for each (a Bloom filter whose bits for one key lie together, one in each word of
 * a block): a key that was added is never said to be missing; of those that were not, one in some hundred is not told from those that were.
 */
public final class KeyFilter {
    private static final int BITS_PER_KEY = 12;
    private static final int WORDS = 8;
    private static final int BITS_PER_BLOCK = WORDS * Long.SIZE;
    /** As many as a line of a survey holds. */
    private static final long MOST_BLOCKS = (1L << 30) / BITS_PER_BLOCK;

    private final long[] words;
    private final int blocks;

    private KeyFilter(long[] words) {
        this.words = words;
        this.blocks = words.length / WORDS;
    }

    /** Makes an empty one for so many keys. */
    public static KeyFilter forKeys(long keys) {
        long blocks = Math.max(1, Math.min(MOST_BLOCKS, keys * BITS_PER_KEY / BITS_PER_BLOCK + 1));
        return new KeyFilter(new long[(int) blocks * WORDS]);
    }

    /** Reads one from an inventory's reading; absent where all keys are named there. One that is broken holds everything. */
    static Optional<KeyFilter> parse(JsonPart inventory) {
        if (inventory.find("Others").isEmpty()) {
            return Optional.empty();
        }
        try {
            LongBuffer words = ByteBuffer.wrap(
                            Base64.getDecoder().decode(inventory.text("Others").orElse("")))
                    .asLongBuffer();
            long[] all = new long[words.remaining()];
            words.get(all);
            return Optional.of(new KeyFilter(all));
        } catch (IllegalArgumentException broken) {
            return Optional.of(new KeyFilter(new long[0]));
        }
    }

    /** Returns it as text. */
    public String spelled() {
        ByteBuffer bytes = ByteBuffer.allocate(words.length * Long.BYTES);
        bytes.asLongBuffer().put(words);
        return Base64.getEncoder().encodeToString(bytes.array());
    }

    /** Adds a key by its {@link #hash}. */
    public void add(long hash) {
        int block = block(hash);
        long places = mixed(hash);
        for (int i = 0; i < WORDS; i++) {
            words[block + i] |= 1L << (places >>> (6 * i));
        }
    }

    /** False where the key is surely not among those that were added. */
    boolean mayHold(String key) {
        if (blocks == 0) {
            return true;
        }
        long hash = hash(key);
        int block = block(hash);
        long places = mixed(hash);
        for (int i = 0; i < WORDS; i++) {
            if ((words[block + i] & 1L << (places >>> (6 * i))) == 0) {
                return false;
            }
        }
        return true;
    }

    private int block(long hash) {
        return (int) ((hash >>> 32) * blocks >>> 32) * WORDS;
    }

    /** FNV-1a over the key's bytes, mixed; part of the format. Source: RFC 9923, "The FNV Non-Cryptographic Hash Algorithm". */
    public static long hash(String key) {
        long hash = 0xcbf29ce484222325L;
        for (byte each : key.getBytes(StandardCharsets.UTF_8)) {
            hash = (hash ^ (each & 0xff)) * 0x100000001b3L;
        }
        return mixed(hash);
    }

    private static long mixed(long hash) {
        long mixed = (hash ^ (hash >>> 30)) * 0xbf58476d1ce4e5b9L;
        mixed = (mixed ^ (mixed >>> 27)) * 0x94d049bb133111ebL;
        return mixed ^ (mixed >>> 31);
    }
}
