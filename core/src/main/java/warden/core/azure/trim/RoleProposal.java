package warden.core.azure.trim;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.azure.access.Actions;
import warden.core.azure.account.ResourceId;
import warden.core.azure.publishing.AzurePublisher;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.role.CustomRole;
import warden.core.document.Json;
import warden.core.pipeline.Needed;

/**
 * Custom roles and where they are to be assigned.
 *
 * @param principalId the object id to which they are assigned
 */
record RoleProposal(String principalId, List<Given> given) {
    RoleProposal {
        given = List.copyOf(given);
    }

    /** A role and its scopes. */
    record Given(String name, String description, boolean ofData, List<String> actions, List<String> scopes) {
        Given {
            actions = List.copyOf(actions);
            scopes = List.copyOf(scopes);
        }

        private Object definition() {
            return CustomRole.definition(
                    name, description, ofData ? List.of() : actions, ofData ? actions : List.of(), groups());
        }

        /** Returns the groups in which the role can be assigned. */
        Set<String> groups() {
            return scopes.stream()
                    .map(scope -> scope.replaceFirst("(?i)(/resourceGroups/[^/]+)/.*", "$1"))
                    .collect(Collectors.toCollection(LinkedHashSet::new));
        }
    }

    /** Proposes what does for these needs: for each set of actions that places have in common one role, so that none is given more. */
    static RoleProposal of(AzurePublisher publisher, List<Needed> needed) {
        Map<String, Set<String>> byPlace = new LinkedHashMap<>();
        needed.forEach(each ->
                byPlace.computeIfAbsent(each.on(), key -> new LinkedHashSet<>()).add(each.action()));
        Map<Set<String>, List<String>> placesByActions = new LinkedHashMap<>();
        byPlace.forEach((place, actions) -> placesByActions
                .computeIfAbsent(actions, key -> new ArrayList<>())
                .add(place));
        String name = byPlace.keySet().stream()
                .flatMap(place -> ResourceId.accountIn(place).map(ResourceId::name).stream())
                .findFirst()
                .orElse(publisher.principal().called());
        List<Given> given = new ArrayList<>();
        placesByActions.forEach((actions, places) -> {
            boolean ofData = actions.stream().anyMatch(ActionPattern::isData);
            long before = given.stream().filter(each -> each.ofData() == ofData).count();
            given.add(new Given(
                    name + " publisher: " + (ofData ? "content" : "purge") + (before == 0 ? "" : " " + (before + 1)),
                    ofData
                            ? described(actions)
                            : places.size() == 1 ? "Purge one endpoint." : "Purge " + places.size() + " endpoints.",
                    ofData,
                    inOrder(actions),
                    places));
        });
        given.sort(Comparator.comparing(each -> !each.ofData()));
        return new RoleProposal(publisher.principal().objectId(), given);
    }

    private static final List<String> ORDER = List.of(Actions.READ, Actions.WRITE, Actions.DELETE);

    private static List<String> inOrder(Set<String> actions) {
        return actions.stream()
                .sorted(Comparator.<String>comparingInt(
                                action -> ORDER.contains(action) ? ORDER.indexOf(action) : ORDER.size())
                        .thenComparing(Comparator.naturalOrder()))
                .toList();
    }

    private static String described(Set<String> actions) {
        boolean reads = actions.contains(Actions.READ);
        boolean deletes = actions.contains(Actions.DELETE);
        return (reads ? deletes ? "List, put" : "List and put" : "Put") + (deletes ? " and delete" : "") + " blobs.";
    }

    /** Returns the document that the proposal is. */
    String spelled() {
        return Json.text(Json.object(
                "roleDefinitions",
                given.stream().map(Given::definition).toList(),
                "roleAssignments",
                given.stream()
                        .flatMap(each -> each.scopes().stream()
                                .map(scope ->
                                        Json.object("role", each.name(), "principalId", principalId, "scope", scope)))
                        .toList()));
    }
}
