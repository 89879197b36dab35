package warden.standin;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import warden.core.access.Decision;
import warden.core.azure.access.AccessRules;
import warden.core.azure.access.Actions;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.account.ResourceId;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.survey.AzureAspects;
import warden.core.azure.survey.AzureCalls;
import warden.core.azure.survey.AzureCalls.Interface;
import warden.core.azure.survey.AzureCalls.Request;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/**
 * Answers the calls of the second provider's clients from a survey. Who calls is in the token; what they may do the core decides.
 *
 * <p>Source: Azure REST API reference; Microsoft Graph REST API v1.0; Microsoft identity platform, "OAuth 2.0 client credentials flow"; Blob
 * service REST API, "List Blobs".
 */
final class SubscriptionApi {
    private static final String DIRECTORY = "/graph";

    private final String endpoint;
    private final Set<String> refused;
    private final BlobStore store;
    private final BlobApi blobApi;
    private final AzureAccount account;
    private final AccessRules rules;
    /** Applications and principals by aspect and client id in lower case. */
    private final Map<String, String> byClientId = new HashMap<>();
    /** What the survey says, by the call that reads it: the pages in order. */
    private final Map<String, List<SurveyLine>> byCall = new LinkedHashMap<>();

    /**
     * Makes ready.
     *
     * @param refused permissions, in lower case, that nobody has
     */
    SubscriptionApi(Survey survey, List<SurveyLine> lines, String endpoint, Set<String> refused, Clock clock) {
        this.refused = refused;
        this.endpoint = endpoint;
        this.account = new AzureAccount(survey);
        this.rules = account.reach().rules();
        this.store = new BlobStore(clock);
        this.blobApi = new BlobApi(account, store, refused);
        for (SurveyLine line : lines) {
            if (line.outcome() == Outcome.FOUND
                    && (line.aspect().equals("application") || line.aspect().equals("service-principal"))) {
                line.document()
                        .text("appId")
                        .ifPresent(id ->
                                byClientId.putIfAbsent(line.aspect() + " " + id.toLowerCase(Locale.ROOT), line.body()));
            }
            AzureCalls.of(line.aspect(), line.of())
                    .ifPresent(request -> byCall.computeIfAbsent(key(request, line.of()), key -> new ArrayList<>())
                            .add(line));
        }
    }

    private static String key(Request request, String of) {
        String account = request.asked() == Interface.BLOBS
                ? ResourceId.accountIn(of).map(ResourceId::name).orElse("")
                : "";
        boolean isAtScope = request.query().contains("atScope()");
        return request.asked() + " " + account + ResourceId.key(request.path()) + (isAtScope ? "?atScope()" : "");
    }

    List<String> clients() {
        return account.reach().principals().all().stream()
                .flatMap(principal -> principal.clientId().stream())
                .toList();
    }

    Reply answer(
            String method,
            String path,
            Map<String, String> query,
            Map<String, String> headers,
            byte[] body,
            String token) {
        if (path.endsWith("/.well-known/openid-configuration")) {
            return discovery(path.replaceFirst("(/v2\\.0)?/\\.well-known/openid-configuration$", ""));
        }
        if (path.endsWith("/oauth2/v2.0/token") || path.endsWith("/oauth2/token")) {
            return signIn(path, Call.form(new String(body, StandardCharsets.UTF_8)));
        }
        Caller caller = caller(token);
        boolean isManagement =
                path.startsWith("/subscriptions") || path.startsWith("/providers/") || path.equals("/tenants");
        if (!isManagement && !path.startsWith(DIRECTORY + "/")) {
            return blobs(caller, new BlobApi.Request(method, path, query, headers, body, caller));
        }
        if (method.equals("POST") && isManagement) {
            return commanded(caller, path);
        }
        if (!method.equals("GET")) {
            throw notSimulated(method, path);
        }
        if (path.equals("/tenants")) {
            return json("{\"value\":[{\"id\":\"/tenants/simulated\",\"tenantId\":"
                    + JsonSpelling.quoted(account.subscription().tenant().orElse("simulated")) + "}]}");
        }
        if (path.endsWith("/operationresults/purged")) {
            return json("{}");
        }
        if (path.equals("/subscriptions")) {
            return json("{\"value\":[" + subscription() + "]}");
        }
        if (path.startsWith(DIRECTORY + "/")) {
            return directory(path.substring(DIRECTORY.length()), query);
        }
        return management(caller, path, query);
    }

    /** The subscription as the survey shows it; some clients fail where a member is missing. */
    private String subscription() {
        Map<String, String> members = new LinkedHashMap<>();
        members.put("id", account.subscription().id());
        members.put("subscriptionId", account.number());
        members.put("tenantId", account.subscription().tenant().orElse("simulated"));
        members.put("displayName", "simulated");
        members.put("state", "Enabled");
        return members.entrySet().stream()
                .map(member -> JsonSpelling.quoted(member.getKey()) + ":" + JsonSpelling.quoted(member.getValue()))
                .collect(Collectors.joining(",", "{", "}"));
    }

    private static Refusal notSimulated(String method, String path) {
        return new Refusal(501, "NotImplemented", method + " " + path + " is not simulated");
    }

    // --- signing in

    private Reply discovery(String tenant) {
        String base = endpoint + tenant;
        return json("{\"issuer\":" + JsonSpelling.quoted(base + "/v2.0") + ",\"authorization_endpoint\":"
                + JsonSpelling.quoted(base + "/oauth2/v2.0/authorize") + ",\"token_endpoint\":"
                + JsonSpelling.quoted(base + "/oauth2/v2.0/token") + ",\"jwks_uri\":"
                + JsonSpelling.quoted(base + "/discovery/v2.0/keys") + "}");
    }

    private Reply signIn(String path, Map<String, String> form) {
        String client = form.getOrDefault("client_id", "");
        Optional<String> principal = account.reach().principals().named(client).map(each -> each.objectId());
        if (principal.isEmpty()) {
            throw new Refusal(400, "unauthorized_client", "The survey shows no application " + client);
        }
        String tenant = path.substring(1).replaceFirst("/.*", "");
        String claims = "{\"oid\":" + JsonSpelling.quoted(principal.get()) + ",\"tid\":" + JsonSpelling.quoted(tenant)
                + ",\"appid\":" + JsonSpelling.quoted(client) + ",\"idtyp\":\"app\",\"aud\":"
                + JsonSpelling.quoted(form.getOrDefault("scope", "")) + "}";
        String token = encoded("{\"alg\":\"none\",\"typ\":\"JWT\"}") + "." + encoded(claims) + ".simulated";
        return json("{\"token_type\":\"Bearer\",\"expires_in\":3600,\"ext_expires_in\":3600,\"access_token\":"
                + JsonSpelling.quoted(token) + "}");
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
                byCall.get(Interface.MANAGEMENT + " " + ResourceId.key(path) + (isAtScope ? "?atScope()" : ""));
        if (lines == null) {
            throw new Refusal(404, "ResourceNotFound", "The survey says nothing of " + path);
        }
        SurveyLine first = lines.get(0);
        demand(caller, AzureAspects.TABLE.permission(first), path);
        return page(lines, path, query);
    }

    private void demand(Caller caller, String permission, String resource) {
        Decision decision = rules.decide(caller, permission, resource, RequestContext.PLAIN, false);
        if (decision.outcome() != Decision.Outcome.ALLOW || refused.contains(permission.toLowerCase(Locale.ROOT))) {
            throw new Refusal(
                    403,
                    "AuthorizationFailed",
                    "The client does not have authorization to perform action '" + permission + "' over scope '"
                            + resource + "'");
        }
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
        return text == null ? 0 : text.matches("[0-9]{1,6}") ? Integer.parseInt(text) : -1;
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
            String found = byClientId.getOrDefault(aspect + " " + id.toLowerCase(Locale.ROOT), "");
            return json("{\"value\":[" + found + "]}");
        }
        List<SurveyLine> lines = byCall.get(Interface.DIRECTORY + " " + ResourceId.key(path));
        if (lines != null
                && refused.contains(AzureAspects.TABLE.permission(lines.get(0)).toLowerCase(Locale.ROOT))) {
            throw new Refusal(403, "Authorization_RequestDenied", "Insufficient privileges to complete the operation.");
        }
        if (lines == null) {
            throw new Refusal(404, "Request_ResourceNotFound", "The survey says nothing of " + path);
        }
        return page(lines, DIRECTORY + path, query);
    }

    /** Fetches an account's keys, which are made up, or makes an edge forget. */
    private Reply commanded(Caller caller, String path) {
        String lower = path.toLowerCase(Locale.ROOT);
        if (lower.endsWith("/listkeys")) {
            String storage = path.substring(0, path.length() - "/listKeys".length());
            demand(caller, Actions.LIST_KEYS, storage);
            return json("{\"keys\":[{\"keyName\":\"key1\",\"value\":\"" + encoded("made up: " + storage) + "\","
                    + "\"permissions\":\"FULL\"}]}");
        }
        boolean isFrontDoor = lower.contains("/afdendpoints/");
        if (lower.endsWith("/purge") && lower.contains("/providers/microsoft.cdn/profiles/")) {
            String endpointId = path.substring(0, path.length() - "/purge".length());
            demand(caller, isFrontDoor ? Actions.PURGE_FRONT_DOOR : Actions.PURGE_CLASSIC, endpointId);
            if (account.edge(endpointId).isEmpty()) {
                throw new Refusal(404, "ResourceNotFound", "The survey shows no endpoint " + endpointId);
            }
            Reply reply = Reply.empty(202);
            // The official command looks for it whatever the answer holds.
            reply.headers().put("Content-Type", "application/json");
            reply.headers().put("Location", endpoint + account.subscription().id() + "/operationresults/purged");
            return reply;
        }
        throw notSimulated("POST", path);
    }

    private Reply blobs(Caller caller, BlobApi.Request request) {
        String path = request.path();
        Map<String, String> query = request.query();
        String[] parts = path.split("/", -1);
        String name = parts.length > 1 ? parts[1] : "";
        boolean reads = request.method().equals("GET");
        boolean lists = reads
                && parts.length == 3
                && "list".equals(query.get("comp"))
                && "container".equals(query.get("restype"))
                && !query.containsKey("prefix")
                && account.subscription().accounts().stream()
                        .filter(each -> each.name().equals(name))
                        .noneMatch(each -> store.isTouched(each.container(parts[2])));
        boolean asksService = reads
                && query.getOrDefault("restype", "").equals("service")
                && query.getOrDefault("comp", "").equals("properties");
        if (!lists && !asksService) {
            return blobApi.answer(request);
        }
        // What the caller may not see is refused before it is said whether it is there.
        String storage = account.subscription().accounts().stream()
                .filter(each -> each.name().equals(name))
                .map(each -> each.id())
                .findFirst()
                .orElseThrow(() -> new Refusal(404, "ResourceNotFound", "The survey shows no account " + name));
        if (lists) {
            demandListing(caller, ResourceId.container(storage, parts[2]));
        } else {
            demand(caller, AzureAspects.TABLE.permission("static-website"), storage);
        }
        List<SurveyLine> lines = byCall.get(Interface.BLOBS + " " + name + (lists ? "/" + parts[2] : "/"));
        if (lines == null) {
            throw new Refusal(404, lists ? "ContainerNotFound" : "ResourceNotFound", "The survey says nothing of it");
        }
        SurveyLine line = lines.get(Math.min(number(query.get("marker")), lines.size() - 1));
        if (line.outcome() != Outcome.FOUND) {
            throw new Refusal(
                    line.outcome() == Outcome.ABSENT ? 404 : 403,
                    line.outcome() == Outcome.ABSENT ? line.body() : code(line),
                    "The survey does not show it");
        }
        int next = lines.indexOf(line) + 1;
        return Reply.xml(
                200,
                lists
                        ? BlobSpelling.list(line.document(), next < lines.size() ? String.valueOf(next) : "")
                        : BlobSpelling.service(line.document()));
    }

    private void demandListing(Caller caller, String container) {
        Decision decision =
                rules.decide(caller, AzureAspects.READ_BLOBS, container, RequestContext.PLAIN.listing(), false);
        if (decision.outcome() != Decision.Outcome.ALLOW
                || refused.contains(AzureAspects.READ_BLOBS.toLowerCase(Locale.ROOT))) {
            throw new Refusal(
                    403,
                    "AuthorizationPermissionMismatch",
                    "This request is not authorized to perform this operation using this permission.");
        }
    }

    private static Reply json(String body) {
        return Reply.of(200, "application/json; charset=utf-8", body);
    }
}
