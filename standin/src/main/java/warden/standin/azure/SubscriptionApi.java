package warden.standin.azure;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import warden.core.azure.access.Actions;
import warden.core.azure.access.Caller;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.survey.AzureAspects;
import warden.core.azure.survey.AzureCalls.Interface;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.UrlText;
import warden.standin.WireRequest;

/**
 * Answers the calls of the second provider's clients from a survey. Who calls is in the token; what they may do the core decides.
 *
 * <p>Source: Azure REST API reference; Microsoft Graph REST API v1.0; Microsoft identity platform, "OAuth 2.0 client credentials flow"; Blob
 * service REST API, "List Blobs".
 */
final class SubscriptionApi implements BlobApi.Surveyed {
    private static final String DIRECTORY = "/graph";

    private final String endpoint;
    private final SubscriptionState state;
    private final SiteVisits visits;
    private final BlobApi blobApi;
    private final ResourceWrites writes;

    /**
     * Makes ready.
     *
     * @param refused permissions, in lower case, that nobody has
     */
    SubscriptionApi(Survey survey, List<SurveyLine> lines, String endpoint, Set<String> refused, Clock clock) {
        this.endpoint = endpoint;
        this.state = new SubscriptionState(survey, lines, refused, clock);
        this.blobApi = new BlobApi(state, this, clock);
        this.visits = new SiteVisits(state, clock);
        this.writes = new ResourceWrites(state);
    }

    private AzureAccount account() {
        return state.view().account();
    }

    private Permits permits() {
        return state.view().permits();
    }

    /** Returns the subscription as it is now. */
    SubscriptionState state() {
        return state;
    }

    List<String> clients() {
        return account().reach().principals().all().stream()
                .flatMap(principal -> principal.clientId().stream())
                .toList();
    }

    /** The sites and their storage, as visitors get them. */
    SiteVisits visits() {
        return visits;
    }

    /**
     * Answers a call of the blob service.
     *
     * @param path the account, the container and the blob
     */
    Reply blobs(WireRequest wire, String path, Optional<String> token) {
        BlobApi.Request request = new BlobApi.Request(wire, path, token.map(SubscriptionApi::caller));
        String method = wire.method();
        boolean visits = request.isUnsigned()
                && (method.equals("GET") || method.equals("HEAD"))
                && !wire.query().containsKey("comp")
                && !wire.query().containsKey("restype");
        String[] parts = path.split("/", 3);
        Optional<String> host = account().subscription().accounts().stream()
                .filter(each -> parts.length > 1 && each.name().equals(parts[1]))
                .flatMap(each -> each.blobHosts().stream())
                .findFirst();
        return visits && host.isPresent()
                ? this.visits.answer(
                        method,
                        host.get(),
                        wire.rawPath().substring(parts[1].length() + 1),
                        wire.query(),
                        wire.isSecure())
                : blobApi.answer(request);
    }

    String accountKey(String name) {
        return account().subscription().accounts().stream()
                .filter(each -> each.name().equals(name))
                .map(each -> AccountKeys.of(each.id()))
                .findFirst()
                .orElseThrow();
    }

    /** Returns the account whose blob endpoint has a host; absent for other hosts. */
    Optional<String> storageAt(String host) {
        return account().subscription().accounts().stream()
                .filter(each -> each.blobHosts().contains(host))
                .map(StorageAccount::name)
                .findFirst();
    }

    /** Answers a call of the sign-in service, the management API or the directory. */
    Reply answer(String method, String path, Map<String, String> query, byte[] body, Optional<String> token) {
        if (path.endsWith("/.well-known/openid-configuration")) {
            return discovery(path.replaceFirst("(/v2\\.0)?/\\.well-known/openid-configuration$", ""));
        }
        if (path.endsWith("/oauth2/v2.0/token") || path.endsWith("/oauth2/token")) {
            return signIn(path, UrlText.form(new String(body, StandardCharsets.UTF_8)));
        }
        Caller caller = caller(token.orElse(""));
        boolean isManagement = isManagement(path);
        if (method.equals("POST") && isManagement) {
            return commanded(caller, path);
        }
        if (isManagement && (method.equals("PUT") || method.equals("PATCH") || method.equals("DELETE"))) {
            return writes.answer(caller, method, path, body);
        }
        if (!method.equals("GET")) {
            throw notSimulated(method, path);
        }
        if (path.equals("/tenants")) {
            return json(Json.text(Json.object(
                    "value",
                    List.of(Json.object(
                            "id",
                            "/tenants/simulated",
                            "tenantId",
                            account().subscription().tenant().orElse("simulated"))))));
        }
        if (path.endsWith("/operationresults/purged")) {
            return json("{}");
        }
        if (path.equals("/subscriptions")) {
            return json(Json.text(Json.object("value", List.of(subscription()))));
        }
        if (path.startsWith(DIRECTORY + "/")) {
            return directory(path.substring(DIRECTORY.length()), query);
        }
        return management(caller, path, query);
    }

    /** The subscription as the survey shows it; some clients fail where a member is missing. */
    private Map<String, Object> subscription() {
        return Json.object(
                "id",
                account().subscription().id(),
                "subscriptionId",
                account().number(),
                "tenantId",
                account().subscription().tenant().orElse("simulated"),
                "displayName",
                "simulated",
                "state",
                "Enabled");
    }

    /** True for a path of the management API. */
    static boolean isManagement(String path) {
        return path.startsWith("/subscriptions") || path.startsWith("/providers/") || path.equals("/tenants");
    }

    /** True for a path of the sign-in service, the management API or the directory. */
    static boolean isOwn(String path) {
        return isManagement(path)
                || path.startsWith(DIRECTORY + "/")
                || path.contains("/oauth2/")
                || path.contains("/.well-known/");
    }

    private static Refusal notSimulated(String method, String path) {
        return new Refusal(501, "NotImplemented", method + " " + path + " is not simulated");
    }

    // --- signing in

    private Reply discovery(String tenant) {
        String base = endpoint + tenant;
        return json(Json.text(Json.object(
                "issuer",
                base + "/v2.0",
                "authorization_endpoint",
                base + "/oauth2/v2.0/authorize",
                "token_endpoint",
                base + "/oauth2/v2.0/token",
                "jwks_uri",
                base + "/discovery/v2.0/keys")));
    }

    private Reply signIn(String path, Map<String, String> form) {
        String client = form.getOrDefault("client_id", "");
        Optional<String> principal =
                account().reach().principals().named(client).map(each -> each.objectId());
        if (principal.isEmpty()) {
            throw new Refusal(400, "unauthorized_client", "The survey shows no application " + client);
        }
        String tenant = path.substring(1).replaceFirst("/.*", "");
        String claims = Json.text(Json.object(
                "oid",
                principal.get(),
                "tid",
                tenant,
                "appid",
                client,
                "idtyp",
                "app",
                "aud",
                form.getOrDefault("scope", "")));
        String token =
                encoded(Json.text(Json.object("alg", "none", "typ", "JWT"))) + "." + encoded(claims) + ".simulated";
        return json(Json.text(Json.object(
                "token_type", "Bearer", "expires_in", 3600, "ext_expires_in", 3600, "access_token", token)));
    }

    private static String encoded(String text) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(text.getBytes(StandardCharsets.UTF_8));
    }

    private static Caller caller(String token) {
        String[] parts = token.split("\\.");
        try {
            String claims = parts.length == 3
                    ? new String(Base64.getUrlDecoder().decode(parts[1]), StandardCharsets.UTF_8)
                    : "";
            return warden.core.document.JsonReader.read(claims)
                    .root()
                    .flatMap(part -> part.text("oid"))
                    .map(id -> Caller.principal("servicePrincipals/" + id))
                    .orElseThrow();
        } catch (RuntimeException none) {
            throw new Refusal(401, "InvalidAuthenticationToken", "The access token is missing or invalid");
        }
    }

    // --- reading

    private Reply management(Caller caller, String path, Map<String, String> query) {
        boolean isAtScope = query.getOrDefault("$filter", "").equals("atScope()");
        List<SurveyLine> lines =
                state.view().pages(Interface.MANAGEMENT, ResourceId.key(path) + (isAtScope ? "?atScope()" : ""));
        if (lines.isEmpty()) {
            SubscriptionState.Found found = state.find(path).stream()
                    .findFirst()
                    .orElseThrow(() -> new Refusal(404, "ResourceNotFound", "The survey says nothing of " + path));
            permits().demand(caller, AzureAspects.TABLE.permission(state.line(found.line())), path);
            return json(JsonSpelling.of(found.document()));
        }
        SurveyLine first = lines.get(0);
        permits().demand(caller, AzureAspects.TABLE.permission(first), path);
        return page(lines, path, query);
    }

    private Reply page(List<SurveyLine> lines, String path, Map<String, String> query) {
        int index = number(query.get("$skiptoken"));
        if (index < 0 || index >= lines.size()) {
            throw new Refusal(400, "InvalidSkipToken", "There is no such page");
        }
        SurveyLine line = lines.get(index);
        if (line.outcome() == Outcome.ABSENT) {
            throw new Refusal(404, line.body(), "The survey says that there is none");
        }
        if (line.outcome() == Outcome.UNREAD) {
            throw new Refusal(403, code(line), "The survey could not read it");
        }
        boolean isLast = index + 1 == lines.size();
        JsonPart document = line.document();
        String plain = JsonSpelling.of(document);
        for (String member : List.of("nextLink", "@odata.nextLink")) {
            if (document.find(member).isPresent() && isLast) {
                plain = JsonEdit.remove(plain, "/" + member);
            }
        }
        return json(
                isLast
                        ? plain
                        : JsonEdit.set(
                                plain,
                                "/nextLink",
                                JsonSpelling.quoted(
                                        endpoint + path + "?" + spelled(query) + "$skiptoken=" + (index + 1))));
    }

    private static String spelled(Map<String, String> query) {
        return query.entrySet().stream()
                .filter(entry -> !entry.getKey().equals("$skiptoken"))
                .map(entry -> entry.getKey() + "=" + entry.getValue() + "&")
                .collect(Collectors.joining());
    }

    private static int number(@Nullable String text) {
        return text == null || text.isEmpty() ? 0 : text.matches("[0-9]{1,6}") ? Integer.parseInt(text) : -1;
    }

    private static String code(SurveyLine line) {
        String code = line.obstacle().replaceFirst("[: ].*", "");
        return code.isEmpty() ? "AuthorizationFailed" : code;
    }

    /** The directory's permissions are not in a survey: whoever has signed in may read it. */
    private Reply directory(String path, Map<String, String> query) {
        String filter = query.getOrDefault("$filter", "");
        if (path.equals("/v1.0/applications") || path.equals("/v1.0/servicePrincipals")) {
            String id = filter.replaceFirst("^appId eq '(.*)'$", "$1");
            String aspect = path.endsWith("applications") ? "application" : "service-principal";
            String found = state.view().byClientId().getOrDefault(aspect + " " + id.toLowerCase(Locale.ROOT), "");
            return json(Json.text(Json.object("value", found.isEmpty() ? List.of() : List.of(new Json.Raw(found)))));
        }
        List<SurveyLine> lines = state.view().pages(Interface.DIRECTORY, ResourceId.key(path));
        if (!lines.isEmpty() && permits().isRefused(AzureAspects.TABLE.permission(lines.get(0)))) {
            throw new Refusal(403, "Authorization_RequestDenied", "Insufficient privileges to complete the operation.");
        }
        if (lines.isEmpty()) {
            throw new Refusal(404, "Request_ResourceNotFound", "The survey says nothing of " + path);
        }
        return page(lines, DIRECTORY + path, query);
    }

    /** Fetches an account's keys, which are made up, or makes an edge forget. */
    private Reply commanded(Caller caller, String path) {
        String lower = path.toLowerCase(Locale.ROOT);
        if (lower.endsWith("/listkeys")) {
            String storage = path.substring(0, path.length() - "/listKeys".length());
            permits().demand(caller, Actions.LIST_KEYS, storage);
            return json(Json.text(Json.object(
                    "keys",
                    List.of(Json.object("keyName", "key1", "value", AccountKeys.of(storage), "permissions", "FULL")))));
        }
        boolean isFrontDoor = lower.contains("/afdendpoints/");
        if (lower.endsWith("/purge") && lower.contains("/providers/microsoft.cdn/profiles/")) {
            String endpointId = path.substring(0, path.length() - "/purge".length());
            permits().demand(caller, isFrontDoor ? Actions.PURGE_FRONT_DOOR : Actions.PURGE_CLASSIC, endpointId);
            if (account().edge(endpointId).isEmpty()) {
                throw new Refusal(404, "ResourceNotFound", "The survey shows no endpoint " + endpointId);
            }
            Reply reply = Reply.empty(202);
            // The official command looks for it whatever the answer holds.
            reply.headers().put("Content-Type", "application/json");
            reply.headers().put("Location", endpoint + account().subscription().id() + "/operationresults/purged");
            return reply;
        }
        throw notSimulated("POST", path);
    }

    @Override
    public Reply listing(String storage, String container, String marker) {
        List<SurveyLine> lines = state.view().pages(Interface.BLOBS, storage + "/" + container);
        if (lines.isEmpty()) {
            throw new Refusal(404, "ContainerNotFound", "The survey says nothing of it");
        }
        SurveyLine line = shown(lines.get(Math.max(0, Math.min(number(marker), lines.size() - 1))));
        int next = lines.indexOf(line) + 1;
        return Reply.xml(200, BlobSpelling.list(line.document(), next < lines.size() ? String.valueOf(next) : ""));
    }

    @Override
    public Reply service(String storage) {
        List<SurveyLine> lines = state.view().pages(Interface.BLOBS, storage + "/");
        if (lines.isEmpty()) {
            throw new Refusal(404, "ResourceNotFound", "The survey says nothing of it");
        }
        return Reply.xml(200, BlobSpelling.service(shown(lines.get(0)).document()));
    }

    private static SurveyLine shown(SurveyLine line) {
        if (line.outcome() != Outcome.FOUND) {
            throw new Refusal(
                    line.outcome() == Outcome.ABSENT ? 404 : 403,
                    line.outcome() == Outcome.ABSENT ? line.body() : code(line),
                    "The survey does not show it");
        }
        return line;
    }

    private static Reply json(String body) {
        return Reply.of(200, "application/json; charset=utf-8", body);
    }
}
