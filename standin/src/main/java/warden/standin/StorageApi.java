package warden.standin;

import java.io.ByteArrayOutputStream;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.services.s3.model.GetBucketAclResponse;
import software.amazon.awssdk.services.s3.model.GetBucketCorsResponse;
import software.amazon.awssdk.services.s3.model.GetBucketEncryptionResponse;
import software.amazon.awssdk.services.s3.model.GetBucketLifecycleConfigurationResponse;
import software.amazon.awssdk.services.s3.model.GetBucketLocationResponse;
import software.amazon.awssdk.services.s3.model.GetBucketLoggingResponse;
import software.amazon.awssdk.services.s3.model.GetBucketOwnershipControlsResponse;
import software.amazon.awssdk.services.s3.model.GetBucketRequestPaymentResponse;
import software.amazon.awssdk.services.s3.model.GetBucketVersioningResponse;
import software.amazon.awssdk.services.s3.model.GetBucketWebsiteResponse;
import software.amazon.awssdk.services.s3.model.GetObjectAclResponse;
import software.amazon.awssdk.services.s3.model.GetPublicAccessBlockResponse;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;
import software.amazon.awssdk.services.s3.model.ListBucketsResponse;
import software.amazon.awssdk.services.s3.model.S3Object;
import warden.core.access.Truth;
import warden.core.aws.storage.Bucket;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.survey.SurveyLine;
import warden.standin.CloudState.StoredObject;

/** The storage service's REST protocol. Source: S3 API Reference. */
final class StorageApi {
    private static final String SPACE = " xmlns=\"http://s3.amazonaws.com/doc/2006-03-01/\"";
    private static final int MOST_KEYS = 1_000;

    /** A sub-resource of a bucket that can be read: its parameter, action, aspect, and how the answer is spelled. */
    private record Setting(String parameter, String action, String aspect, String root, SdkPojo model) {}

    private static final List<Setting> SETTINGS = List.of(
            new Setting("location", "s3:GetBucketLocation", "bucket-location", "", GetBucketLocationResponse.builder()),
            new Setting(
                    "publicAccessBlock",
                    "s3:GetBucketPublicAccessBlock",
                    "bucket-public-access",
                    "",
                    GetPublicAccessBlockResponse.builder()),
            new Setting(
                    "ownershipControls",
                    "s3:GetBucketOwnershipControls",
                    "bucket-ownership",
                    "",
                    GetBucketOwnershipControlsResponse.builder()),
            new Setting("acl", "s3:GetBucketAcl", "bucket-acl", "AccessControlPolicy", GetBucketAclResponse.builder()),
            new Setting(
                    "website",
                    "s3:GetBucketWebsite",
                    "bucket-website",
                    "WebsiteConfiguration",
                    GetBucketWebsiteResponse.builder()),
            new Setting(
                    "encryption",
                    "s3:GetEncryptionConfiguration",
                    "bucket-encryption",
                    "",
                    GetBucketEncryptionResponse.builder()),
            new Setting(
                    "versioning",
                    "s3:GetBucketVersioning",
                    "bucket-versioning",
                    "VersioningConfiguration",
                    GetBucketVersioningResponse.builder()),
            new Setting(
                    "lifecycle",
                    "s3:GetLifecycleConfiguration",
                    "bucket-lifecycle",
                    "LifecycleConfiguration",
                    GetBucketLifecycleConfigurationResponse.builder()),
            new Setting(
                    "logging",
                    "s3:GetBucketLogging",
                    "bucket-logging",
                    "BucketLoggingStatus",
                    GetBucketLoggingResponse.builder()),
            new Setting(
                    "cors", "s3:GetBucketCORS", "bucket-cors", "CORSConfiguration", GetBucketCorsResponse.builder()),
            new Setting(
                    "requestPayment",
                    "s3:GetBucketRequestPayment",
                    "bucket-payer",
                    "RequestPaymentConfiguration",
                    GetBucketRequestPaymentResponse.builder()));

    /** An upload in parts that is under way. */
    private record Upload(
            String bucketArn, String key, Map<String, String> headers, TreeMap<Integer, byte[]> parts, Instant begun) {}

    /** An upload that nobody ends keeps its parts in memory. */
    private static final Duration LONGEST_UPLOAD = Duration.ofHours(24);

    private static final int MOST_PARTS = 10_000;

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final BucketWrites writes;
    private final Clock clock;
    private final Map<String, Upload> uploads = new ConcurrentHashMap<>();
    private final AtomicLong uploadNumber = new AtomicLong();

    StorageApi(CloudState state, Gatekeeper gatekeeper, Clock clock) {
        this.state = state;
        this.gatekeeper = gatekeeper;
        this.writes = new BucketWrites(state, gatekeeper);
        this.clock = clock;
    }

    /** Answers a request for {@code bucket} (empty: for the account) and {@code key} (empty: for the bucket). */
    Reply answer(Call call, String bucket, String key) {
        if (bucket.isEmpty()) {
            gatekeeper.demand(call, "s3:ListAllMyBuckets", "*");
            return Reply.xml(
                    200,
                    root(
                            "ListAllMyBucketsResult",
                            WireSpelling.xml(
                                    ListBucketsResponse.builder(),
                                    found("bucket-list", state.header().account()))));
        }
        String arn = Bucket.arnOf(bucket);
        if (!state.hasBucket(arn)) {
            throw new Refusal(404, "NoSuchBucket", "The specified bucket does not exist");
        }
        return key.isEmpty() ? onBucket(call, arn) : onObject(call, arn, key);
    }

    private static String root(String name, String content) {
        return "<" + name + SPACE + ">" + content + "</" + name + ">";
    }

    /** Returns the document that the survey found; what it had as absent or unread is answered so. */
    private JsonPart found(String aspect, String of) {
        return document(state, aspect, of);
    }

    static JsonPart document(CloudState state, String aspect, String of) {
        SurveyLine line = state.line(aspect, of).orElseThrow(() -> new Refusal(403, "AccessDenied", "Access Denied"));
        return switch (line.outcome()) {
            case FOUND -> line.document();
            case ABSENT -> throw new Refusal(404, line.body(), "There is none");
            case UNREAD ->
                throw new Refusal(
                        403, line.obstacle().equals("unread") ? "AccessDenied" : line.obstacle(), "Access Denied");
        };
    }

    private Reply onBucket(Call call, String arn) {
        if (call.method().equals("GET")) {
            for (Setting setting : SETTINGS) {
                if (call.has(setting.parameter())) {
                    return setting(call, arn, setting);
                }
            }
            if (call.has("policy")) {
                gatekeeper.demand(call, "s3:GetBucketPolicy", arn);
                JsonPart policy = found("bucket-policy", arn);
                String text = policy.text("Policy").orElseGet(() -> policy.find("Policy")
                        .map(warden.core.document.JsonSpelling::of)
                        .orElse("{}"));
                return Reply.of(200, "application/json", text);
            }
            if (call.has("policyStatus")) {
                return policyStatus(call, arn);
            }
            demandNoOther(call);
            return list(call, arn);
        }
        if (call.method().equals("HEAD")) {
            demandNoOther(call);
            gatekeeper.demand(call, "s3:ListBucket", arn);
            return region(Reply.empty(200), arn);
        }
        if (call.method().equals("POST") && call.has("delete")) {
            return deleteMany(call, arn);
        }
        return writes.answer(call, arn)
                .orElseThrow(() -> new Refusal(501, "NotImplemented", "This is not part of the simulated account"));
    }

    /** What a parameter makes another call of, which is not simulated; taken for the plain call it would do something else. Source: S3 API Reference. */
    private static final Set<String> OTHER_CALLS = Set.of(
            "accelerate",
            "analytics",
            "annotation",
            "attributes",
            "encryption",
            "intelligent-tiering",
            "inventory",
            "legal-hold",
            "metadataConfiguration",
            "metadataTable",
            "metrics",
            "notification",
            "object-lock",
            "renameObject",
            "replication",
            "restore",
            "retention",
            "select",
            "tagging",
            "torrent",
            "uploads",
            "versionId",
            "versions");

    private static void demandNoOther(Call call) {
        OTHER_CALLS.stream().filter(call::has).sorted().findFirst().ifPresent(parameter -> {
            throw new Refusal(
                    501,
                    "NotImplemented",
                    call.method() + " with " + parameter + " is not part of the simulated account");
        });
    }

    private Reply policyStatus(Call call, String arn) {
        gatekeeper.demand(call, "s3:GetBucketPolicyStatus", arn);
        found("bucket-policy", arn);
        Truth isPublic =
                state.account().bucket(arn.substring(arn.lastIndexOf(':') + 1)).hasPublicPolicy();
        if (isPublic == Truth.UNKNOWN) {
            throw new Refusal(501, "NotImplemented", "Whether this policy is public is not known");
        }
        return Reply.xml(200, root("PolicyStatus", "<IsPublic>" + (isPublic == Truth.TRUE) + "</IsPublic>"));
    }

    private Reply region(Reply reply, String arn) {
        state.account()
                .bucket(arn.substring(arn.lastIndexOf(':') + 1))
                .region()
                .found()
                .ifPresent(region -> reply.headers().put("x-amz-bucket-region", region));
        return reply;
    }

    private Reply setting(Call call, String arn, Setting setting) {
        gatekeeper.demand(call, setting.action(), arn);
        JsonPart document = found(setting.aspect(), arn);
        if (setting.parameter().equals("location")) {
            return Reply.xml(
                    200,
                    root(
                            "LocationConstraint",
                            WireSpelling.escaped(
                                    document.text("LocationConstraint").orElse(""))));
        }
        String body = setting.root().isEmpty()
                ? WireSpelling.xmlPayload(setting.model(), document).orElse("").replaceFirst(">", SPACE + ">")
                : root(setting.root(), WireSpelling.xml(setting.model(), document));
        return Reply.xml(200, body);
    }

    private Reply list(Call call, String arn) {
        gatekeeper.demand(call, "s3:ListBucket", arn);
        SurveyLine line = state.line("bucket-objects", arn).orElse(null);
        if (line != null && line.outcome() == SurveyLine.Outcome.UNREAD) {
            throw new Refusal(403, "AccessDenied", "Access Denied");
        }
        boolean second = "2".equals(call.query().get("list-type"));
        String prefix = call.parameter("prefix").orElse("");
        String delimiter = call.parameter("delimiter").orElse("");
        boolean escapes = "url".equals(call.query().get("encoding-type"));
        int most = Math.min(
                MOST_KEYS,
                call.parameter("max-keys")
                        .filter(text -> text.matches("[0-9]{1,6}"))
                        .map(Integer::parseInt)
                        .orElse(MOST_KEYS));
        String after = second
                ? call.parameter("continuation-token")
                        .map(token -> new String(
                                Base64.getUrlDecoder().decode(token), java.nio.charset.StandardCharsets.UTF_8))
                        .orElse(call.parameter("start-after").orElse(""))
                : call.parameter("marker").orElse("");
        StringBuilder contents = new StringBuilder();
        Set<String> folders = new LinkedHashSet<>();
        String last = "";
        int count = 0;
        boolean truncated = false;
        for (StoredObject object : state.objects(arn, after)) {
            String key = object.key();
            if (!key.startsWith(prefix)) {
                continue;
            }
            int cut = delimiter.isEmpty() ? -1 : key.indexOf(delimiter, prefix.length());
            String folder = cut < 0 ? "" : key.substring(0, cut + delimiter.length());
            if (!folder.isEmpty() && (folders.contains(folder) || after.startsWith(folder))) {
                continue;
            }
            if (count == most) {
                truncated = true;
                break;
            }
            if (folder.isEmpty()) {
                String entry = WireSpelling.xml(S3Object.builder().build(), StoredObject.part(object.entry()));
                String name = "<Key>" + WireSpelling.escaped(key) + "</Key>";
                contents.append("<Contents>")
                        .append(escapes ? entry.replace(name, "<Key>" + escapedKey(key) + "</Key>") : entry)
                        .append("</Contents>");
                last = key;
            } else {
                folders.add(folder);
                last = folder + Character.toString(Character.MAX_CODE_POINT);
            }
            count++;
        }
        StringBuilder out = new StringBuilder("<Name>" + arn.substring(arn.lastIndexOf(':') + 1) + "</Name><Prefix>"
                + shown(prefix, escapes) + "</Prefix>");
        out.append(delimiter.isEmpty() ? "" : "<Delimiter>" + shown(delimiter, escapes) + "</Delimiter>");
        out.append(escapes ? "<EncodingType>url</EncodingType>" : "");
        out.append("<MaxKeys>").append(most).append("</MaxKeys>");
        out.append(second ? "<KeyCount>" + count + "</KeyCount>" : "<Marker>" + shown(after, escapes) + "</Marker>");
        out.append("<IsTruncated>").append(truncated).append("</IsTruncated>");
        if (truncated) {
            String token = Base64.getUrlEncoder()
                    .withoutPadding()
                    .encodeToString(last.getBytes(java.nio.charset.StandardCharsets.UTF_8));
            out.append(
                    second
                            ? "<NextContinuationToken>" + token + "</NextContinuationToken>"
                            : "<NextMarker>" + shown(last, escapes) + "</NextMarker>");
        }
        out.append(contents);
        folders.forEach(folder -> out.append("<CommonPrefixes><Prefix>")
                .append(shown(folder, escapes))
                .append("</Prefix></CommonPrefixes>"));
        return Reply.xml(200, root("ListBucketResult", out.toString()));
    }

    private static String shown(String text, boolean escapes) {
        return escapes ? escapedKey(text) : WireSpelling.escaped(text);
    }

    private static String escapedKey(String key) {
        return java.net.URLEncoder.encode(key, java.nio.charset.StandardCharsets.UTF_8)
                .replace("%2F", "/");
    }

    private Reply deleteMany(Call call, String arn) {
        StringBuilder out = new StringBuilder();
        Matcher keys = Pattern.compile("<Key>(.*?)</Key>", Pattern.DOTALL).matcher(call.text());
        boolean quiet = call.text().contains("<Quiet>true</Quiet>");
        while (keys.find()) {
            String key = unescaped(keys.group(1));
            if (gatekeeper.allows(call, "s3:DeleteObject", arn + "/" + key)) {
                state.remove(arn, key);
                out.append(quiet ? "" : "<Deleted><Key>" + WireSpelling.escaped(key) + "</Key></Deleted>");
            } else {
                out.append("<Error><Key>")
                        .append(WireSpelling.escaped(key))
                        .append("</Key><Code>AccessDenied</Code><Message>Access Denied</Message></Error>");
            }
        }
        return Reply.xml(200, root("DeleteResult", out.toString()));
    }

    private static String unescaped(String text) {
        return text.replace("&lt;", "<")
                .replace("&gt;", ">")
                .replace("&quot;", "\"")
                .replace("&apos;", "'")
                .replace("&#13;", "\r")
                .replace("&amp;", "&");
    }

    private Reply onObject(Call call, String arn, String key) {
        String resource = arn + "/" + key;
        if (!(call.method().equals("POST") && call.has("uploads"))) {
            demandNoOther(call);
        }
        switch (call.method()) {
            case "GET", "HEAD" -> {
                if (call.has("acl")) {
                    gatekeeper.demand(call, "s3:GetObjectAcl", resource);
                    return Reply.xml(
                            200,
                            root(
                                    "AccessControlPolicy",
                                    WireSpelling.xml(GetObjectAclResponse.builder(), objectAcl(arn, key))));
                }
                return fetch(call, arn, key);
            }
            case "PUT" -> {
                if (call.has("acl")) {
                    gatekeeper.demand(call, "s3:PutObjectAcl", resource);
                    demandAclsInForce(arn, call);
                    return Reply.empty(200);
                }
                if (call.has("partNumber")) {
                    return part(call, arn, key);
                }
                return put(call, arn, key);
            }
            case "POST" -> {
                if (call.has("uploads")) {
                    gatekeeper.demand(call, "s3:PutObject", resource);
                    String id = "upload-" + uploadNumber.incrementAndGet();
                    Instant now = clock.instant();
                    uploads.values()
                            .removeIf(old -> old.begun().plus(LONGEST_UPLOAD).isBefore(now));
                    uploads.put(id, new Upload(arn, key, call.headers(), new TreeMap<>(), now));
                    return Reply.xml(
                            200,
                            root(
                                    "InitiateMultipartUploadResult",
                                    "<Bucket>" + arn.substring(arn.lastIndexOf(':') + 1) + "</Bucket><Key>"
                                            + WireSpelling.escaped(key) + "</Key><UploadId>" + id + "</UploadId>"));
                }
                if (call.has("uploadId")) {
                    return complete(call, arn, key);
                }
                throw new Refusal(501, "NotImplemented", "This is not part of the simulated account");
            }
            case "DELETE" -> {
                if (call.has("uploadId")) {
                    gatekeeper.demand(call, "s3:AbortMultipartUpload", resource);
                    uploads.remove(call.query().get("uploadId"));
                    return Reply.empty(204);
                }
                gatekeeper.demand(call, "s3:DeleteObject", resource);
                state.remove(arn, key);
                return Reply.empty(204);
            }
            default ->
                throw new Refusal(
                        405, "MethodNotAllowed", "The specified method is not allowed against this resource.");
        }
    }

    private JsonPart objectAcl(String arn, String key) {
        if (state.object(arn, key).isEmpty()) {
            throw new Refusal(404, "NoSuchKey", "The specified key does not exist.");
        }
        return state.line("object-acl", arn + "/" + key).isPresent()
                ? found("object-acl", arn + "/" + key)
                : found("bucket-acl", arn);
    }

    private Reply fetch(Call call, String arn, String key) {
        String resource = arn + "/" + key;
        gatekeeper.demand(call, "s3:GetObject", resource);
        Optional<StoredObject> object = state.object(arn, key);
        if (object.isEmpty()) {
            // A missing key is 404 to those who may list, 403 to others.
            if (gatekeeper.allows(call, "s3:ListBucket", arn)) {
                throw new Refusal(404, "NoSuchKey", "The specified key does not exist.");
            }
            throw new Refusal(403, "AccessDenied", "Access Denied");
        }
        byte[] content = state.content(arn, object.get());
        Reply whole = new Reply(200, headers(object.get(), content), content);
        Matcher range = Pattern.compile("bytes=([0-9]*)-([0-9]*)")
                .matcher(call.header("range").orElse(""));
        return range.matches() && content.length > 0 ? partOf(whole, range) : whole;
    }

    private static Reply partOf(Reply whole, Matcher range) {
        int length = whole.body().length;
        int from = range.group(1).isEmpty()
                ? Math.max(0, length - Integer.parseInt(range.group(2)))
                : Integer.parseInt(range.group(1));
        int to = range.group(1).isEmpty() || range.group(2).isEmpty()
                ? length - 1
                : Math.min(length - 1, Integer.parseInt(range.group(2)));
        if (from > to) {
            throw new Refusal(416, "InvalidRange", "The requested range is not satisfiable");
        }
        whole.headers().put("Content-Range", "bytes " + from + "-" + to + "/" + length);
        return new Reply(206, whole.headers(), java.util.Arrays.copyOfRange(whole.body(), from, to + 1));
    }

    private static Map<String, String> headers(StoredObject object, byte[] content) {
        Map<String, String> headers = new LinkedHashMap<>();
        JsonPart entry = StoredObject.part(object.entry());
        headers.put("Content-Type", "binary/octet-stream");
        if (object.head() != null) {
            WireSpelling.headers(HeadObjectResponse.builder(), StoredObject.part(object.head()), headers);
        }
        headers.putIfAbsent("ETag", entry.text("ETag").orElse("\"" + CloudState.md5(content) + "\""));
        entry.text("LastModified").ifPresent(time -> {
            Map<String, String> from = new LinkedHashMap<>();
            WireSpelling.headers(
                    HeadObjectResponse.builder(),
                    StoredObject.part(Json.text(Json.object("LastModified", time))),
                    from);
            from.forEach(headers::putIfAbsent);
        });
        headers.remove("Content-Length");
        headers.put("Accept-Ranges", "bytes");
        return headers;
    }

    /** An upload that sets an ACL fails where ACLs are disabled, save the one that gives the owner everything. */
    private void demandAclsInForce(String arn, Call call) {
        Optional<String> acl = call.header("x-amz-acl").filter(name -> !name.equals("bucket-owner-full-control"));
        boolean enforced = state.account()
                .bucket(arn.substring(arn.lastIndexOf(':') + 1))
                .ownership()
                .found()
                .filter(Bucket.Ownership.BUCKET_OWNER_ENFORCED::equals)
                .isPresent();
        boolean blocked = acl.filter(name -> name.startsWith("public") || name.equals("authenticated-read"))
                        .isPresent()
                && state.account()
                        .bucket(arn.substring(arn.lastIndexOf(':') + 1))
                        .publicAccessBlock()
                        .found()
                        .filter(block -> block.blockPublicAcls())
                        .isPresent();
        if (acl.isPresent() && enforced) {
            throw new Refusal(400, "AccessControlListNotSupported", "The bucket does not allow ACLs");
        }
        if (blocked) {
            throw new Refusal(403, "AccessDenied", "Access Denied");
        }
    }

    private Reply put(Call call, String arn, String key) {
        gatekeeper.demand(call, "s3:PutObject", arn + "/" + key);
        if (call.header("x-amz-acl").isPresent()) {
            gatekeeper.demand(call, "s3:PutObjectAcl", arn + "/" + key);
            demandAclsInForce(arn, call);
        }
        Optional<String> source = call.header("x-amz-copy-source");
        if (source.isPresent()) {
            return copy(call, arn, key, source.get());
        }
        Reply reply = Reply.empty(200);
        reply.headers().put("ETag", store(arn, key, call.headers(), call.body()));
        return reply;
    }

    private String store(String arn, String key, Map<String, String> headers, byte[] content) {
        return store(arn, key, headers, content, "\"" + CloudState.md5(content) + "\"");
    }

    private String store(String arn, String key, Map<String, String> headers, byte[] content, String tag) {
        Instant now = clock.instant().truncatedTo(ChronoUnit.SECONDS);
        String time = now.toString().replace("Z", "+00:00");
        String entry = Json.text(Json.object(
                "Key", key, "LastModified", time, "ETag", tag, "Size", content.length, "StorageClass", "STANDARD"));
        Map<String, Object> head = Json.object(
                "LastModified",
                time,
                "ContentLength",
                content.length,
                "ETag",
                tag,
                "ServerSideEncryption",
                "AES256",
                "ContentType",
                headers.getOrDefault("content-type", "binary/octet-stream"));
        Map<String, String> members = Map.of(
                "cache-control", "CacheControl",
                "content-encoding", "ContentEncoding",
                "content-disposition", "ContentDisposition",
                "content-language", "ContentLanguage",
                "x-amz-website-redirect-location", "WebsiteRedirectLocation");
        members.entrySet().stream().sorted(Map.Entry.comparingByKey()).forEach(member -> {
            String value = headers.getOrDefault(member.getKey(), "").replaceAll("(^|, *)aws-chunked(,|$)", "");
            if (!value.isEmpty()) {
                head.put(member.getValue(), value);
            }
        });
        Map<String, Object> metadata = new LinkedHashMap<>();
        headers.forEach((name, value) -> {
            if (name.startsWith("x-amz-meta-")) {
                metadata.put(name.substring("x-amz-meta-".length()), value);
            }
        });
        head.put("Metadata", metadata);
        state.store(arn, new StoredObject(key, entry, Json.text(head), content));
        return tag;
    }

    private Reply copy(Call call, String arn, String key, String source) {
        String path = Call.unescaped(source).replaceFirst("^/", "").replaceFirst("\\?versionId=.*", "");
        int slash = path.indexOf('/');
        if (slash <= 0) {
            throw new Refusal(
                    400,
                    "InvalidArgument",
                    "Copy Source must mention the source bucket and key: sourcebucket/sourcekey");
        }
        String fromArn = Bucket.arnOf(path.substring(0, slash));
        String fromKey = path.substring(slash + 1);
        gatekeeper.demand(call, "s3:GetObject", fromArn + "/" + fromKey);
        StoredObject from = state.object(fromArn, fromKey)
                .orElseThrow(() -> new Refusal(404, "NoSuchKey", "The specified key does not exist."));
        Map<String, String> headers = new LinkedHashMap<>();
        if (call.header("x-amz-metadata-directive")
                .filter("REPLACE"::equalsIgnoreCase)
                .isPresent()) {
            headers.putAll(call.headers());
        } else {
            headers(from, state.content(fromArn, from))
                    .forEach((name, value) -> headers.put(name.toLowerCase(Locale.ROOT), value));
        }
        String tag = store(arn, key, headers, state.content(fromArn, from));
        return Reply.xml(
                200,
                root(
                        "CopyObjectResult",
                        "<LastModified>" + clock.instant().truncatedTo(ChronoUnit.SECONDS) + "</LastModified><ETag>"
                                + WireSpelling.escaped(tag) + "</ETag>"));
    }

    private Upload upload(Call call, String arn, String key) {
        Upload upload = uploads.get(call.query().getOrDefault("uploadId", ""));
        if (upload == null
                || upload.begun().plus(LONGEST_UPLOAD).isBefore(clock.instant())
                || !upload.bucketArn().equals(arn)
                || !upload.key().equals(key)) {
            throw new Refusal(404, "NoSuchUpload", "The specified upload does not exist.");
        }
        return upload;
    }

    private Reply part(Call call, String arn, String key) {
        gatekeeper.demand(call, "s3:PutObject", arn + "/" + key);
        Upload upload = upload(call, arn, key);
        String asked = call.query().get("partNumber");
        int number = asked.matches("[0-9]{1,5}") ? Integer.parseInt(asked) : 0;
        if (number < 1 || number > MOST_PARTS) {
            throw new Refusal(400, "InvalidArgument", "Part number must be an integer between 1 and 10000, inclusive");
        }
        synchronized (upload.parts()) {
            upload.parts().put(number, call.body());
        }
        Reply reply = Reply.empty(200);
        reply.headers().put("ETag", "\"" + CloudState.md5(call.body()) + "\"");
        return reply;
    }

    private Reply complete(Call call, String arn, String key) {
        gatekeeper.demand(call, "s3:PutObject", arn + "/" + key);
        Upload upload = upload(call, arn, key);
        ByteArrayOutputStream whole = new ByteArrayOutputStream();
        ByteArrayOutputStream digests = new ByteArrayOutputStream();
        int count;
        synchronized (upload.parts()) {
            count = upload.parts().size();
            upload.parts().values().forEach(part -> {
                whole.writeBytes(part);
                digests.writeBytes(CloudState.digest("MD5", part));
            });
        }
        uploads.remove(call.query().get("uploadId"));
        // The tag of an upload in parts is a digest of their digests, with their number.
        String tag = "\"" + CloudState.md5(digests.toByteArray()) + "-" + count + "\"";
        store(arn, key, upload.headers(), whole.toByteArray(), tag);
        return Reply.xml(
                200,
                root(
                        "CompleteMultipartUploadResult",
                        "<Location>/" + arn.substring(arn.lastIndexOf(':') + 1) + "/" + WireSpelling.escaped(key)
                                + "</Location><Bucket>" + arn.substring(arn.lastIndexOf(':') + 1) + "</Bucket><Key>"
                                + WireSpelling.escaped(key) + "</Key><ETag>"
                                + WireSpelling.escaped(tag) + "</ETag>"));
    }
}
