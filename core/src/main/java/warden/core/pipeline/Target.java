package warden.core.pipeline;

import java.util.Locale;

/**
 * A place in a storage service.
 *
 * @param account the storage account that holds the container; empty where buckets stand alone, and where the step names none
 * @param bucket the bucket's name, or the container's
 * @param prefix what the keys begin with, without a leading slash; empty for the whole bucket
 */
public record Target(PipelineValue account, PipelineValue bucket, PipelineValue prefix) {
    private static final String SCHEME = "s3://";

    /** Makes a place in a bucket that stands alone. */
    public Target(PipelineValue bucket, PipelineValue prefix) {
        this(PipelineValue.of(""), bucket, prefix);
    }

    /** True when a command's argument names a place in storage. */
    public static boolean isTarget(PipelineValue word) {
        return word.text().toLowerCase(Locale.ROOT).startsWith(SCHEME);
    }

    /** Takes {@code s3://BUCKET/PREFIX} apart. */
    public static Target parse(PipelineValue word) {
        return ofPath(new PipelineValue(word.text().substring(SCHEME.length()), word.open()));
    }

    /** Takes {@code BUCKET/PREFIX} apart; what is open stays so in the half in which it is spelled. */
    public static Target ofPath(PipelineValue path) {
        int slash = path.text().indexOf('/');
        String bucket = slash < 0 ? path.text() : path.text().substring(0, slash);
        String prefix = slash < 0 ? "" : path.text().substring(slash + 1);
        return new Target(part(bucket, path), part(prefix, path));
    }

    /** Takes {@code storageAccounts/ACCOUNT/CONTAINER} apart. */
    public static Target inAccount(PipelineValue path) {
        Target whole = ofPath(path);
        Target within = ofPath(whole.prefix());
        return new Target(within.bucket(), within.prefix(), PipelineValue.of(""));
    }

    private static PipelineValue part(String text, PipelineValue whole) {
        // One container's own name has a dollar.
        String plain = whole.open().contains("web") ? text : text.replace("$web", "");
        boolean known = whole.isKnown() || plain.indexOf('$') < 0 && plain.indexOf('`') < 0;
        return known
                ? PipelineValue.of(text)
                : new PipelineValue(
                        text,
                        whole.open().stream().filter(text::contains).findAny().isPresent()
                                ? whole.open().stream().filter(text::contains).toList()
                                : whole.open());
    }

    /** Spells the place as {@code s3://…}, or as {@code ACCOUNT/CONTAINER/…}. */
    public String spelled() {
        return (account.text().isEmpty() ? SCHEME : account + "/")
                + bucket
                + (prefix.text().isEmpty() ? "" : "/" + prefix);
    }
}
