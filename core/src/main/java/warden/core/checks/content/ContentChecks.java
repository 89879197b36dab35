package warden.core.checks.content;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "content". */
public final class ContentChecks {
    /** One instance of each, whoever lists it. */
    private static final List<Check> ALL = List.of(
            new ContentSecret(),
            new ContentPrivateFiles(),
            new ContentSourceMaps(),
            new ContentTemplateText(),
            new ContentArchiveOnly(),
            new ContentIndexNested(),
            new ContentBrokenLink(),
            new ContentMixed(),
            new ContentWrongType(),
            new ContentCachePolicy(),
            new ContentHeavy());

    private ContentChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return ALL;
    }
}
