package warden.standin.aws;

import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import software.amazon.awssdk.services.s3.model.Delete;
import software.amazon.awssdk.services.s3.model.Tagging;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.storage.Bucket;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.survey.Reading;
import warden.standin.Content;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.UrlText;
import warden.standin.XmlText;

/**
 * Puts, copies, tags and deletes objects, and keeps their versions where the bucket does.
 *
 * <p>Source: S3 API Reference, PutObject, CopyObject, PutObjectAcl, PutObjectTagging, DeleteObject, DeleteObjects; S3 User Guide, "Required permissions
 * for Amazon S3 API operations" and "Deleting object versions from a versioning-enabled bucket".
 */
final class ObjectWrites {
    /** Headers that are kept with an object, and the members that say them of it. */
    private static final Map<String, String> KEPT = new TreeMap<>(Map.of(
            "cache-control", "CacheControl",
            "content-disposition", "ContentDisposition",
            "content-encoding", "ContentEncoding",
            "content-language", "ContentLanguage",
            "expires", "Expires",
            "x-amz-website-redirect-location", "WebsiteRedirectLocation",
            "x-amz-server-side-encryption-aws-kms-key-id", "SSEKMSKeyId",
            "x-amz-checksum-crc32", "ChecksumCRC32",
            "x-amz-checksum-crc32c", "ChecksumCRC32C",
            "x-amz-checksum-sha256", "ChecksumSHA256"));

    private static final List<String> LOCKS = List.of(
            "x-amz-object-lock-mode",
            "x-amz-object-lock-retain-until-date",
            "x-amz-object-lock-legal-hold",
            "x-amz-bypass-governance-retention",
            "x-amz-server-side-encryption-customer-algorithm");

    private static final int MOST_DELETED = 1_000;

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final ObjectReads reads;
    private final AccessListWrites accessLists;
    private final Clock clock;

    ObjectWrites(CloudState state, Gatekeeper gatekeeper, ObjectReads reads, Clock clock) {
        this.state = state;
        this.gatekeeper = gatekeeper;
        this.reads = reads;
        this.accessLists = new AccessListWrites(state);
        this.clock = clock;
    }

    /** Demands what an upload takes: to put the object, and what is set with it. Returns the access list that it gets. */
    String demandPut(Call call, String arn, String key) {
        LOCKS.stream().filter(call.headers()::containsKey).findFirst().ifPresent(name -> {
            throw new Refusal(501, "NotImplemented", name + " is not part of the simulated account");
        });
        String resource = arn + "/" + key;
        gatekeeper.demand(call, "s3:PutObject", resource);
        if (AccessListWrites.isSet(call)) {
            gatekeeper.demand(call, "s3:PutObjectAcl", resource);
        }
        if (call.headers().containsKey("x-amz-tagging")) {
            gatekeeper.demand(call, "s3:PutObjectTagging", resource);
        }
        call.header("x-amz-server-side-encryption-aws-kms-key-id").ifPresent(id -> {
            if (!id.startsWith("arn:")) {
                throw new Refusal(
                        501,
                        "NotImplemented",
                        "Keys that are not named by an ARN are not part of the simulated account");
            }
            gatekeeper.demand(call, "kms:GenerateDataKey", id);
        });
        return accessLists.ofObject(call, arn);
    }

    Reply put(Call call, String arn, String key) {
        if (call.has("acl")) {
            return putAccessList(call, arn, key);
        }
        if (call.has("tagging")) {
            return putTags(call, arn, key, tags(call));
        }
        if (call.headers().containsKey("x-amz-copy-source")) {
            return copy(call, arn, key);
        }
        call.needs().operation("PutObject");
        String list = demandPut(call, arn, key);
        Map<String, String> checksums = Checksums.demandRight(call);
        Preconditions.demandForWriting(call, state.objects().current(arn, key));
        Map<String, String> headers = new LinkedHashMap<>(call.headers());
        headers.putAll(checksums);
        StoredObject stored =
                store(arn, key, headers, state.objects().keep(call.body()), Digests.tag(call.body()), List.of(), list);
        Reply reply = Reply.empty(200);
        reply.headers().put("ETag", stored.tag().orElse(""));
        reply.headers().put("x-amz-server-side-encryption", encryption(headers));
        reply.headers().putAll(checksums);
        version(reply, stored);
        return reply;
    }

    private static void version(Reply reply, StoredObject stored) {
        if (!stored.version().equals(StoredObject.ONLY)) {
            reply.headers().put("x-amz-version-id", stored.version());
        }
    }

    private static String encryption(Map<String, String> headers) {
        return headers.getOrDefault("x-amz-server-side-encryption", "AES256");
    }

    private boolean keepsVersions(String arn) {
        Reading<String> versioning = state.bucket(arn).versioning();
        return versioning.found().filter("Enabled"::equals).isPresent();
    }

    /** Stores what was uploaded, as a new version where the bucket keeps them. */
    StoredObject store(
            String arn,
            String key,
            Map<String, String> headers,
            Content content,
            String tag,
            List<Long> parts,
            String accessList) {
        Instant now = clock.instant().truncatedTo(ChronoUnit.SECONDS);
        String time = now.toString().replace("Z", "+00:00");
        String version = keepsVersions(arn) ? state.objects().newVersion() : StoredObject.ONLY;
        String storageClass = headers.getOrDefault("x-amz-storage-class", "STANDARD");
        Map<String, Object> entry = Json.object(
                "Key", key, "LastModified", time, "ETag", tag, "Size", content.size(), "StorageClass", storageClass);
        Map<String, Object> head = Json.object(
                "LastModified",
                time,
                "ContentLength",
                content.size(),
                "ETag",
                tag,
                "ServerSideEncryption",
                encryption(headers),
                "ContentType",
                headers.getOrDefault("content-type", "binary/octet-stream"));
        KEPT.forEach((header, member) -> {
            String value = headers.getOrDefault(header, "").replaceAll("(^|, *)aws-chunked(,|$)", "");
            if (!value.isEmpty()) {
                head.put(member, value);
            }
        });
        if (!version.equals(StoredObject.ONLY)) {
            head.put("VersionId", version);
        }
        Map<String, Object> metadata = new LinkedHashMap<>();
        headers.forEach((name, value) -> {
            if (name.startsWith("x-amz-meta-")) {
                metadata.put(name.substring("x-amz-meta-".length()), value);
            }
        });
        head.put("Metadata", metadata);
        StoredObject stored = new StoredObject(
                key,
                part(entry),
                part(head),
                content,
                version,
                false,
                Map.copyOf(UrlText.form(headers.getOrDefault("x-amz-tagging", ""))),
                parts);
        state.objects().put(arn, stored);
        state.stored(arn, key, accessList);
        return stored;
    }

    private static JsonPart part(Map<String, Object> members) {
        return JsonReader.read(Json.text(members)).root().orElseThrow();
    }

    // ---- copies

    /** What a request copies. */
    record Source(String arn, StoredObject object, Content content) {}

    /** Finds what is to be copied, for those who may read it and as it has to be. */
    Source source(Call call) {
        String[] told = UrlText.unescaped(call.header("x-amz-copy-source").orElse(""))
                .replaceFirst("^/", "")
                .split("\\?versionId=", 2);
        int slash = told[0].indexOf('/');
        if (slash <= 0) {
            throw new Refusal(
                    400,
                    "InvalidArgument",
                    "Copy Source must mention the source bucket and key: sourcebucket/sourcekey");
        }
        String arn = Bucket.arnOf(told[0].substring(0, slash));
        String key = told[0].substring(slash + 1);
        Optional<String> version = told.length > 1 ? Optional.of(told[1]) : Optional.empty();
        if (!state.hasBucket(arn)) {
            throw new Refusal(404, "NoSuchBucket", "The specified bucket does not exist");
        }
        reads.demand(call, version.isPresent() ? "s3:GetObjectVersion" : "s3:GetObject", arn, key);
        StoredObject object = (version.isPresent()
                        ? state.objects().version(arn, key, version.get())
                        : state.objects().current(arn, key))
                .orElseThrow(() -> gatekeeper.wouldAllow(call, "s3:ListBucket", arn, Map.of())
                        ? new Refusal(404, "NoSuchKey", "The specified key does not exist.")
                        : new Refusal(403, "AccessDenied", "Access Denied"));
        Preconditions.demandForCopying(call, Preconditions.Stand.of(ObjectReads.headers(object)));
        return new Source(arn, object, state.objects().content(arn, object));
    }

    private Reply copy(Call call, String arn, String key) {
        call.needs().operation("CopyObject");
        Source from = source(call);
        String list = demandPut(call, arn, key);
        boolean replaces = isReplacing(call, "x-amz-metadata-directive");
        boolean isItself = from.arn().equals(arn) && from.object().key().equals(key);
        boolean changesNothing = !replaces
                && !call.headers().containsKey("x-amz-storage-class")
                && !call.headers().containsKey("x-amz-server-side-encryption")
                && !call.headers().containsKey("x-amz-website-redirect-location");
        if (isItself
                && changesNothing
                && !call.header("x-amz-copy-source").orElse("").contains("versionId=")) {
            throw new Refusal(
                    400,
                    "InvalidRequest",
                    "This copy request is illegal because it is trying to copy an object to itself without changing"
                            + " the object's metadata, storage class, website redirect location or encryption"
                            + " attributes.");
        }
        Map<String, String> headers = new LinkedHashMap<>();
        if (!replaces) {
            ObjectReads.headers(from.object())
                    .forEach((name, value) -> headers.put(name.toLowerCase(Locale.ROOT), value));
            // What a copy does not take along.
            headers.remove("x-amz-website-redirect-location");
            headers.remove("x-amz-storage-class");
        }
        call.headers().forEach((name, value) -> {
            boolean isOfCopy = name.startsWith("x-amz-") && !name.startsWith("x-amz-meta-");
            if (replaces || isOfCopy) {
                headers.put(name, value);
            }
        });
        headers.remove("x-amz-tagging");
        Map<String, String> tags = isReplacing(call, "x-amz-tagging-directive")
                ? UrlText.form(call.header("x-amz-tagging").orElse(""))
                : copiedTags(call, from, arn, key);
        byte[] digested =
                from.content().size() <= Integer.MAX_VALUE - 8 ? from.content().bytes() : new byte[0];
        StoredObject stored = store(
                arn,
                key,
                headers,
                state.objects().joined(List.of(from.content())),
                Digests.tag(digested),
                List.of(),
                list);
        if (!tags.isEmpty()) {
            state.objects().replace(arn, stored.tagged(tags));
        }
        Reply reply = StorageXml.reply("CopyObjectResult", xml -> xml.text(
                        "LastModified", clock.instant().truncatedTo(ChronoUnit.SECONDS))
                .text("ETag", stored.tag().orElse("")));
        version(reply, stored);
        return reply;
    }

    private static boolean isReplacing(Call call, String directive) {
        return call.header(directive).filter("REPLACE"::equalsIgnoreCase).isPresent();
    }

    /** Tags go along with a copy, for those who may read them there and set them here. */
    private Map<String, String> copiedTags(Call call, Source from, String arn, String key) {
        Map<String, String> tags = from.object().tags();
        if (tags == null || tags.isEmpty()) {
            return Map.of();
        }
        gatekeeper.demand(
                call, "s3:GetObjectTagging", from.arn() + "/" + from.object().key());
        gatekeeper.demand(call, "s3:PutObjectTagging", arn + "/" + key, RequestKeys.requestTags(tags));
        return tags;
    }

    // ---- settings of objects

    private Reply putAccessList(Call call, String arn, String key) {
        call.needs().operation("PutObjectAcl");
        reads.demand(call, call.has("versionId") ? "s3:PutObjectVersionAcl" : "s3:PutObjectAcl", arn, key);
        reads.there(call, arn, key);
        Checksums.demandRight(call);
        String list = accessLists.ofObject(call, arn);
        if (!list.isEmpty()) {
            state.accessList(arn, key, list);
        }
        return Reply.empty(200);
    }

    private static Map<String, String> tags(Call call) {
        JsonPart tagging = JsonReader.read(WireReading.json(Tagging.builder(), call.body()))
                .root()
                .orElseThrow();
        Map<String, String> tags = new LinkedHashMap<>();
        for (JsonPart tag : tagging.list("TagSet")) {
            tags.put(tag.text("Key").orElse(""), tag.text("Value").orElse(""));
        }
        if (tags.containsKey("") || tags.size() > 10) {
            throw new Refusal(400, "InvalidTag", "An object has at most ten tags, each with a key");
        }
        return tags;
    }

    private Reply putTags(Call call, String arn, String key, Map<String, String> tags) {
        call.needs().operation("PutObjectTagging");
        Checksums.demandRight(call);
        Map<String, ContextValue> told = RequestKeys.requestTags(tags);
        gatekeeper.demand(
                call,
                call.has("versionId") ? "s3:PutObjectVersionTagging" : "s3:PutObjectTagging",
                arn + "/" + key,
                told);
        StoredObject object = reads.there(call, arn, key);
        state.objects().replace(arn, object.tagged(tags));
        return Reply.empty(200);
    }

    // ---- deletions

    Reply delete(Call call, String arn, String key) {
        if (call.has("tagging")) {
            call.needs().operation("DeleteObjectTagging");
            reads.demand(
                    call, call.has("versionId") ? "s3:DeleteObjectVersionTagging" : "s3:DeleteObjectTagging", arn, key);
            StoredObject object = reads.there(call, arn, key);
            state.objects().replace(arn, object.tagged(Map.of()));
            return Reply.empty(204);
        }
        call.needs().operation("DeleteObject");
        Optional<String> version = call.parameter("versionId");
        gatekeeper.demand(call, version.isPresent() ? "s3:DeleteObjectVersion" : "s3:DeleteObject", arn + "/" + key);
        if (call.headers().containsKey("if-match")) {
            Preconditions.demandForWriting(call, state.objects().current(arn, key));
        }
        Deleted deleted = deleted(arn, key, version);
        Reply reply = Reply.empty(204);
        deleted.markerVersion().ifPresent(id -> reply.headers().put("x-amz-version-id", id));
        if (deleted.isMarker()) {
            reply.headers().put("x-amz-delete-marker", "true");
        }
        return reply;
    }

    /**
     * What a deletion did.
     *
     * @param markerVersion the version that was made or removed; absent where versions are not kept
     * @param isMarker true where that is one that says that the object was deleted
     */
    private record Deleted(Optional<String> markerVersion, boolean isMarker) {}

    private Deleted deleted(String arn, String key, Optional<String> version) {
        if (version.isPresent()) {
            Optional<StoredObject> before = state.objects().remove(arn, key, version.get());
            Optional<StoredObject> now = state.objects().current(arn, key);
            if (now.isEmpty()) {
                state.removed(arn, key);
            } else {
                state.touched(arn, key);
            }
            return new Deleted(version, before.filter(StoredObject::isMarker).isPresent());
        }
        if (!keepsVersions(arn)) {
            boolean isSuspended = state.objects()
                    .newest(arn, key)
                    .filter(each -> !each.version().equals(StoredObject.ONLY))
                    .isPresent();
            state.objects().remove(arn, key, StoredObject.ONLY);
            if (isSuspended) {
                state.objects().put(arn, marker(key, StoredObject.ONLY));
            }
            state.removed(arn, key);
            return new Deleted(Optional.empty(), isSuspended);
        }
        StoredObject marker = marker(key, state.objects().newVersion());
        state.objects().put(arn, marker);
        state.removed(arn, key);
        return new Deleted(Optional.of(marker.version()), true);
    }

    private StoredObject marker(String key, String version) {
        String time = clock.instant().truncatedTo(ChronoUnit.SECONDS).toString().replace("Z", "+00:00");
        return new StoredObject(
                key,
                part(Json.object("Key", key, "LastModified", time)),
                null,
                null,
                version,
                true,
                Map.of(),
                List.of());
    }

    Reply deleteMany(Call call, String arn) {
        call.needs().operation("DeleteObjects");
        Checksums.demandRight(call);
        JsonPart asked = JsonReader.read(WireReading.json(Delete.builder(), call.body()))
                .root()
                .orElseThrow();
        List<JsonPart> objects = asked.list("Objects");
        if (objects.isEmpty() || objects.size() > MOST_DELETED) {
            throw new Refusal(400, "MalformedXML", "The XML you provided was not well-formed or did not validate");
        }
        boolean isQuiet = asked.flag("Quiet").orElse(false);
        return StorageXml.reply(
                "DeleteResult",
                xml -> objects.forEach(each -> {
                    String key = each.text("Key").orElse("");
                    Optional<String> version = each.text("VersionId").filter(id -> !id.isEmpty());
                    String action = version.isPresent() ? "s3:DeleteObjectVersion" : "s3:DeleteObject";
                    Map<String, ContextValue> told = version.isPresent()
                            ? Map.of("s3:VersionId", ContextValue.Known.of(version.get()))
                            : Map.of();
                    if (!gatekeeper.allows(call, action, arn + "/" + key, told)) {
                        xml.element("Error", error -> named(error, key, version.orElse(null))
                                .text("Code", "AccessDenied")
                                .text("Message", "Access Denied"));
                        return;
                    }
                    Deleted deleted = deleted(arn, key, version);
                    if (!isQuiet) {
                        xml.element("Deleted", done -> {
                            named(done, key, version.orElse(null));
                            if (deleted.isMarker()) {
                                done.text("DeleteMarker", true);
                                deleted.markerVersion().ifPresent(id -> done.text("DeleteMarkerVersionId", id));
                            }
                        });
                    }
                }));
    }

    private static XmlText named(XmlText xml, String key, @Nullable String version) {
        xml.text("Key", key);
        return version == null ? xml : xml.text("VersionId", version);
    }
}
