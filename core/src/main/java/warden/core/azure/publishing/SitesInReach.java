package warden.core.azure.publishing;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import warden.core.azure.account.ResourceId;
import warden.core.azure.principal.Principal;
import warden.core.azure.role.Roles;
import warden.core.azure.site.WebSite;

/** The sites of one subscription that some assignment of a principal may be about: found by the account, since asking each site for each principal takes the square. */
final class SitesInReach {
    private final Roles roles;
    private final List<WebSite> sites;
    private final Map<String, List<Integer>> placesByAccount;

    /** Makes ready to find them among sites that have a container. */
    SitesInReach(Roles roles, List<WebSite> sites) {
        this.roles = roles;
        this.sites = sites;
        this.placesByAccount =
                IntStream.range(0, sites.size()).boxed().collect(Collectors.groupingBy(i -> account(sites.get(i))));
    }

    private static String account(WebSite site) {
        return site.container().orElseThrow().account().key();
    }

    /** Returns the sites, in their order; all where the assignments are not known as a whole. */
    List<WebSite> of(Principal principal) {
        if (roles.openAssignments().isPresent()) {
            return sites;
        }
        Set<Integer> places = new TreeSet<>();
        boolean isAboveAccounts = false;
        for (Roles.Own own : roles.of(principal.objectId())) {
            Optional<String> account = ResourceId.accountIn(own.scope());
            account.ifPresent(id -> places.addAll(placesByAccount.getOrDefault(ResourceId.key(id), List.of())));
            // A resource of another kind is above no storage account.
            isAboveAccounts |= Roles.isAboveSubscriptions(own.scope())
                    || (account.isEmpty() && !own.scope().contains("/providers/"));
        }
        if (isAboveAccounts) {
            placesByAccount.forEach((account, here) -> {
                if (!roles.of(principal.objectId(), account).isEmpty()) {
                    places.addAll(here);
                }
            });
        }
        return places.stream().map(sites::get).toList();
    }
}
