package warden.standin;

import java.io.ByteArrayInputStream;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import warden.core.access.Decision;
import warden.core.azure.access.AccessRules;
import warden.core.azure.access.Actions;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.account.Container;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.site.AzureAccount;

/**
 * The blob service of the simulated subscription, for callers with a token. Source: Blob service REST API, "Put Blob", "Put Block", "Put Block
 * List", "Get Blob", "Get Blob Properties", "Delete Blob", "List Blobs".
 */
final class BlobApi {
    private static final Pattern RANGE = Pattern.compile("bytes=([0-9]+)-([0-9]*)");
    private static final int PAGE = 5_000;

    private final AzureAccount account;
    private final AccessRules rules;
    private final BlobStore store;
    private final java.util.Set<String> refused;

    BlobApi(AzureAccount account, BlobStore store, java.util.Set<String> refused) {
        this.account = account;
        this.rules = account.reach().rules();
        this.store = store;
        this.refused = refused;
    }

    /**
     * A call about a storage account.
     *
     * @param headers by name in lower case
     */
    record Request(
            String method,
            String path,
            Map<String, String> query,
            Map<String, String> headers,
            byte[] body,
            Caller who) {}

    Reply answer(Request request) {
        String[] parts = request.path().split("/", 4);
        StorageAccount storage = account.subscription().accounts().stream()
                .filter(each -> parts.length > 1 && each.name().equals(parts[1]))
                .findFirst()
                .orElseThrow(() -> new Refusal(404, "ResourceNotFound", "The survey shows no account of that name"));
        if (parts.length < 3 || parts[2].isEmpty()) {
            throw notSimulated(request);
        }
        Container container = storage.container(parts[2]);
        String blob = parts.length > 3 ? parts[3] : "";
        return blob.isEmpty() ? ofContainer(request, container) : ofBlob(request, container, blob);
    }

    private static Refusal notSimulated(Request request) {
        return new Refusal(501, "NotImplemented", request.method() + " " + request.path() + " is not simulated");
    }

    private void demand(Request request, String action, Container container, String resource, boolean isListing) {
        RequestContext plain = isListing ? RequestContext.PLAIN.listing() : RequestContext.PLAIN;
        Decision decision = rules.decide(request.who(), action, resource, plain, false);
        if (decision.outcome() != Decision.Outcome.ALLOW || refused.contains(action.toLowerCase(Locale.ROOT))) {
            throw new Refusal(
                    403,
                    "AuthorizationPermissionMismatch",
                    "This request is not authorized to perform this operation using this permission.");
        }
        if (container.settings().isAbsent()) {
            throw new Refusal(404, "ContainerNotFound", "The specified container does not exist.");
        }
    }

    private Reply ofContainer(Request request, Container container) {
        boolean lists = request.method().equals("GET")
                && "list".equals(request.query().get("comp"))
                && "container".equals(request.query().get("restype"));
        if (!lists) {
            throw notSimulated(request);
        }
        demand(request, Actions.READ, container, container.id(), true);
        String prefix = request.query().getOrDefault("prefix", "");
        String marker = request.query().getOrDefault("marker", "");
        int most = Math.min(PAGE, number(request.query().getOrDefault("maxresults", ""), PAGE));
        Map<String, BlobStore.Blob> page = new LinkedHashMap<>();
        String next = "";
        for (Map.Entry<String, BlobStore.Blob> entry : store.all(container).entrySet()) {
            if (!entry.getKey().startsWith(prefix) || entry.getKey().compareTo(marker) < 0) {
                continue;
            }
            if (page.size() == most) {
                next = entry.getKey();
                break;
            }
            page.put(entry.getKey(), entry.getValue());
        }
        return Reply.xml(200, BlobSpelling.list(page, next));
    }

    private static int number(String text, int otherwise) {
        return text.matches("[1-9][0-9]{0,5}") ? Integer.parseInt(text) : otherwise;
    }

    private Reply ofBlob(Request request, Container container, String name) {
        String resource = container.blob(name);
        String part = request.query().getOrDefault("comp", "");
        switch (request.method() + (part.isEmpty() ? "" : " " + part)) {
            case "PUT" -> {
                demand(request, Actions.WRITE, container, resource, false);
                boolean isCopy = request.headers().containsKey("x-ms-copy-source");
                boolean isBlock =
                        request.headers().getOrDefault("x-ms-blob-type", "").equalsIgnoreCase("BlockBlob");
                if (isCopy || !isBlock) {
                    throw notSimulated(request);
                }
                return written(put(request, container, name, request.body()));
            }
            case "PUT block" -> {
                demand(request, Actions.WRITE, container, resource, false);
                store.putBlock(container, name, request.query().getOrDefault("blockid", ""), request.body());
                return Reply.empty(201);
            }
            case "PUT blocklist" -> {
                demand(request, Actions.WRITE, container, resource, false);
                byte[] whole = store.assembled(container, name, blocks(request.body()))
                        .orElseThrow(() -> new Refusal(400, "InvalidBlockList", "The block list is not valid."));
                return written(put(request, container, name, whole));
            }
            case "GET", "HEAD" -> {
                demand(request, Actions.READ, container, resource, false);
                return read(request, existing(container, name));
            }
            case "DELETE" -> {
                demand(request, Actions.DELETE, container, resource, false);
                if (!store.delete(container, name)) {
                    throw new Refusal(404, "BlobNotFound", "The specified blob does not exist.");
                }
                return Reply.empty(202);
            }
            default -> throw notSimulated(request);
        }
    }

    private BlobStore.Blob existing(Container container, String name) {
        return store.get(container, name)
                .orElseThrow(() -> new Refusal(404, "BlobNotFound", "The specified blob does not exist."));
    }

    private BlobStore.Blob put(Request request, Container container, String name, byte[] content) {
        if ("*".equals(request.headers().get("if-none-match"))
                && store.get(container, name).isPresent()) {
            throw new Refusal(409, "BlobAlreadyExists", "The specified blob already exists.");
        }
        Map<String, String> headers = request.headers();
        return store.put(
                container,
                name,
                content,
                headers.getOrDefault("x-ms-blob-content-type", headers.getOrDefault("content-type", "")),
                headers.getOrDefault("x-ms-blob-cache-control", ""),
                headers.getOrDefault("x-ms-blob-content-encoding", ""));
    }

    private static Reply written(BlobStore.Blob blob) {
        Reply reply = Reply.empty(201);
        reply.headers().put("ETag", blob.tag());
        reply.headers().put("Last-Modified", date(blob));
        reply.headers().put("x-ms-request-server-encrypted", "true");
        return reply;
    }

    private static String date(BlobStore.Blob blob) {
        return DateTimeFormatter.RFC_1123_DATE_TIME.format(blob.modified().atOffset(ZoneOffset.UTC));
    }

    private static Reply read(Request request, BlobStore.Blob blob) {
        Map<String, String> headers = new LinkedHashMap<>();
        headers.put("Content-Type", blob.type());
        headers.put("ETag", blob.tag());
        headers.put("Last-Modified", date(blob));
        headers.put("x-ms-blob-type", "BlockBlob");
        headers.put("Accept-Ranges", "bytes");
        if (!blob.cacheControl().isEmpty()) {
            headers.put("Cache-Control", blob.cacheControl());
        }
        if (!blob.encoding().isEmpty()) {
            headers.put("Content-Encoding", blob.encoding());
        }
        byte[] content = blob.content();
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
        headers.put("Content-Range", "bytes " + from + "-" + to + "/" + content.length);
        return new Reply(206, headers, java.util.Arrays.copyOfRange(content, (int) from, (int) to + 1));
    }

    private static List<String> blocks(byte[] body) {
        List<String> names = new ArrayList<>();
        XMLInputFactory factory = XMLInputFactory.newFactory();
        factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        try {
            XMLStreamReader reader = factory.createXMLStreamReader(new ByteArrayInputStream(body));
            while (reader.hasNext()) {
                if (reader.next() == XMLStreamConstants.START_ELEMENT
                        && !reader.getLocalName().equals("BlockList")) {
                    names.add(reader.getElementText());
                }
            }
        } catch (XMLStreamException broken) {
            throw new Refusal(400, "InvalidXmlDocument", "The XML specified is not syntactically valid.");
        }
        return names;
    }
}
