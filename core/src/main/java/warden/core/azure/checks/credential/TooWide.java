package warden.core.azure.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.azure.access.Actions;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.RoleDefinition;

/** What of a role is too much above a publisher's own container and edge. */
final class TooWide {
    private static final List<String> EDGE = List.of(
            "Microsoft.Cdn/profiles/write",
            "Microsoft.Cdn/profiles/delete",
            "Microsoft.Cdn/profiles/endpoints/write",
            "Microsoft.Cdn/profiles/endpoints/delete",
            "Microsoft.Cdn/profiles/afdEndpoints/write",
            "Microsoft.Cdn/profiles/afdEndpoints/routes/write",
            "Microsoft.Cdn/profiles/originGroups/origins/write",
            "Microsoft.Cdn/profiles/ruleSets/rules/write",
            "Microsoft.Cdn/profiles/customDomains/write");
    private static final List<String> NAMES = List.of(
            "Microsoft.Network/dnsZones/write",
            "Microsoft.Network/dnsZones/delete",
            "Microsoft.Network/dnsZones/CNAME/write",
            "Microsoft.Network/dnsZones/A/write");

    private TooWide() {}

    /** Returns the actions of a role that change content, rules, keys, edges or names. */
    static List<String> of(RoleDefinition role) {
        List<String> gives = new ArrayList<>();
        for (String action : List.of(Actions.WRITE, Actions.DELETE, Actions.ADD, Actions.MOVE)) {
            if (role.grants(action, true)) {
                gives.add(action);
            }
        }
        Stream.of(Actions.KEYS, Actions.CHANGE_RULES, EDGE, NAMES)
                .flatMap(List::stream)
                .filter(action -> role.grants(action, false))
                .forEach(gives::add);
        return gives;
    }

    /** True when an assignment's condition keeps every data action that changes something to the publisher's own containers. */
    static boolean pins(Assignment assignment, PublisherCheck.Of subject) {
        RoleDefinition role = assignment.definition().orElseThrow();
        List<String> own = subject.publisher().sites().stream()
                .flatMap(site -> site.storeIds().stream())
                .map(ResourceId::name)
                .toList();
        for (String action : List.of(Actions.WRITE, Actions.DELETE, Actions.ADD, Actions.MOVE)) {
            if (!role.grants(action, true) || !ActionPattern.isData(action)) {
                continue;
            }
            // A container of another name stands for all that are not its own.
            Truth elsewhere =
                    assignment.condition().orElseThrow().lets(action, false, "another-container", Optional.of("x"));
            if (elsewhere != Truth.FALSE || own.isEmpty()) {
                return false;
            }
        }
        // $web of another account has the same name.
        return ResourceId.accountIn(assignment.scope()).isPresent();
    }
}
