package warden.standin.azure;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.azure.access.Caller;
import warden.core.azure.account.ResourceId;
import warden.core.azure.survey.AzureCalls;
import warden.core.azure.survey.AzureCalls.Interface;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.standin.Refusal;
import warden.standin.Reply;

/**
 * Changes to the settings of the simulated subscription's resources.
 *
 * <p>Source: Azure Resource Manager documentation, "Resource provider operations" (a resource's type, with {@code /write} or {@code /delete}, names
 * the permission); REST API reference of each resource.
 */
final class ResourceWrites {
    private static final String PROVIDERS = "/providers/";

    /** The types whose changes are simulated, in lower case; a record set has its kind in place of the type. */
    private static final Set<String> TYPES = Set.of(
            "microsoft.storage/storageaccounts",
            "microsoft.storage/storageaccounts/blobservices",
            "microsoft.storage/storageaccounts/blobservices/containers",
            "microsoft.storage/storageaccounts/managementpolicies",
            "microsoft.authorization/roleassignments",
            "microsoft.authorization/roledefinitions",
            "microsoft.cdn/profiles/endpoints",
            "microsoft.cdn/profiles/endpoints/customdomains",
            "microsoft.cdn/profiles/afdendpoints",
            "microsoft.cdn/profiles/afdendpoints/routes",
            "microsoft.cdn/profiles/customdomains",
            "microsoft.cdn/profiles/rulesets",
            "microsoft.cdn/profiles/rulesets/rules",
            "microsoft.insights/diagnosticsettings",
            "microsoft.network/dnszones/a",
            "microsoft.network/dnszones/aaaa",
            "microsoft.network/dnszones/caa",
            "microsoft.network/dnszones/cname",
            "microsoft.network/dnszones/txt");

    private static final String ZONES = "microsoft.network/dnszones/";

    private final SubscriptionState state;

    ResourceWrites(SubscriptionState state) {
        this.state = state;
    }

    /** A resource's identifier, taken apart. */
    private record Target(String id, String type, String collection, String name, String scope) {
        static Optional<Target> parse(String id) {
            int providers = id.toLowerCase(Locale.ROOT).lastIndexOf(PROVIDERS);
            String[] parts = providers < 0
                    ? new String[0]
                    : id.substring(providers + PROVIDERS.length()).split("/", -1);
            if (parts.length < 3 || parts.length % 2 == 0) {
                return Optional.empty();
            }
            List<String> types = new ArrayList<>(List.of(parts[0]));
            for (int i = 1; i < parts.length; i += 2) {
                types.add(parts[i]);
            }
            return Optional.of(new Target(
                    id,
                    String.join("/", types),
                    id.substring(0, id.lastIndexOf('/')),
                    parts[parts.length - 1],
                    id.substring(0, providers)));
        }

        String lowerType() {
            return type.toLowerCase(Locale.ROOT);
        }
    }

    /** Puts, patches or deletes a resource. */
    Reply answer(Caller caller, String method, String id, byte[] body) {
        Target target = Target.parse(id)
                .filter(each -> TYPES.contains(each.lowerType()))
                .orElseThrow(() -> new Refusal(501, "NotImplemented", method + " " + id + " is not simulated"));
        boolean isOfAccount = target.lowerType().equals("microsoft.storage/storageaccounts");
        if (isOfAccount && !method.equals("PATCH")) {
            throw new Refusal(501, "NotImplemented", "Making and deleting a storage account is not simulated");
        }
        boolean deletes = method.equals("DELETE");
        state.view().permits().demand(caller, target.type() + (deletes ? "/delete" : "/write"), id);
        synchronized (state) {
            return deletes ? deleted(target) : written(target, method.equals("PATCH"), body);
        }
    }

    private Reply deleted(Target target) {
        List<SubscriptionState.Found> found = state.find(target.id());
        if (found.isEmpty()) {
            return Reply.empty(204);
        }
        // The later items first, so that the places of the earlier stay true.
        for (int i = found.size() - 1; i >= 0; i--) {
            SubscriptionState.Found each = found.get(i);
            if (each.item().isPresent()) {
                String list = state.line(each.line()).body();
                state.replace(
                        each.line(),
                        Outcome.FOUND,
                        JsonEdit.remove(list, "/value/" + each.item().get()));
            } else {
                boolean isPolicy = target.lowerType().endsWith("/managementpolicies");
                state.replace(each.line(), Outcome.ABSENT, isPolicy ? "ManagementPolicyNotFound" : "ResourceNotFound");
            }
        }
        return Reply.empty(200);
    }

    private Reply written(Target target, boolean patches, byte[] body) {
        JsonPart sent = JsonReader.read(new String(body, StandardCharsets.UTF_8))
                .root()
                .filter(JsonPart.JsonObject.class::isInstance)
                .orElseThrow(() -> new Refusal(400, "InvalidRequestContent", "The request content was invalid"));
        List<SubscriptionState.Found> found = state.find(target.id());
        if (found.isEmpty() && patches) {
            throw new Refusal(404, "ResourceNotFound", "The resource " + target.id() + " was not found");
        }
        if (found.isEmpty()) {
            String made = Json.text(made(target, sent));
            add(target, made);
            return Reply.of(201, "application/json; charset=utf-8", made);
        }
        String last = "";
        for (SubscriptionState.Found each : found) {
            last = Json.text(patches ? merged(each.document(), sent) : put(each.document(), sent));
            state.replace(
                    each.line(),
                    Outcome.FOUND,
                    each.item().isEmpty()
                            ? last
                            : JsonEdit.set(
                                    state.line(each.line()).body(),
                                    "/value/" + each.item().get(),
                                    last));
        }
        return Reply.of(200, "application/json; charset=utf-8", last);
    }

    /** A new resource: what was sent, and what the provider adds. */
    private static Object made(Target target, JsonPart sent) {
        Map<String, Object> members = Json.object("id", target.id(), "name", target.name(), "type", target.type());
        members(sent).forEach(members::putIfAbsent);
        if (target.lowerType().equals("microsoft.authorization/roleassignments")) {
            Map<String, Object> properties = new LinkedHashMap<>();
            sent.find("properties").ifPresent(each -> properties.putAll(members(each)));
            properties.putIfAbsent("scope", target.scope());
            members.put("properties", properties);
        }
        return members;
    }

    private void add(Target target, String made) {
        List<Integer> own = state.places(line -> line.outcome() == Outcome.ABSENT && asks(line, target.id()));
        if (!own.isEmpty()) {
            own.forEach(place -> state.replace(place, Outcome.FOUND, made));
            return;
        }
        boolean isRecord = target.lowerType().startsWith(ZONES);
        String zone = target.collection().substring(0, target.collection().lastIndexOf('/'));
        String collection = isRecord ? zone + "/recordsets" : target.collection();
        String ofSubscription = state.view().account().subscription().id()
                + target.collection().substring(target.scope().length());
        List<Integer> lists = state.places(line -> line.outcome() == Outcome.FOUND
                && line.document().find("value").isPresent()
                && (asks(line, collection)
                        || asks(line, ofSubscription)
                                && (!line.of().endsWith("?atScope()") || isAtSubscription(target.scope()))));
        if (lists.isEmpty()) {
            throw new Refusal(501, "NotImplemented", "The survey has no list in which " + target.id() + " would stand");
        }
        Set<String> done = new java.util.HashSet<>();
        for (int i = lists.size() - 1; i >= 0; i--) {
            // A list of several pages takes it on its last one.
            SurveyLine line = state.line(lists.get(i));
            if (done.add(line.aspect() + " " + line.of())) {
                state.replace(lists.get(i), Outcome.FOUND, JsonEdit.set(line.body(), "/value/-", made));
            }
        }
    }

    private boolean isAtSubscription(String scope) {
        return ResourceId.covers(scope, state.view().account().subscription().id());
    }

    private static boolean asks(SurveyLine line, String path) {
        return AzureCalls.of(line.aspect(), line.of())
                .filter(request -> request.asked() == Interface.MANAGEMENT && ResourceId.same(request.path(), path))
                .isPresent();
    }

    private static Map<String, JsonPart> members(JsonPart part) {
        return part instanceof JsonPart.JsonObject object ? object.members() : Map.of();
    }

    /** A put replaces the properties, and leaves what the provider itself keeps beside them. */
    private static Object put(JsonPart there, JsonPart sent) {
        Map<String, Object> all = new LinkedHashMap<>(members(there));
        members(sent).forEach((name, value) -> {
            if (!Set.of("id", "name", "type").contains(name)) {
                all.put(name, value);
            }
        });
        return all;
    }

    /** Members that are sent take the place of those that are there, object by object; lists are replaced whole. */
    private static Object merged(JsonPart there, JsonPart sent) {
        if (!(there instanceof JsonPart.JsonObject) || !(sent instanceof JsonPart.JsonObject)) {
            return sent;
        }
        Map<String, Object> all = new LinkedHashMap<>(members(there));
        members(sent).forEach((name, value) -> {
            JsonPart old = members(there).get(name);
            all.put(name, old == null ? value : merged(old, value));
        });
        return all;
    }
}
