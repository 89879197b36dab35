package warden.core.azure.trim;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.azure.access.Actions;
import warden.core.azure.account.ResourceId;
import warden.core.azure.edge.Edge;
import warden.core.azure.publishing.AzurePublisher;
import warden.core.azure.site.WebSite;
import warden.core.document.JsonSpelling;

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

        /** Returns the groups in which the role can be assigned. */
        Set<String> groups() {
            return scopes.stream()
                    .map(scope -> scope.replaceFirst("(?i)(/resourceGroups/[^/]+)/.*", "$1"))
                    .collect(Collectors.toCollection(LinkedHashSet::new));
        }
    }

    static RoleProposal of(AzurePublisher publisher) {
        List<String> containers = new ArrayList<>();
        Set<String> purges = new LinkedHashSet<>();
        List<String> edges = new ArrayList<>();
        for (WebSite site : publisher.sites()) {
            containers.addAll(site.storeIds());
            for (Edge edge : site.edges()) {
                purges.add(edge.isFrontDoor() ? Actions.PURGE_FRONT_DOOR : Actions.PURGE_CLASSIC);
                edges.add(edge.id());
            }
        }
        String name = containers.isEmpty()
                ? publisher.principal().called()
                : ResourceId.accountIn(containers.get(0)).map(ResourceId::name).orElse("site");
        List<Given> given = new ArrayList<>();
        if (!containers.isEmpty()) {
            given.add(new Given(
                    name + " publisher: content",
                    "List, put and delete blobs.",
                    true,
                    List.of(Actions.READ, Actions.WRITE, Actions.DELETE),
                    containers));
        }
        if (!edges.isEmpty()) {
            given.add(new Given(
                    name + " publisher: purge",
                    edges.size() == 1 ? "Purge one endpoint." : "Purge " + edges.size() + " endpoints.",
                    false,
                    List.copyOf(purges),
                    edges));
        }
        return new RoleProposal(publisher.principal().objectId(), given);
    }

    /** Returns the document that the proposal is. */
    String spelled() {
        String definitions = given.stream()
                .map(each -> "{\"Name\":" + JsonSpelling.quoted(each.name())
                        + ",\"IsCustom\":true,\"Description\":" + JsonSpelling.quoted(each.description())
                        + ",\"Actions\":" + list(each.ofData() ? List.of() : each.actions())
                        + ",\"NotActions\":[],\"DataActions\":" + list(each.ofData() ? each.actions() : List.of())
                        + ",\"NotDataActions\":[],\"AssignableScopes\":" + list(List.copyOf(each.groups())) + "}")
                .collect(Collectors.joining(","));
        String assignments = given.stream()
                .flatMap(each -> each.scopes().stream()
                        .map(scope -> "{\"role\":" + JsonSpelling.quoted(each.name()) + ",\"principalId\":"
                                + JsonSpelling.quoted(principalId) + ",\"scope\":" + JsonSpelling.quoted(scope) + "}"))
                .collect(Collectors.joining(","));
        return "{\"roleDefinitions\":[" + definitions + "],\"roleAssignments\":[" + assignments + "]}";
    }

    private static String list(List<String> texts) {
        return texts.stream().map(JsonSpelling::quoted).collect(Collectors.joining(",", "[", "]"));
    }
}
