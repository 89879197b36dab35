package warden.core.document;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;

/** Finds the word that somebody probably meant. */
public final class Words {
    private Words() {}

    /**
     * Returns the known word nearest to {@code word} by Damerau and Levenshtein's distance (two letters that changed places count once), case
     * aside; absent when none is within a third of its length. Of equally near words the first in the alphabet.
     */
    public static Optional<String> nearest(String word, Collection<String> known) {
        int most = Math.max(1, word.length() / 3);
        if (word.length() > 100) {
            return Optional.empty();
        }
        String lower = word.toLowerCase(Locale.ROOT);
        return known.stream()
                .filter(candidate -> Math.abs(candidate.length() - word.length()) <= most)
                .filter(candidate -> distance(lower, candidate.toLowerCase(Locale.ROOT)) <= most)
                .min(Comparator.<String>comparingInt(candidate -> distance(lower, candidate.toLowerCase(Locale.ROOT)))
                        .thenComparing(Comparator.naturalOrder()));
    }

    /** Returns how a sentence about a wrong word ends when a known word is near: {@code ; perhaps high was meant}; absent when none is. */
    public static Optional<String> perhaps(String word, Collection<String> known) {
        return nearest(word, known).map(near -> "; perhaps " + DisplayText.name(near) + " was meant");
    }

    /** Counts letters put in, left out, changed, and neighbours that changed places (the restricted distance). */
    private static int distance(String a, String b) {
        int[][] rows = new int[a.length() + 1][b.length() + 1];
        for (int j = 0; j <= b.length(); j++) {
            rows[0][j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            rows[i][0] = i;
            for (int j = 1; j <= b.length(); j++) {
                int change = rows[i - 1][j - 1] + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1);
                rows[i][j] = Math.min(change, 1 + Math.min(rows[i][j - 1], rows[i - 1][j]));
                boolean changedPlaces =
                        i > 1 && j > 1 && a.charAt(i - 1) == b.charAt(j - 2) && a.charAt(i - 2) == b.charAt(j - 1);
                if (changedPlaces) {
                    rows[i][j] = Math.min(rows[i][j], rows[i - 2][j - 2] + 1);
                }
            }
        }
        return rows[a.length()][b.length()];
    }
}
