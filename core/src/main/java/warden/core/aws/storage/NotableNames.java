package warden.core.aws.storage;

import java.util.Locale;
import java.util.Set;
import warden.core.content.PublishedPath;
import warden.core.pipeline.StateFiles;

/**
 * Names of objects that a check may ask for by what they look like: all but those of plain media and data, of which a bucket has millions and
 * whose names tell nothing. A survey of an inventory holds every notable one.
 */
public final class NotableNames {
    /** Of these nothing but the size is looked at. */
    private static final Set<String> PLAIN = Set.of(
            "jpg", "jpeg", "png", "gif", "webp", "avif", "heic", "bmp", "tif", "tiff", "ico", "mp4", "m4v", "mov",
            "webm", "mkv", "avi", "ts", "m4s", "mp3", "m4a", "aac", "ogg", "oga", "wav", "flac", "woff", "woff2", "ttf",
            "otf", "eot", "pdf", "parquet", "orc", "avro", "bin", "dat", "pbf", "mvt", "glb", "gltf", "usdz");

    private NotableNames() {}

    /** True for a name that some check may look for. */
    public static boolean isNotable(String key) {
        return !isPlainFile(key) || isNotableFolder(key.substring(0, key.lastIndexOf('/') + 1));
    }

    /** True for a file of plain media or data, of which nothing but its folder's name may tell anything. */
    public static boolean isPlainFile(String key) {
        int name = key.lastIndexOf('/') + 1;
        return PLAIN.contains(ending(key)) && key.length() > name && key.charAt(name) != '.';
    }

    /**
     * True where plain files of a folder are notable.
     *
     * @param folder a prefix with its slash; empty for none
     */
    public static boolean isNotableFolder(String folder) {
        String key = folder + "a.bin";
        return PublishedPath.privateName(key).isPresent()
                || PublishedPath.isDelicate(key)
                || PublishedPath.isSourceMap(key)
                || StateFiles.isOne(key);
    }

    private static String ending(String key) {
        String name = key.substring(key.lastIndexOf('/') + 1);
        int dot = name.lastIndexOf('.');
        return dot <= 0 ? "" : name.substring(dot + 1).toLowerCase(Locale.ROOT);
    }
}
