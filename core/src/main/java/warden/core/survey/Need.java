package warden.core.survey;

import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.stream.Collectors;

/**
 * What is not known and what would settle it: the aspect and subject that would have to be read, why it is not there,
 * and the permission that reading it takes (empty when no permission is known to help).
 */
public record Need(String aspect, String of, String why, String permission) {
    /** Returns that a listing does not go to its end, so that what it does not name may be there all the same. */
    public static Need cutShort(String aspect, String of, String permission) {
        return new Need(aspect, of, "the listing is cut short", permission);
    }

    /** Spells what would settle something, the aspects that are not known for the same reason together. */
    public static String spelled(List<Need> needs) {
        return needs.stream()
                .collect(Collectors.groupingBy(
                        Need::why,
                        LinkedHashMap::new,
                        Collectors.mapping(Need::aspect, Collectors.toCollection(LinkedHashSet::new))))
                .entrySet()
                .stream()
                .map(group -> String.join(", ", group.getValue()) + ": " + group.getKey())
                .collect(Collectors.joining("; "));
    }
}
