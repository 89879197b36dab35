package warden.core.document;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;

/** Finds the word that somebody probably meant. */
public final class Words {
    private Words() {}

    /**
     * Returns the known word nearest to {@code word} by Levenshtein's distance, case aside; absent when none is within a third of its
     * length. Of equally near words the first in the alphabet.
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

    private static int distance(String a, String b) {
        int[] previous = new int[b.length() + 1];
        for (int j = 0; j <= b.length(); j++) {
            previous[j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            int[] row = new int[b.length() + 1];
            row[0] = i;
            for (int j = 1; j <= b.length(); j++) {
                int change = previous[j - 1] + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1);
                row[j] = Math.min(change, 1 + Math.min(row[j - 1], previous[j]));
            }
            previous = row;
        }
        return previous[b.length()];
    }
}
