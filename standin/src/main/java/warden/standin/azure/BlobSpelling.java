package warden.standin.azure;

import java.io.StringWriter;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.Map;
import java.util.Optional;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;
import warden.core.document.JsonPart;
import warden.standin.HttpDate;

/** Spells what a survey holds of blobs as the blob service prints it. Source: Blob service REST API, "List Blobs", "Get Blob Service Properties". */
final class BlobSpelling {
    private static final Map<String, String> PROPERTIES = Map.of(
            "contentLength", "Content-Length",
            "contentType", "Content-Type",
            "cacheControl", "Cache-Control",
            "contentEncoding", "Content-Encoding",
            "lastModified", "Last-Modified",
            "blobType", "BlobType",
            "accessTier", "AccessTier");

    private BlobSpelling() {}

    /** Something that writes elements. */
    private interface Content {
        void write(XMLStreamWriter out) throws XMLStreamException;
    }

    private static String document(String root, Content content) {
        StringWriter text = new StringWriter();
        try {
            XMLStreamWriter out = XMLOutputFactory.newFactory().createXMLStreamWriter(text);
            out.writeStartElement(root);
            content.write(out);
            out.writeEndElement();
            out.flush();
        } catch (XMLStreamException impossible) {
            throw new IllegalStateException(impossible);
        }
        return text.toString();
    }

    /** A listing as the survey holds it. */
    static String list(JsonPart listing, String nextMarker) {
        return document("EnumerationResults", out -> {
            out.writeStartElement("Blobs");
            for (JsonPart blob : listing.list("value")) {
                blob(out, blob);
            }
            out.writeEndElement();
            element(out, "NextMarker", nextMarker);
        });
    }

    private static void blob(XMLStreamWriter out, JsonPart blob) throws XMLStreamException {
        out.writeStartElement("Blob");
        element(out, "Name", blob.text("name").orElse(""));
        out.writeStartElement("Properties");
        for (Map.Entry<String, JsonPart> member : members(blob).entrySet()) {
            String name = PROPERTIES.get(member.getKey());
            if (name != null) {
                String text = member.getValue().scalar().orElse("");
                element(out, name, member.getKey().equals("lastModified") ? date(text) : text);
            }
        }
        out.writeEndElement();
        out.writeEndElement();
    }

    private static Map<String, JsonPart> members(JsonPart blob) {
        Optional<JsonPart> properties = blob.find("properties");
        return properties.isPresent() && properties.get() instanceof JsonPart.JsonObject object
                ? object.members()
                : Map.of();
    }

    private static String date(String instant) {
        try {
            return HttpDate.spelled(Instant.parse(instant));
        } catch (DateTimeParseException another) {
            return instant;
        }
    }

    /**
     * A listing of blobs, one page of it.
     *
     * @param blobs by name; absent for what stands for the blobs below a folder
     */
    static String list(Map<String, Optional<BlobStore.Blob>> blobs, boolean withMetadata, String nextMarker) {
        return document("EnumerationResults", out -> {
            out.writeStartElement("Blobs");
            for (Map.Entry<String, Optional<BlobStore.Blob>> entry : blobs.entrySet()) {
                if (entry.getValue().isPresent()) {
                    blob(out, entry.getKey(), entry.getValue().get(), withMetadata);
                } else {
                    out.writeStartElement("BlobPrefix");
                    element(out, "Name", entry.getKey());
                    out.writeEndElement();
                }
            }
            out.writeEndElement();
            element(out, "NextMarker", nextMarker);
        });
    }

    private static void blob(XMLStreamWriter out, String name, BlobStore.Blob blob, boolean withMetadata)
            throws XMLStreamException {
        out.writeStartElement("Blob");
        element(out, "Name", name);
        out.writeStartElement("Properties");
        element(out, "Last-Modified", HttpDate.spelled(blob.modified()));
        element(out, "Etag", blob.tag().replace("\"", ""));
        element(out, "Content-Length", Integer.toString(blob.content().length));
        element(out, "Content-Type", blob.properties().type());
        element(out, "Content-Encoding", blob.properties().encoding());
        element(out, "Content-MD5", blob.properties().md5());
        element(out, "Cache-Control", blob.properties().cacheControl());
        element(out, "BlobType", "BlockBlob");
        element(out, "AccessTier", "Hot");
        out.writeEndElement();
        if (withMetadata) {
            out.writeStartElement("Metadata");
            for (Map.Entry<String, String> item : blob.metadata().entrySet()) {
                element(out, item.getKey(), item.getValue());
            }
            out.writeEndElement();
        }
        out.writeEndElement();
    }

    /** A refusal. */
    static String error(String code, String message) {
        return document("Error", out -> {
            element(out, "Code", code);
            element(out, "Message", message);
        });
    }

    /** The official command fails on an answer without rules for other origins. */
    static String service(JsonPart website) {
        return document("StorageServiceProperties", out -> {
            out.writeEmptyElement("Cors");
            out.writeStartElement("StaticWebsite");
            element(out, "Enabled", website.flag("enabled").orElse(false).toString());
            for (Map.Entry<String, String> member : Map.of(
                            "indexDocument", "IndexDocument",
                            "errorDocument404Path", "ErrorDocument404Path",
                            "defaultIndexDocumentPath", "DefaultIndexDocumentPath")
                    .entrySet()) {
                Optional<String> value = website.text(member.getKey());
                if (value.isPresent()) {
                    element(out, member.getValue(), value.get());
                }
            }
            out.writeEndElement();
        });
    }

    private static void element(XMLStreamWriter out, String name, String text) throws XMLStreamException {
        out.writeStartElement(name);
        out.writeCharacters(text);
        out.writeEndElement();
    }
}
