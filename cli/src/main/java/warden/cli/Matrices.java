package warden.cli;

import java.util.List;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import warden.core.access.Matrix;
import warden.core.cloud.Cloud;
import warden.core.site.Publisher;

/** The matrices of who can do what, for the command that prints them and the report that shows them. */
final class Matrices {
    private Matrices() {}

    /** Returns the tables of the wanted stores, in the order of the surveys; each has a row for every publisher of its account. */
    static List<Matrix> of(List<Cloud> clouds, List<Publisher> publishers, Predicate<String> wanted) {
        return clouds.stream()
                .flatMap(cloud -> cloud.matrices(publishers, wanted).stream())
                .toList();
    }

    /** Returns the identifiers of the stores that serve no site, or only sites that are meant to keep their stores closed. */
    static Set<String> closed(List<Cloud> clouds) {
        return clouds.stream().flatMap(cloud -> cloud.closedStores().stream()).collect(Collectors.toSet());
    }
}
