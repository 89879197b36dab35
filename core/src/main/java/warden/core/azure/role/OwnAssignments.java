package warden.core.azure.role;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** The assignments that are, or may be, one principal's own, found by what their scopes lie above: a platform's principal holds one for each site. */
final class OwnAssignments {
    private static final Comparator<Roles.Own> IN_THE_ORDER_OF_THE_LISTS = Comparator.comparingInt(Roles.Own::place);

    /** So few are sooner gone through. */
    private static final int FEW = 16;

    private final List<Roles.Own> all;
    private final List<Roles.Own> everywhere;
    private final Map<String, List<Roles.Own>> byScope = new HashMap<>();

    OwnAssignments(List<Roles.Own> own) {
        this.all = own.stream().sorted(IN_THE_ORDER_OF_THE_LISTS).toList();
        this.everywhere = all.stream()
                .filter(each -> Roles.isAboveSubscriptions(each.scope()))
                .toList();
        for (Roles.Own each : all) {
            if (!each.scope().isEmpty() && !Roles.isAboveSubscriptions(each.scope())) {
                byScope.computeIfAbsent(each.scope(), scope -> new ArrayList<>())
                        .add(each);
            }
        }
    }

    List<Roles.Own> all() {
        return all;
    }

    /**
     * Returns those whose scope is a resource's own, or above it; as {@link Roles#covers(String, String)} tells.
     *
     * @param resource in the form in which identifiers are compared
     */
    List<Roles.Own> covering(String resource) {
        if (all.size() <= FEW) {
            return all.stream()
                    .filter(own -> Roles.covers(own.scope(), resource))
                    .toList();
        }
        List<Roles.Own> found = new ArrayList<>(everywhere);
        for (int end = resource.indexOf('/', 1); end > 0; end = resource.indexOf('/', end + 1)) {
            found.addAll(byScope.getOrDefault(resource.substring(0, end), List.of()));
        }
        found.addAll(byScope.getOrDefault(resource, List.of()));
        found.sort(IN_THE_ORDER_OF_THE_LISTS);
        return found;
    }
}
