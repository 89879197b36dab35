package warden.core.rehearse;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import warden.core.aws.rehearse.BucketContents;
import warden.core.pipeline.Needed;
import warden.core.rehearse.StorageChanges.Kind;
import warden.core.rehearse.StorageChanges.Stored;

class RehearsedUsesTest {
    private static final String ROLE = "arn:aws:iam::210987654321:role/web";
    private final RehearsedUses uses = new RehearsedUses(ROLE, BucketContents::bucketOf);

    private long put(String key, boolean allowed) {
        return uses.add(call("PutObject", "s3:PutObject", "arn:aws:s3:::quay/" + key, allowed, true));
    }

    private static RehearsedCall call(
            String operation, String action, String on, boolean allowed, boolean isSimulated) {
        return new RehearsedCall(
                Instant.EPOCH,
                "s3",
                operation,
                ROLE,
                List.of(new RehearsedCall.Need(action, on, Map.of(), allowed, "nothing allows it", List.of())),
                allowed ? 200 : 403,
                isSimulated,
                "");
    }

    private static List<String> on(List<Needed> needed) {
        return needed.stream().map(Needed::on).toList();
    }

    @Test
    void objectsAreTakenTogetherUnderTheFolderThatTheyShare() {
        assertThat(put("assets/js/app.1.js", true)).isEqualTo(1);
        assertThat(on(uses.needed())).containsExactly("arn:aws:s3:::quay/assets/js/*");
        put("assets/jpeg/quay.jpg", true);
        assertThat(on(uses.needed())).containsExactly("arn:aws:s3:::quay/assets/*");
        put("index.html", true);
        assertThat(on(uses.needed())).containsExactly("arn:aws:s3:::quay/*");
        assertThat(uses.needed().get(0).why()).isEqualTo("rehearsed 3 times");
        assertThat(uses.missing()).isEmpty();
    }

    @Test
    void whatWasRefusedIsNamedAsNarrowlyAsItWas() {
        put("assets/a.css", true);
        put("index.html", false);
        put("index.html", false);
        assertThat(on(uses.missing())).containsExactly("arn:aws:s3:::quay/index.html");
        assertThat(uses.refusals()).singleElement().satisfies(each -> {
            assertThat(each.call()).isEqualTo(2);
            assertThat(each.times()).isEqualTo(2);
        });
        put("404.html", false);
        assertThat(on(uses.missing())).containsExactly("arn:aws:s3:::quay/*");
        assertThat(uses.refusedCalls()).isEqualTo(3);
    }

    @Test
    void aMillionRefusalsTakeBoundedMemory() {
        for (int i = 0; i < 100_000; i++) {
            put("pages/" + i, false);
        }
        assertThat(uses.refusals()).hasSize(1_000);
        assertThat(uses.isCut()).isTrue();
        assertThat(on(uses.missing())).containsExactly("arn:aws:s3:::quay/pages/*");
    }

    @Test
    void namesWhatIsNotSimulated() {
        uses.add(call("", "s3:GetObject", "arn:aws:s3:::quay/a", true, false));
        uses.add(call("SelectObjectContent", "s3:GetObject", "arn:aws:s3:::quay/a", true, false));
        assertThat(uses.notSimulated()).isEqualTo(Map.of("s3 a call", 1, "s3 SelectObjectContent", 1));
    }

    /** It hangs on what was not read. */
    @Test
    void whatIsNotKnownIsNeitherAllowedNorRefused() {
        RehearsedCall open = call("GetObject", "s3:GetObject", "arn:aws:s3:::quay/a", false, false);
        uses.add(open);
        assertThat(open.isRefused()).isFalse();
        assertThat(open.isAllowed()).isFalse();
        assertThat(uses.refusals()).isEmpty();
        assertThat(uses.refusedCalls()).isZero();
        assertThat(uses.notSimulated())
                .containsOnlyKeys("s3 GetObject: whether s3:GetObject is allowed is not known: nothing allows it");
    }

    @Test
    void tellsWhatChangedAndWhatOfItMatters() {
        Map<String, Map<String, Stored>> before = Map.of(
                "quay",
                Map.of(
                        "start.htm", new Stored("1", Optional.empty()),
                        "same", new Stored("1", Optional.empty()),
                        "page.html", new Stored("1", Optional.empty())));
        Map<String, Map<String, Stored>> after = Map.of(
                "quay",
                Map.of(
                        "same", new Stored("1", Optional.empty()),
                        "page.html", new Stored("2", Optional.of("application/octet-stream")),
                        ".git/config", new Stored("1", Optional.empty()),
                        "plain.html", new Stored("1", Optional.of("text/html; charset=utf-8")),
                        "app.js.map", new Stored("1", Optional.empty())));
        StorageChanges changes = StorageChanges.between(before, after);
        assertThat(changes.of("quay"))
                .isEqualTo(Map.of(
                        "start.htm", Kind.DELETED,
                        "page.html", Kind.OVERWRITTEN,
                        ".git/config", Kind.UPLOADED,
                        "plain.html", Kind.UPLOADED,
                        "app.js.map", Kind.UPLOADED));
        assertThat(changes.notable(Map.of("quay", "start.htm"), after))
                .extracting(each -> each.change().key())
                .containsExactly("start.htm", ".git/config", "app.js.map", "page.html");
    }
}
