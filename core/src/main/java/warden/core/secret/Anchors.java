package warden.core.secret;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Short texts, in groups, that are all looked for in one pass over a text: the first two letters of each settle nearly every place. An anchor has two
 * letters at least, of ASCII.
 */
final class Anchors {
    private static final int LETTERS = 128;

    /** By the first two letters. */
    private final Anchor @Nullable [] @Nullable [] byBeginning = new Anchor[LETTERS * LETTERS][];

    /** True for each two letters with which an anchor begins: small enough to stay close to the processor, which the table is not. */
    private final boolean[] isBeginning = new boolean[LETTERS * LETTERS];

    private int groups;

    private record Anchor(String text, boolean ignoresCase, int third, int group) {
        Anchor(String text, boolean ignoresCase, int group) {
            this(text, ignoresCase, text.length() > 2 ? text.charAt(2) : 0, group);
        }

        boolean mayGoOn(int letter) {
            return third == 0 || third == (ignoresCase ? letter | 0x20 : letter);
        }

        boolean isAt(String whole, int at) {
            return ignoresCase ? whole.regionMatches(true, at, text, 0, text.length()) : whole.startsWith(text, at);
        }
    }

    /** Adds a group of texts that stand there as they are spelled; returns its number. */
    int add(List<String> texts) {
        texts.forEach(text -> add(text.charAt(0), text.charAt(1), new Anchor(text, false, groups)));
        return groups++;
    }

    /** Adds a group of texts that may stand there in capitals too; returns its number. */
    int addOfAnyCase(List<String> texts) {
        for (String text : texts) {
            Anchor anchor = new Anchor(text, true, groups);
            for (char first : cases(text.charAt(0))) {
                for (char second : cases(text.charAt(1))) {
                    add(first, second, anchor);
                }
            }
        }
        return groups++;
    }

    private static char[] cases(char letter) {
        char lower = Character.toLowerCase(letter);
        char upper = Character.toUpperCase(letter);
        return lower == upper ? new char[] {letter} : new char[] {lower, upper};
    }

    private void add(char first, char second, Anchor anchor) {
        int pair = pair(first, second);
        Anchor @Nullable [] same = byBeginning[pair];
        Anchor[] more = same == null ? new Anchor[1] : Arrays.copyOf(same, same.length + 1);
        more[more.length - 1] = anchor;
        byBeginning[pair] = more;
        isBeginning[pair] = true;
    }

    /** Returns the place of two letters of ASCII in the table. */
    private static int pair(int first, int second) {
        return first * LETTERS + second;
    }

    /** Returns by number of a group where its anchors stand, in rising order; null for nowhere. */
    @Nullable
    Places[] in(String text) {
        @Nullable Places[] places = new Places[groups];
        byte[] letters = letters(text);
        for (int at = next(letters, 0); at >= 0; at = next(letters, at + 1)) {
            add(text, at, byBeginning[pair(letters[at], letters[at + 1])], places);
        }
        return places;
    }

    /** An array is looked through several times as fast as a text. Letters beyond the first 256 are no part of an anchor, so that any other will do. */
    private static byte[] letters(String text) {
        byte[] letters = text.getBytes(StandardCharsets.ISO_8859_1);
        if (letters.length == text.length()) {
            return letters;
        }
        // Some take two places in the text.
        letters = new byte[text.length()];
        for (int i = 0; i < letters.length; i++) {
            letters[i] = text.charAt(i) < LETTERS ? (byte) text.charAt(i) : 0;
        }
        return letters;
    }

    /** Returns the next place, from this one, at which two letters begin an anchor; -1 when there is none. */
    private int next(byte[] letters, int from) {
        boolean[] begins = isBeginning;
        for (int at = from; at + 1 < letters.length; at++) {
            int first = letters[at];
            int second = letters[at + 1];
            if ((first | second) >= 0 && begins[pair(first, second)]) {
                return at;
            }
        }
        return -1;
    }

    private static void add(String text, int at, Anchor @Nullable [] anchors, @Nullable Places[] places) {
        int third = at + 2 < text.length() ? text.charAt(at + 2) : 0;
        for (Anchor anchor : Objects.requireNonNull(anchors)) {
            if (anchor.mayGoOn(third) && anchor.isAt(text, at)) {
                Places here = places[anchor.group()];
                if (here == null) {
                    here = new Places();
                    places[anchor.group()] = here;
                }
                here.add(at);
            }
        }
    }

    /** Places in a text. */
    static final class Places {
        private int[] places = new int[16];
        private int count;

        private void add(int place) {
            if (count == places.length) {
                places = Arrays.copyOf(places, 2 * count);
            }
            places[count++] = place;
        }

        int count() {
            return count;
        }

        /** Returns the place of this number, from 0. */
        int get(int number) {
            return places[number];
        }
    }
}
