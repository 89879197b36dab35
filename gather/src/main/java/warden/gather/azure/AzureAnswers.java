package warden.gather.azure;

import java.io.StringReader;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/**
 * Saved answers of the second provider, brought into the form of a survey: what the command for one kind of thing prints has its members without
 * "properties", blobs come as XML, and secrets that an answer carries are left out.
 *
 * <p>Source: Azure command-line reference, {@code az rest}, {@code az storage account show}, {@code az storage blob service-properties show};
 * Blob service REST API, "List Blobs".
 */
final class AzureAnswers {
    private static final Pattern CODE =
            Pattern.compile("\"code\"\\s*:\\s*\"([A-Za-z_.]+)\"|<Code>([A-Za-z]+)</Code>|\\(([A-Za-z_]+)\\)");
    /** Members that hold secrets, or the first letters of one. */
    private static final Set<String> SECRETS =
            Set.of("hint", "secretText", "repositoryToken", "key", "customKeyIdentifier");

    private static final Set<String> ON_TOP = Set.of(
            "id",
            "name",
            "type",
            "location",
            "kind",
            "sku",
            "tags",
            "identity",
            "etag",
            "zones",
            "systemData",
            "extendedLocation",
            "resourceGroup",
            "properties");
    private static final Map<String, String> RENAMED = Map.of(
            "enableHttpsTrafficOnly", "supportsHttpsTrafficOnly",
            "networkRuleSet", "networkAcls",
            "errorDocument_404Path", "errorDocument404Path",
            "errorDocument404_path", "errorDocument404Path");
    /** What the directory and the blobs print has no "properties". */
    private static final Set<String> FLAT = Set.of(
            "subscription",
            "static-website",
            "container-blobs",
            "service-principal",
            "application",
            "application-owners",
            "member-of");

    private static final Map<String, String> BLOB_MEMBERS = Map.of(
            "Content-Length", "contentLength",
            "Content-Type", "contentType",
            "Cache-Control", "cacheControl",
            "Content-Encoding", "contentEncoding",
            "Last-Modified", "lastModified",
            "BlobType", "blobType",
            "AccessTier", "accessTier");

    private AzureAnswers() {}

    /** Returns the code in what was printed for a refusal. */
    static Optional<String> code(String said) {
        Matcher code = CODE.matcher(said);
        return code.find()
                ? Optional.of(
                        code.group(1) != null ? code.group(1) : code.group(2) != null ? code.group(2) : code.group(3))
                : Optional.empty();
    }

    /** Returns a saved answer as a survey holds it; absent where it is neither JSON nor a listing of blobs. */
    static Optional<String> document(String aspect, String text) {
        if (aspect.equals("container-blobs")
                && text.stripLeading().replace("\uFEFF", "").startsWith("<")) {
            return blobs(text.replace("\uFEFF", "").strip());
        }
        if (aspect.equals("static-website")
                && text.stripLeading().replace("\uFEFF", "").startsWith("<")) {
            return website(text.replace("\uFEFF", "").strip());
        }
        Optional<JsonPart> root = JsonReader.read(text).root();
        boolean isFlat = FLAT.contains(aspect) || aspect.equals("federated-credential-list");
        return root.map(part -> {
            if (part instanceof JsonPart.JsonArray array) {
                // The commands for one kind of thing print a bare list, and always the whole of it.
                return Json.text(Json.object("value", items(array.items(), isFlat)));
            }
            if (!part.list("value").isEmpty()) {
                Map<String, Object> page = members((JsonPart.JsonObject) part, name -> !name.equals("value"));
                page.put("value", items(part.list("value"), isFlat));
                return Json.text(page);
            }
            return Json.text(isFlat || part.find("value").isPresent() ? plain(part) : lifted(part));
        });
    }

    private static List<Object> items(List<JsonPart> items, boolean isFlat) {
        return items.stream().map(item -> isFlat ? plain(item) : lifted(item)).toList();
    }

    /** Puts what stands on top, and belongs below "properties", there. */
    private static Object lifted(JsonPart part) {
        if (!(part instanceof JsonPart.JsonObject object) || object.members().containsKey("properties")) {
            return plain(part);
        }
        Map<String, Object> top = members(object, ON_TOP::contains);
        top.put("properties", members(object, name -> !ON_TOP.contains(name)));
        return top;
    }

    private static Map<String, Object> members(JsonPart.JsonObject object, Predicate<String> wanted) {
        Map<String, Object> members = new LinkedHashMap<>();
        object.members().forEach((name, value) -> {
            if (wanted.test(name) && !isSecret(name, value)) {
                members.put(RENAMED.getOrDefault(name, name), plain(value));
            }
        });
        return members;
    }

    /** The key of a tag or a header is none. */
    private static boolean isSecret(String name, JsonPart value) {
        return SECRETS.contains(name) && (value instanceof JsonPart.JsonText || value instanceof JsonPart.JsonNull);
    }

    /** Returns a document on one line, without what is secret. */
    static String spelled(JsonPart part) {
        return Json.text(plain(part));
    }

    private static Object plain(JsonPart part) {
        if (part instanceof JsonPart.JsonObject object) {
            return members(object, name -> true);
        }
        return part instanceof JsonPart.JsonArray array
                ? array.items().stream().map(AzureAnswers::plain).toList()
                : part;
    }

    /** Translates a listing of blobs. */
    private static Optional<String> blobs(String xml) {
        List<Object> blobs = new ArrayList<>();
        String marker = "";
        try {
            XMLStreamReader reader = reader(xml);
            while (reader.hasNext()) {
                if (reader.next() == XMLStreamConstants.START_ELEMENT) {
                    if (reader.getLocalName().equals("Blob")) {
                        blobs.add(blob(reader));
                    } else if (reader.getLocalName().equals("NextMarker")) {
                        marker = reader.getElementText();
                    }
                }
            }
        } catch (XMLStreamException broken) {
            return Optional.empty();
        }
        return Optional.of(Json.text(Json.object("value", blobs, "nextMarker", marker)));
    }

    private static final Map<String, String> WEBSITE_MEMBERS = Map.of(
            "IndexDocument", "indexDocument",
            "ErrorDocument404Path", "errorDocument404Path",
            "DefaultIndexDocumentPath", "defaultIndexDocumentPath");

    /** Translates what the blob service says of its website. */
    private static Optional<String> website(String xml) {
        Map<String, Object> members = new LinkedHashMap<>();
        try {
            XMLStreamReader reader = reader(xml);
            boolean within = false;
            while (reader.hasNext()) {
                int event = reader.next();
                if (event == XMLStreamConstants.END_ELEMENT
                        && reader.getLocalName().equals("StaticWebsite")) {
                    within = false;
                } else if (event == XMLStreamConstants.START_ELEMENT) {
                    String element = reader.getLocalName();
                    within |= element.equals("StaticWebsite");
                    if (within && element.equals("Enabled")) {
                        members.put("enabled", reader.getElementText().strip().equals("true"));
                    } else if (within && WEBSITE_MEMBERS.containsKey(element)) {
                        members.put(Objects.requireNonNull(WEBSITE_MEMBERS.get(element)), reader.getElementText());
                    }
                }
            }
        } catch (XMLStreamException broken) {
            return Optional.empty();
        }
        return Optional.of(Json.text(members));
    }

    private static XMLStreamReader reader(String xml) throws XMLStreamException {
        XMLInputFactory factory = XMLInputFactory.newFactory();
        factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        return factory.createXMLStreamReader(new StringReader(xml));
    }

    private static Object blob(XMLStreamReader reader) throws XMLStreamException {
        String name = "";
        Map<String, Object> properties = new LinkedHashMap<>();
        while (reader.hasNext()) {
            int event = reader.next();
            if (event == XMLStreamConstants.END_ELEMENT && reader.getLocalName().equals("Blob")) {
                break;
            }
            if (event != XMLStreamConstants.START_ELEMENT) {
                continue;
            }
            String element = reader.getLocalName();
            if (element.equals("Name")) {
                boolean encoded = "true".equals(reader.getAttributeValue(null, "Encoded"));
                String text = reader.getElementText();
                name = encoded ? URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8) : text;
            } else if (BLOB_MEMBERS.containsKey(element)) {
                properties.put(
                        Objects.requireNonNull(BLOB_MEMBERS.get(element)), value(element, reader.getElementText()));
            }
        }
        return Json.object("name", name, "properties", properties);
    }

    private static @Nullable Object value(String element, String text) {
        if (text.isEmpty()) {
            return null;
        }
        if (element.equals("Content-Length") && text.matches("\\d{1,18}")) {
            return Long.valueOf(text);
        }
        return element.equals("Last-Modified") ? instant(text) : text;
    }

    private static String instant(String text) {
        try {
            return Instant.from(DateTimeFormatter.RFC_1123_DATE_TIME.parse(text))
                    .toString();
        } catch (DateTimeException another) {
            return text;
        }
    }
}
