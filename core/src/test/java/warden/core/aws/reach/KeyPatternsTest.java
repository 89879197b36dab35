package warden.core.aws.reach;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;

class KeyPatternsTest {
    private static final String BUCKET = "arn:aws:s3:::heron-sound-tides";

    @Test
    void whatIsLeftOfAResourceIsThePatternOfItsKeys() {
        assertThat(KeyPatterns.within(BUCKET, Glob.parse(BUCKET + "/tides/*"))).contains(Glob.parse("tides/*"));
        assertThat(KeyPatterns.within(BUCKET, Glob.literal(BUCKET + "/a*b"))).contains(Glob.literal("a*b"));
        for (String other : List.of(BUCKET, BUCKET + "/", BUCKET + "-old/*", "arn:aws:s3:::*/index.html", "*")) {
            assertThat(KeyPatterns.within(BUCKET, Glob.parse(other))).as(other).isEmpty();
        }
    }

    /** The set of all keys is known by sight; it must answer as one that is made of its pattern does. */
    @Test
    void theSetOfAllKeysAnswersAsItsPatternDoes() {
        Language made = Language.matching(Glob.parse("?*"));
        assertThat(KeyPatterns.KEYS.isSameAs(made)).isTrue();
        for (String pattern : List.of("*", "?", "a*", "*b", "index.html", "", "?*?")) {
            Language texts = Language.matching(Glob.parse(pattern));
            assertThat(texts.intersect(KeyPatterns.KEYS).isSameAs(texts.intersect(made)))
                    .isTrue();
            assertThat(KeyPatterns.KEYS.intersect(texts).isSameAs(made.intersect(texts)))
                    .isTrue();
            assertThat(texts.isSubsetOf(KeyPatterns.KEYS)).isEqualTo(texts.isSubsetOf(made));
            assertThat(KeyPatterns.KEYS.isSubsetOf(texts)).isEqualTo(made.isSubsetOf(texts));
        }
    }
}
