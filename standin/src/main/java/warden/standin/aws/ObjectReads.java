package warden.standin.aws;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import software.amazon.awssdk.services.s3.model.GetObjectAclResponse;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.standin.Refusal;
import warden.standin.Reply;

/** Reads objects and what is set on them. Source: S3 API Reference, GetObject, HeadObject, GetObjectAcl, GetObjectTagging, GetObjectAttributes. */
final class ObjectReads {
    /** Parameters by which whoever signs says how an answer is to be headed. */
    private static final Map<String, String> OVERRIDES = Map.of(
            "response-content-type", "Content-Type",
            "response-content-language", "Content-Language",
            "response-expires", "Expires",
            "response-cache-control", "Cache-Control",
            "response-content-disposition", "Content-Disposition",
            "response-content-encoding", "Content-Encoding");

    private final CloudState state;
    private final Gatekeeper gatekeeper;

    ObjectReads(CloudState state, Gatekeeper gatekeeper) {
        this.state = state;
        this.gatekeeper = gatekeeper;
    }

    Reply answer(Call call, String arn, String key) {
        if (call.has("acl")) {
            return accessList(call, arn, key);
        }
        if (call.has("tagging")) {
            return tags(call, arn, key);
        }
        if (call.has("attributes")) {
            return attributes(call, arn, key);
        }
        return fetch(call, arn, key);
    }

    /** Demands a permission on an object, with its tags among the keys; of an object of the survey they are not known. */
    void demand(Call call, String action, String arn, String key) {
        Optional<StoredObject> object = object(arn, key, call.parameter("versionId"));
        Map<String, ContextValue> tags = new TreeMap<>();
        object.map(StoredObject::tags)
                .ifPresent(known ->
                        known.forEach((name, value) -> tags.put("s3:ExistingObjectTag/" + name, Known.of(value))));
        Predicate<String> unknown =
                object.filter(each -> each.tags() == null).isPresent() ? Evaluator::isTag : name -> false;
        gatekeeper.demand(call, action, arn + "/" + key, tags, unknown);
    }

    private Optional<StoredObject> object(String arn, String key, Optional<String> version) {
        return version.isPresent()
                ? state.objects().version(arn, key, version.get())
                : state.objects().current(arn, key);
    }

    /** Returns the object that a call is about, or says that it is missing: to those who may list, and to others that they may not. */
    StoredObject there(Call call, String arn, String key) {
        Optional<String> version = call.parameter("versionId");
        Optional<StoredObject> found = object(arn, key, version);
        if (found.filter(each -> !each.isMarker()).isPresent()) {
            return found.get();
        }
        if (!state.objects().has(arn)) {
            throw new Refusal(501, "NotImplemented", "What the bucket holds was not read");
        }
        if (found.isPresent()) {
            throw new Refusal(405, "MethodNotAllowed", "The specified method is not allowed against this resource.");
        }
        String action = version.isPresent() ? "s3:ListBucketVersions" : "s3:ListBucket";
        if (!gatekeeper.wouldAllow(call, action, arn, Map.of())) {
            throw new Refusal(403, "AccessDenied", "Access Denied");
        }
        throw version.isPresent()
                ? new Refusal(404, "NoSuchVersion", "The specified version does not exist.")
                : new Refusal(404, "NoSuchKey", "The specified key does not exist.");
    }

    private static String versioned(Call call, String action) {
        return call.has("versionId") ? action.replaceFirst("Object", "ObjectVersion") : action;
    }

    private Reply accessList(Call call, String arn, String key) {
        call.needs().operation("GetObjectAcl");
        demand(call, versioned(call, "s3:GetObjectAcl"), arn, key);
        there(call, arn, key);
        JsonPart list = state.line("object-acl", arn + "/" + key).isPresent()
                ? StorageApi.document(state, "object-acl", arn + "/" + key)
                : ownersOnly(arn);
        return StorageXml.reply(
                "AccessControlPolicy", xml -> xml.spelled(WireSpelling.xml(GetObjectAclResponse.builder(), list)));
    }

    /** Where lists are not in force, an object's says that its owner may do everything. */
    private JsonPart ownersOnly(String arn) {
        JsonPart bucket = StorageApi.document(state, "bucket-acl", arn);
        Optional<String> owner = bucket.text("Owner", "ID");
        if (owner.isEmpty()) {
            return bucket;
        }
        Map<String, Object> grantee = Json.object("ID", owner.get(), "Type", "CanonicalUser");
        return JsonReader.read(Json.text(Json.object(
                        "Owner",
                        Json.object("ID", owner.get()),
                        "Grants",
                        List.of(Json.object("Grantee", grantee, "Permission", "FULL_CONTROL")))))
                .root()
                .orElseThrow();
    }

    private Reply tags(Call call, String arn, String key) {
        call.needs().operation("GetObjectTagging");
        demand(call, versioned(call, "s3:GetObjectTagging"), arn, key);
        StoredObject object = there(call, arn, key);
        Map<String, String> tags = object.tags();
        if (tags == null) {
            throw new Refusal(501, "NotImplemented", "The survey does not tell the tags of this object");
        }
        return StorageXml.reply(
                "Tagging",
                xml -> xml.element("TagSet", set -> new TreeMap<>(tags)
                        .forEach((name, value) ->
                                set.element("Tag", tag -> tag.text("Key", name).text("Value", value)))));
    }

    private Reply attributes(Call call, String arn, String key) {
        call.needs().operation("GetObjectAttributes");
        demand(call, versioned(call, "s3:GetObject"), arn, key);
        demand(call, versioned(call, "s3:GetObjectAttributes"), arn, key);
        StoredObject object = there(call, arn, key);
        Set<String> asked = Set.of(call.header("x-amz-object-attributes")
                .filter(names -> !names.isBlank())
                .orElseThrow(() -> new Refusal(400, "InvalidArgument", "Object attributes are missing"))
                .toLowerCase(Locale.ROOT)
                .split("\\s*,\\s*"));
        Reply reply = StorageXml.reply("GetObjectAttributesResponse", xml -> {
            if (asked.contains("etag")) {
                object.tag().ifPresent(tag -> xml.text("ETag", tag.replace("\"", "")));
            }
            if (asked.contains("objectparts") && !object.parts().isEmpty()) {
                xml.element(
                        "ObjectParts",
                        parts -> parts.text("PartsCount", object.parts().size()));
            }
            if (asked.contains("storageclass")) {
                xml.text("StorageClass", object.entry().text("StorageClass").orElse("STANDARD"));
            }
            if (asked.contains("objectsize")) {
                xml.text("ObjectSize", object.size());
            }
        });
        Map<String, String> headers = headers(object);
        Optional.ofNullable(headers.get("Last-Modified"))
                .ifPresent(at -> reply.headers().put("Last-Modified", at));
        return reply;
    }

    private Reply fetch(Call call, String arn, String key) {
        call.needs().operation(call.method().equals("HEAD") ? "HeadObject" : "GetObject");
        demand(call, versioned(call, "s3:GetObject"), arn, key);
        StoredObject object = there(call, arn, key);
        Map<String, String> headers = headers(object);
        if (call.header("x-amz-checksum-mode")
                .filter("ENABLED"::equalsIgnoreCase)
                .isEmpty()) {
            headers.keySet().removeIf(name -> name.startsWith("x-amz-checksum-"));
        }
        OVERRIDES.forEach((parameter, header) -> call.parameter(parameter).ifPresent(value -> {
            if (call.service().isEmpty()) {
                throw new Refusal(
                        400,
                        "InvalidRequest",
                        "Request specific response headers cannot be used for anonymous GET requests.");
            }
            headers.put(header, value);
        }));
        Reply whole = new Reply(200, headers, state.objects().content(arn, object));
        return call.parameter("partNumber")
                .map(number -> part(whole, object, number))
                .orElseGet(() -> Preconditions.applied(whole, call.headers()));
    }

    private static Reply part(Reply whole, StoredObject object, String number) {
        List<Long> parts = object.parts().isEmpty() ? List.of(object.size()) : object.parts();
        int asked = number.matches("[0-9]{1,5}") ? Integer.parseInt(number) : 0;
        if (asked < 1 || asked > parts.size()) {
            throw new Refusal(416, "InvalidPartNumber", "The requested partnumber is not satisfiable");
        }
        long from =
                parts.subList(0, asked - 1).stream().mapToLong(Long::longValue).sum();
        if (!object.parts().isEmpty()) {
            whole.headers().put("x-amz-mp-parts-count", Integer.toString(parts.size()));
        }
        return object.size() == 0 ? whole : Preconditions.slice(whole, from, from + parts.get(asked - 1) - 1);
    }

    /** Returns what heads the answer that tells of an object. */
    static Map<String, String> headers(StoredObject object) {
        Map<String, String> headers = new LinkedHashMap<>();
        headers.put("Content-Type", "binary/octet-stream");
        JsonPart head = object.head();
        if (head != null) {
            WireSpelling.headers(HeadObjectResponse.builder(), head, headers);
        }
        object.tag().ifPresent(tag -> headers.putIfAbsent("ETag", tag));
        object.modified().ifPresent(time -> headers.putIfAbsent("Last-Modified", WireSpelling.inHeaders(time)));
        headers.remove("Content-Length");
        headers.put("Accept-Ranges", "bytes");
        if (!object.version().equals(StoredObject.ONLY)) {
            headers.put("x-amz-version-id", object.version());
        }
        Map<String, String> tags = object.tags();
        if (tags != null && !tags.isEmpty()) {
            headers.put("x-amz-tagging-count", Integer.toString(tags.size()));
        }
        return headers;
    }
}
