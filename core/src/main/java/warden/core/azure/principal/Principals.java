package warden.core.azure.principal;

import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.azure.account.Item;
import warden.core.azure.account.Listed;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.Subscription;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.Roles;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * Everybody whom the survey of a subscription knows.
 *
 * <p>Source: Microsoft Graph REST API, "servicePrincipal resource type", "application resource type", "federatedIdentityCredential resource
 * type"; Managed identities documentation, "User-assigned managed identities".
 */
public final class Principals {
    private static final String SERVICE = "servicePrincipals/";
    private static final String APPLICATIONS = "applications/";

    private final Subscription subscription;
    private final Map<String, Principal> byObjectId = new LinkedHashMap<>();
    private final Map<String, String> objectIdByWord = new HashMap<>();
    private final Listed identities;
    private @Nullable Map<String, Map<String, Item>> ownedByObjectId;
    private final Map<String, Item> identityByObjectId = new HashMap<>();
    /** By client id in lower case; filled when first asked for. */
    private final Map<String, Item> applications = new HashMap<>();

    public Principals(Subscription subscription, Roles roles) {
        this.subscription = subscription;
        this.identities = subscription.list("managed-identity-list", subscription.id(), "");
        identities.items().forEach(item -> item.text("principalId")
                .ifPresent(id -> identityByObjectId.putIfAbsent(id.toLowerCase(Locale.ROOT), item)));
        for (Assignment assignment : roles.assignments()) {
            String objectId = assignment.principalId();
            if (!objectId.isEmpty() && !byObjectId.containsKey(objectId)) {
                add(principal(objectId, kind(assignment.principalType())));
            }
        }
        for (String subject : subscription.survey().subjects("service-principal")) {
            String objectId = ResourceId.name(subject).toLowerCase(Locale.ROOT);
            if (!byObjectId.containsKey(objectId)) {
                add(principal(objectId, SERVICE));
            }
        }
        for (Item identity : identities.items()) {
            identity.text("principalId")
                    .map(id -> id.toLowerCase(Locale.ROOT))
                    .filter(id -> !byObjectId.containsKey(id))
                    .ifPresent(id -> add(principal(id, SERVICE)));
        }
    }

    private void add(Principal principal) {
        byObjectId.put(principal.objectId(), principal);
        principal
                .clientId()
                .ifPresent(id -> objectIdByWord.putIfAbsent(id.toLowerCase(Locale.ROOT), principal.objectId()));
        principal
                .application()
                .ifPresent(id -> objectIdByWord.putIfAbsent(id.toLowerCase(Locale.ROOT), principal.objectId()));
    }

    private static String kind(String principalType) {
        return switch (principalType.toLowerCase(Locale.ROOT)) {
            case "user", "foreignuser" -> "users/";
            case "group", "foreigngroup" -> "groups/";
            default -> SERVICE;
        };
    }

    private Principal principal(String objectId, String kind) {
        Reading<Item> read = kind.equals(SERVICE)
                ? subscription.one("service-principal", SERVICE + objectId)
                : new Reading.Absent<>("", new Citation("", 1, "", "", "", ""));
        Optional<Item> identity = Optional.ofNullable(identityByObjectId.get(objectId));
        Optional<String> clientId = read.found()
                .flatMap(item -> item.document().text("appId"))
                .or(() -> identity.flatMap(item -> item.text("clientId")));
        List<Principal.Secret> secrets = new ArrayList<>();
        List<Principal.Federated> federated = new ArrayList<>();
        List<Need> unread = new ArrayList<>();
        Optional<String> application = Optional.empty();
        if (kind.equals(SERVICE) && identity.isPresent()) {
            federated(identity.get().id(), federated, unread);
        } else if (kind.equals(SERVICE)) {
            read.missing().ifPresent(unread::add);
            read.found().ifPresent(item -> secrets(item, secrets));
            Optional<Item> app = application(clientId);
            application =
                    app.map(item -> APPLICATIONS + item.document().text("id").orElse(ResourceId.name(item.id())));
            boolean isManaged = read.found()
                    .flatMap(item -> item.document().text("servicePrincipalType"))
                    .filter("ManagedIdentity"::equalsIgnoreCase)
                    .isPresent();
            if (app.isPresent()) {
                secrets(app.get(), secrets);
                federated(application.orElseThrow(), federated, unread);
            } else if (!isManaged && read.found().isPresent()) {
                unread.add(new Need(
                        "application",
                        SERVICE + objectId,
                        "the application behind it was not read",
                        "Graph Application.Read.All"));
            } else if (isManaged && identity.isEmpty()) {
                identities.open().ifPresent(unread::add);
            }
        }
        String name = read.found()
                .flatMap(item -> item.document().text("displayName"))
                .or(() -> identity.map(Item::name))
                .orElse("");
        boolean gone = kind.equals(SERVICE) && read.isAbsent();
        Optional<Citation> at =
                gone || kind.equals(SERVICE) ? read.citation().or(() -> identity.map(Item::at)) : Optional.empty();
        return new Principal(
                kind + objectId,
                name,
                clientId,
                application,
                identity.isPresent(),
                secrets,
                federated,
                unread,
                gone,
                at);
    }

    private Optional<Item> application(Optional<String> clientId) {
        if (applications.isEmpty()) {
            for (String subject : subscription.survey().subjects("application")) {
                subscription.one("application", subject).found().ifPresent(item -> item.document()
                        .text("appId")
                        .ifPresent(id -> applications.putIfAbsent(id.toLowerCase(Locale.ROOT), item)));
            }
        }
        return clientId.map(id -> applications.get(id.toLowerCase(Locale.ROOT)));
    }

    private void federated(String of, List<Principal.Federated> into, List<Need> unread) {
        Listed list = subscription.list("federated-credential-list", of, "");
        list.open().ifPresent(unread::add);
        for (Item item : list.items()) {
            // The directory prints the members themselves, the management API below "properties".
            JsonPart part =
                    item.find().filter(each -> each.find("issuer").isPresent()).orElse(item.document());
            into.add(new Principal.Federated(
                    item.name(),
                    part.text("issuer").orElse(""),
                    part.text("subject").filter(text -> !text.isEmpty()),
                    part.text("claimsMatchingExpression", "value").or(() -> part.text("claimsMatchingExpression")),
                    part.texts("audiences"),
                    item.at()));
        }
    }

    private static void secrets(Item item, List<Principal.Secret> into) {
        for (String member : List.of("passwordCredentials", "keyCredentials")) {
            for (JsonPart secret : item.document().list(member)) {
                into.add(new Principal.Secret(
                        secret.text("keyId").orElse(""),
                        member.equals("passwordCredentials"),
                        instant(secret.text("startDateTime")),
                        instant(secret.text("endDateTime")),
                        item.at()
                                .at(
                                        secret.at().toString(),
                                        secret.text("displayName").orElse(""))));
            }
        }
    }

    private static Optional<Instant> instant(Optional<String> text) {
        try {
            return text.map(Instant::parse);
        } catch (DateTimeParseException noTime) {
            return Optional.empty();
        }
    }

    /**
     * Returns what the survey shows somebody to own.
     *
     * @return by {@code applications/OID}, the item of the list that says so
     */
    public synchronized Map<String, Item> ownedBy(String objectId) {
        if (ownedByObjectId == null) {
            ownedByObjectId = new HashMap<>();
            for (String application : subscription.survey().subjects("application-owners")) {
                for (Item owner :
                        subscription.list("application-owners", application, "").items()) {
                    ownedByObjectId
                            .computeIfAbsent(
                                    ResourceId.name(owner.id()).toLowerCase(Locale.ROOT), key -> new LinkedHashMap<>())
                            .put(application, owner);
                }
            }
        }
        return ownedByObjectId.getOrDefault(objectId, Map.of());
    }

    /** Returns everybody, in the order of the survey. */
    public List<Principal> all() {
        return List.copyOf(byObjectId.values());
    }

    /** Returns whom a word names: an identifier, an object id, a client id, a managed identity's resource id, or a name that only one bears. */
    public Optional<Principal> named(String word) {
        String last =
                word.startsWith("/subscriptions/") ? "" : ResourceId.name(word).toLowerCase(Locale.ROOT);
        Optional<Principal> byId = Optional.ofNullable(byObjectId.get(last))
                .or(() -> Optional.ofNullable(objectIdByWord.get(word.toLowerCase(Locale.ROOT)))
                        .map(byObjectId::get));
        if (byId.isPresent()) {
            return byId;
        }
        if (word.startsWith("/")) {
            return identities.items().stream()
                    .filter(item -> ResourceId.same(item.id(), word))
                    .flatMap(item -> item.text("principalId").stream())
                    .map(id -> byObjectId.get(id.toLowerCase(Locale.ROOT)))
                    .findFirst();
        }
        List<Principal> called = all().stream()
                .filter(each -> !each.name().isEmpty() && each.name().equals(word))
                .toList();
        return called.size() == 1 ? Optional.of(called.get(0)) : Optional.empty();
    }

    /** Returns the names by which somebody can be asked for, for suggestions. */
    public Stream<String> words() {
        return all().stream().flatMap(each -> Stream.of(each.id(), each.name()).filter(word -> !word.isEmpty()));
    }
}
