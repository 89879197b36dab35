package warden.standin.azure;

import java.net.URI;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.util.Arrays;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.access.Truth;
import warden.core.azure.access.Actions;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.account.Container;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.standin.HttpDate;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.UrlText;
import warden.standin.WireRequest;

/**
 * The blob service of the simulated subscription, for callers with a token, an account's key, a signed URL or nothing at all. Source: Blob
 * service REST API, "Put Blob", "Put Block", "Put Block List", "Get Blob", "Get Blob Properties", "Set Blob Properties", "Set Blob Metadata",
 * "Copy Blob", "Delete Blob", "List Blobs", "Get Container Properties", "Get User Delegation Key".
 */
final class BlobApi {
    private static final Pattern RANGE = Pattern.compile("bytes=([0-9]+)-([0-9]*)");
    private static final int PAGE = 5_000;
    private static final String DELEGATE = Actions.STORAGE + "blobServices/generateUserDelegationKey/action";
    private static final String METADATA = "x-ms-meta-";

    private final SubscriptionState state;
    private final BlobStore store;
    private final Surveyed surveyed;
    private final Clock clock;

    BlobApi(SubscriptionState state, Surveyed surveyed, Clock clock) {
        this.state = state;
        this.store = state.store();
        this.surveyed = surveyed;
        this.clock = clock;
    }

    /** What the survey says word for word; absent where it says nothing. */
    interface Surveyed {
        /** Returns the page of a container's listing that a marker leads to. */
        Reply listing(String account, String container, String marker);

        /** Returns the settings of an account's blob service. */
        Reply service(String account);
    }

    /**
     * A call about a storage account.
     *
     * @param path the account, the container and the blob, each after a slash, unescaped
     * @param token who a token is for; absent for a call without one
     */
    record Request(WireRequest wire, String path, Optional<Caller> token) {
        boolean isUnsigned() {
            return token.isEmpty() && !SignedRequest.isSigned(headers()) && !SignedUrl.isSigned(query());
        }

        String method() {
            return wire.method();
        }

        String rawPath() {
            return wire.rawPath();
        }

        Map<String, String> query() {
            return wire.query();
        }

        Map<String, String> headers() {
            return wire.headers();
        }

        byte[] body() {
            return wire.body();
        }

        boolean isSecure() {
            return wire.isSecure();
        }

        String header(String name) {
            return wire.header(name);
        }

        String parameter(String name) {
            return query().getOrDefault(name, "");
        }
    }

    /**
     * Who calls.
     *
     * @param limits what a signed URL leaves of the key's rights
     */
    private record Identity(Caller who, Optional<SignedUrl> limits) {}

    Reply answer(Request request) {
        String[] parts = request.path().split("/", 4);
        StorageAccount storage = storage(parts.length > 1 ? parts[1] : "");
        String name = parts.length > 2 ? parts[2] : "";
        String blob = parts.length > 3 ? parts[3] : "";
        if (!request.isSecure() && storage.refusesPlainHttp() == Truth.TRUE) {
            throw new Refusal(400, "AccountRequiresHttps", "The account being accessed does not support http.");
        }
        Identity identity = identity(request, storage, name, blob);
        if (name.isEmpty()) {
            return ofService(request, identity, storage);
        }
        Container container = storage.container(name);
        return blob.isEmpty() ? ofContainer(request, identity, container) : ofBlob(request, identity, container, blob);
    }

    private StorageAccount storage(String name) {
        return state.view().account().subscription().accounts().stream()
                .filter(each -> each.name().equals(name))
                .findFirst()
                .orElseThrow(() -> new Refusal(404, "ResourceNotFound", "The survey shows no account " + name));
    }

    private Identity identity(Request request, StorageAccount storage, String container, String blob) {
        if (request.token().isPresent()) {
            if (!request.isSecure()) {
                throw new Refusal(403, "AuthenticationFailed", "Tokens are taken over HTTPS only.");
            }
            return new Identity(request.token().get(), Optional.empty());
        }
        if (SignedRequest.isSigned(request.headers())) {
            SignedRequest.verify(request, storage);
            return new Identity(Caller.key(storage.id()), Optional.empty());
        }
        if (SignedUrl.isSigned(request.query())) {
            SignedUrl limits = SignedUrl.verify(request, storage, container, blob, clock.instant());
            Caller who = limits.delegator()
                    .map(id -> Caller.principal("servicePrincipals/" + id))
                    .orElseGet(() -> Caller.key(storage.id()));
            return new Identity(who, Optional.of(limits));
        }
        return new Identity(Caller.ANYONE, Optional.empty());
    }

    private static Refusal notSimulated(Request request) {
        return new Refusal(
                501,
                "NotImplemented",
                request.method() + " " + request.path()
                        + (request.query().containsKey("comp") ? " (" + request.parameter("comp") + ")" : "")
                        + " is not simulated");
    }

    private void demand(Request request, Identity identity, String action, String resource, boolean isListing) {
        RequestContext plain = new RequestContext(
                Optional.of("blob"), request.isSecure(), Optional.empty(), isListing, Optional.empty());
        state.view().permits().demandData(identity.who(), action, resource, plain);
    }

    private static void limit(Identity identity, String letters, char level) {
        identity.limits().ifPresent(url -> url.demand(letters, level));
    }

    private static void demandExisting(Container container) {
        boolean isListed = container.account().listed().open().isEmpty();
        boolean isMissing = container.settings().found().isEmpty() && isListed;
        if (container.settings().isAbsent() || isMissing && !container.isWeb()) {
            throw new Refusal(404, "ContainerNotFound", "The specified container does not exist.");
        }
        if (container.settings().found().isEmpty() && !container.isWeb()) {
            throw new Refusal(501, "NotImplemented", "The survey does not tell whether there is such a container.");
        }
    }

    private Reply ofService(Request request, Identity identity, StorageAccount storage) {
        boolean asksKey = request.method().equals("POST")
                && request.parameter("restype").equals("service")
                && request.parameter("comp").equals("userdelegationkey");
        if (asksKey && request.token().isPresent()) {
            demand(request, identity, DELEGATE, storage.id(), false);
            String tenant =
                    state.view().account().subscription().tenant().orElse("00000000-0000-0000-0000-000000000000");
            return Reply.xml(
                    200,
                    DelegationKey.asked(
                                    request.body(),
                                    identity.who().objectId(),
                                    tenant,
                                    request.header("x-ms-version"),
                                    clock.instant())
                            .document(storage));
        }
        boolean asks = request.method().equals("GET")
                && request.parameter("restype").equals("service")
                && request.parameter("comp").equals("properties");
        if (!asks) {
            throw notSimulated(request);
        }
        limit(identity, "r", 's');
        if (identity.who().kind() == Caller.Kind.KEY) {
            demand(request, identity, Actions.READ, ResourceId.container(storage.id(), ResourceId.WEB), false);
        } else {
            state.view().permits().demand(identity.who(), Actions.STORAGE + "blobServices/read", storage.id());
        }
        return surveyed.service(storage.name());
    }

    private Reply ofContainer(Request request, Identity identity, Container container) {
        boolean isContainer = request.parameter("restype").equals("container");
        String part = request.parameter("comp");
        boolean reads = request.method().equals("GET") || request.method().equals("HEAD");
        if (isContainer && part.equals("list") && request.method().equals("GET")) {
            limit(identity, "l", 'c');
            demand(request, identity, Actions.READ, container.id(), true);
            demandExisting(container);
            return list(request, container);
        }
        if (isContainer && part.isEmpty() && reads) {
            limit(identity, "r", 'c');
            demandOfContainer(request, identity, "read", container);
            demandExisting(container);
            return Reply.empty(200);
        }
        if (isContainer && part.isEmpty() && request.method().equals("PUT")) {
            limit(identity, "wc", 'c');
            demandOfContainer(request, identity, "write", container);
            if (container.settings().found().isPresent()) {
                throw new Refusal(409, "ContainerAlreadyExists", "The specified container already exists.");
            }
        }
        throw notSimulated(request);
    }

    private void demandOfContainer(Request request, Identity identity, String action, Container container) {
        if (identity.who().kind() == Caller.Kind.KEY) {
            demand(request, identity, action.equals("read") ? Actions.READ : Actions.WRITE, container.id(), false);
        } else {
            state.view().permits().demand(identity.who(), Actions.CONTAINERS + action, container.id());
        }
    }

    private Reply list(Request request, Container container) {
        String prefix = request.parameter("prefix");
        String delimiter = request.parameter("delimiter");
        String marker = request.parameter("marker");
        boolean isPlain = prefix.isEmpty()
                && delimiter.isEmpty()
                && request.parameter("include").isEmpty();
        if (isPlain && !store.isTouched(container) && container.blobs().at().isPresent()) {
            return surveyed.listing(container.account().name(), container.name(), marker);
        }
        int most = Math.min(PAGE, number(request.parameter("maxresults"), PAGE));
        Map<String, Optional<BlobStore.Blob>> page = new LinkedHashMap<>();
        String next = "";
        for (Map.Entry<String, BlobStore.Blob> entry : store.all(container).entrySet()) {
            String name = entry.getKey();
            if (!name.startsWith(prefix) || name.compareTo(marker) < 0) {
                continue;
            }
            int end = delimiter.isEmpty() ? -1 : name.indexOf(delimiter, prefix.length());
            String shown = end < 0 ? name : name.substring(0, end + delimiter.length());
            if (page.containsKey(shown)) {
                continue;
            }
            if (page.size() == most) {
                next = name;
                break;
            }
            page.put(shown, end < 0 ? Optional.of(entry.getValue()) : Optional.empty());
        }
        boolean withMetadata =
                Arrays.asList(request.parameter("include").split(",")).contains("metadata");
        return Reply.xml(200, BlobSpelling.list(page, withMetadata, next));
    }

    private static int number(String text, int otherwise) {
        return text.matches("[1-9][0-9]{0,5}") ? Integer.parseInt(text) : otherwise;
    }

    private Reply ofBlob(Request request, Identity identity, Container container, String name) {
        String resource = container.blob(name);
        String part = request.parameter("comp");
        String letters =
                switch (request.method()) {
                    case "PUT" -> store.get(container, name).isPresent() || !part.isEmpty() ? "w" : "wc";
                    case "DELETE" -> "d";
                    default -> "r";
                };
        String action =
                switch (request.method()) {
                    case "PUT" -> Actions.WRITE;
                    case "DELETE" -> Actions.DELETE;
                    default -> Actions.READ;
                };
        String call = request.method() + (part.isEmpty() ? "" : " " + part);
        if (!List.of(
                        "PUT",
                        "PUT block",
                        "PUT blocklist",
                        "PUT metadata",
                        "PUT properties",
                        "GET",
                        "HEAD",
                        "GET metadata",
                        "HEAD metadata",
                        "DELETE")
                .contains(call)) {
            throw notSimulated(request);
        }
        limit(identity, part.startsWith("block") ? "wc" : letters, 'o');
        demand(request, identity, action, resource, false);
        demandExisting(container);
        demandConditions(request, store.get(container, name));
        return switch (call) {
            case "PUT" ->
                request.headers().containsKey("x-ms-copy-source")
                        ? copied(request, identity, container, name)
                        : written(put(request, container, name, content(request)));
            case "PUT block" -> {
                store.putBlock(container, name, request.parameter("blockid"), content(request));
                yield Reply.empty(201);
            }
            case "PUT blocklist" -> {
                byte[] whole = store.assembled(container, name, blocks(request.body()))
                        .orElseThrow(() -> new Refusal(400, "InvalidBlockList", "The block list is not valid."));
                yield written(put(request, container, name, whole));
            }
            case "PUT metadata" -> {
                BlobStore.Blob there = existing(container, name);
                yield changed(store.put(container, name, there.with(there.properties(), metadata(request))));
            }
            case "PUT properties" -> {
                BlobStore.Blob there = existing(container, name);
                yield changed(store.put(container, name, there.with(properties(request), there.metadata())));
            }
            case "DELETE" -> {
                if (!store.delete(container, name)) {
                    throw new Refusal(404, "BlobNotFound", "The specified blob does not exist.");
                }
                yield Reply.empty(202);
            }
            default -> read(request, existing(container, name));
        };
    }

    private BlobStore.Blob existing(Container container, String name) {
        return store.get(container, name)
                .orElseThrow(() -> new Refusal(404, "BlobNotFound", "The specified blob does not exist."));
    }

    private static void demandConditions(Request request, Optional<BlobStore.Blob> there) {
        String unless = request.header("if-none-match");
        String only = request.header("if-match");
        boolean reads = !request.method().equals("PUT") && !request.method().equals("DELETE");
        if (unless.equals("*") && there.isPresent() && !reads) {
            throw new Refusal(409, "BlobAlreadyExists", "The specified blob already exists.");
        }
        if (there.isPresent() && !unless.isEmpty() && unless.equals(there.get().tag())) {
            throw new Refusal(
                    reads ? 304 : 412,
                    "ConditionNotMet",
                    "The condition specified using HTTP conditional header(s) is not met.");
        }
        boolean fits = only.isEmpty()
                || there.filter(blob -> only.equals("*") || only.equals(blob.tag()))
                        .isPresent();
        if (!fits) {
            throw new Refusal(
                    412, "ConditionNotMet", "The condition specified using HTTP conditional header(s) is not met.");
        }
        for (String date : List.of("if-modified-since", "if-unmodified-since")) {
            if (!request.header(date).isEmpty()) {
                throw notSimulated(request);
            }
        }
    }

    /** Returns the body, after a look at the checksum that came with it. */
    private static byte[] content(Request request) {
        String told = request.header("content-md5");
        if (!told.isEmpty() && !told.equals(md5(request.body()))) {
            throw new Refusal(
                    400,
                    "Md5Mismatch",
                    "The MD5 value specified in the request did not match with the MD5 value calculated by the server.");
        }
        return request.body();
    }

    static String md5(byte[] content) {
        try {
            return Base64.getEncoder()
                    .encodeToString(MessageDigest.getInstance("MD5").digest(content));
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    private BlobStore.Blob put(Request request, Container container, String name, byte[] content) {
        boolean isBlock = request.parameter("comp").equals("blocklist")
                || request.header("x-ms-blob-type").equalsIgnoreCase("BlockBlob");
        if (!isBlock) {
            throw notSimulated(request);
        }
        BlobStore.Properties properties = properties(request);
        if (properties.md5().isEmpty()) {
            properties = properties.withMd5(request.parameter("comp").equals("blocklist") ? "" : md5(content));
        }
        return store.put(container, name, store.blob(content, properties, metadata(request)));
    }

    private static BlobStore.Properties properties(Request request) {
        Map<String, String> headers = request.headers();
        boolean sets = request.parameter("comp").equals("properties")
                || request.parameter("comp").equals("blocklist");
        return new BlobStore.Properties(
                headers.getOrDefault("x-ms-blob-content-type", sets ? "" : headers.getOrDefault("content-type", "")),
                headers.getOrDefault("x-ms-blob-cache-control", ""),
                headers.getOrDefault("x-ms-blob-content-encoding", ""),
                headers.getOrDefault("x-ms-blob-content-language", ""),
                headers.getOrDefault("x-ms-blob-content-disposition", ""),
                headers.getOrDefault("x-ms-blob-content-md5", ""));
    }

    private static Map<String, String> metadata(Request request) {
        Map<String, String> metadata = new TreeMap<>();
        request.headers().forEach((name, value) -> {
            if (name.startsWith(METADATA)) {
                metadata.put(name.substring(METADATA.length()), value);
            }
        });
        return metadata;
    }

    /** Copies a blob of the subscription, which the caller, or the signature in the source's URL, must be allowed to read. */
    private Reply copied(Request request, Identity identity, Container container, String name) {
        URI source = URI.create(request.header("x-ms-copy-source"));
        String host = String.valueOf(source.getHost()).toLowerCase(Locale.ROOT);
        String path = UrlText.unescaped(source.getRawPath());
        Optional<StorageAccount> byHost = state.view().account().subscription().accounts().stream()
                .filter(each -> each.blobHosts().contains(host))
                .findFirst();
        boolean isLocal = host.equals("localhost") || host.startsWith("127.");
        if (byHost.isEmpty() && !isLocal) {
            throw notSimulated(request);
        }
        String whole = byHost.map(each -> "/" + each.name() + path).orElse(path);
        String[] parts = whole.split("/", 4);
        if (parts.length < 4) {
            throw new Refusal(400, "InvalidHeaderValue", "The copy source names no blob.");
        }
        StorageAccount from = storage(parts[1]);
        Map<String, String> query = source.getRawQuery() == null ? Map.of() : UrlText.form(source.getRawQuery());
        WireRequest wire = new WireRequest(
                "GET",
                host,
                whole,
                query,
                Map.of(),
                new byte[0],
                request.isSecure(),
                request.wire().from());
        Request read = new Request(wire, whole, request.token());
        Identity reader = SignedUrl.isSigned(query)
                ? identity(new Request(wire, whole, Optional.empty()), from, parts[2], parts[3])
                : from.id().equals(container.account().id())
                        ? identity
                        : new Identity(request.token().orElse(Caller.ANYONE), Optional.empty());
        Container there = from.container(parts[2]);
        limit(reader, "r", 'o');
        demand(read, reader, Actions.READ, there.blob(parts[3]), false);
        BlobStore.Blob blob = existing(there, parts[3]);
        BlobStore.Blob copy = store.put(
                container,
                name,
                store.blob(
                        blob.content(),
                        blob.properties(),
                        metadata(request).isEmpty() ? blob.metadata() : metadata(request)));
        Reply reply = new Reply(202, new LinkedHashMap<>(), new byte[0]);
        reply.headers().put("ETag", copy.tag());
        reply.headers().put("Last-Modified", date(copy));
        reply.headers().put("x-ms-copy-id", "00000000-0000-4000-8000-000000000001");
        reply.headers().put("x-ms-copy-status", "success");
        return reply;
    }

    private static Reply changed(BlobStore.Blob blob) {
        Reply reply = Reply.empty(200);
        reply.headers().put("ETag", blob.tag());
        reply.headers().put("Last-Modified", date(blob));
        return reply;
    }

    private static Reply written(BlobStore.Blob blob) {
        Reply reply = Reply.empty(201);
        reply.headers().put("ETag", blob.tag());
        reply.headers().put("Last-Modified", date(blob));
        if (!blob.properties().md5().isEmpty()) {
            reply.headers().put("Content-MD5", blob.properties().md5());
        }
        reply.headers().put("x-ms-request-server-encrypted", "true");
        return reply;
    }

    private static String date(BlobStore.Blob blob) {
        return HttpDate.spelled(blob.modified());
    }

    /** Returns a blob's headers as every endpoint shows them. */
    static Map<String, String> headers(BlobStore.Blob blob) {
        Map<String, String> headers = new LinkedHashMap<>();
        BlobStore.Properties properties = blob.properties();
        headers.put("Content-Type", properties.type());
        headers.put("ETag", blob.tag());
        headers.put("Last-Modified", date(blob));
        headers.put("Accept-Ranges", "bytes");
        for (Map.Entry<String, String> header : Map.of(
                        "Cache-Control", properties.cacheControl(),
                        "Content-Encoding", properties.encoding(),
                        "Content-Language", properties.language(),
                        "Content-Disposition", properties.disposition(),
                        "Content-MD5", properties.md5())
                .entrySet()) {
            if (!header.getValue().isEmpty()) {
                headers.put(header.getKey(), header.getValue());
            }
        }
        return headers;
    }

    private static Reply read(Request request, BlobStore.Blob blob) {
        Map<String, String> headers = headers(blob);
        headers.put("x-ms-blob-type", "BlockBlob");
        blob.metadata().forEach((name, value) -> headers.put(METADATA + name, value));
        byte[] content = blob.content();
        if (request.parameter("comp").equals("metadata")) {
            return new Reply(200, headers, new byte[0]);
        }
        Optional<Matcher> range = Optional.ofNullable(request.headers()
                        .getOrDefault("x-ms-range", request.headers().get("range")))
                .map(RANGE::matcher)
                .filter(Matcher::matches);
        if (request.method().equals("HEAD") || range.isEmpty()) {
            return new Reply(200, headers, content);
        }
        long from = Long.parseLong(range.get().group(1));
        String last = range.get().group(2);
        long to = Math.min(content.length - 1L, last.isEmpty() ? content.length : Long.parseLong(last));
        if (from > to) {
            throw new Refusal(
                    416, "InvalidRange", "The range specified is invalid for the current size of the resource.");
        }
        headers.remove("Content-MD5");
        headers.put("Content-Range", "bytes " + from + "-" + to + "/" + content.length);
        return new Reply(206, headers, Arrays.copyOfRange(content, (int) from, (int) to + 1));
    }

    private static List<String> blocks(byte[] body) {
        return FlatXml.elements(body, "BlockList").stream()
                .map(Map.Entry::getValue)
                .toList();
    }

    /** Spells a refusal as the storage services do. Source: Storage REST API, "Status and error codes". */
    static Reply refusal(Refusal refused) {
        Reply reply =
                Reply.xml(refused.status(), BlobSpelling.error(refused.code(), String.valueOf(refused.getMessage())));
        reply.headers().put("x-ms-error-code", refused.code());
        return reply;
    }
}
