package warden.core.pipeline;

import java.util.Locale;

/**
 * A place in a storage service.
 *
 * @param bucket the bucket's name, or the container's
 * @param prefix what the keys begin with, without a leading slash; empty for the whole bucket
 */
public record Target(Term bucket, Term prefix) {
    private static final String SCHEME = "s3://";

    /** True when a command's argument names a place in storage. */
    public static boolean isTarget(Term word) {
        return word.text().toLowerCase(Locale.ROOT).startsWith(SCHEME);
    }

    /** Takes {@code s3://BUCKET/PREFIX} apart. */
    public static Target parse(Term word) {
        return ofPath(new Term(word.text().substring(SCHEME.length()), word.open()));
    }

    /** Takes {@code BUCKET/PREFIX} apart; what is open stays so in the half in which it is spelled. */
    public static Target ofPath(Term path) {
        int slash = path.text().indexOf('/');
        String bucket = slash < 0 ? path.text() : path.text().substring(0, slash);
        String prefix = slash < 0 ? "" : path.text().substring(slash + 1);
        return new Target(part(bucket, path), part(prefix, path));
    }

    private static Term part(String text, Term whole) {
        boolean known = whole.isKnown() || text.indexOf('$') < 0 && text.indexOf('`') < 0;
        return known
                ? Term.of(text)
                : new Term(
                        text,
                        whole.open().stream().filter(text::contains).findAny().isPresent()
                                ? whole.open().stream().filter(text::contains).toList()
                                : whole.open());
    }

    /** Spells the place as {@code s3://…}. */
    public String spelled() {
        return SCHEME + bucket + (prefix.text().isEmpty() ? "" : "/" + prefix);
    }
}
