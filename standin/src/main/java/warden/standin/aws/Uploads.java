package warden.standin.aws;

import java.io.ByteArrayOutputStream;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import software.amazon.awssdk.services.s3.model.CompletedMultipartUpload;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.standin.Content;
import warden.standin.Refusal;
import warden.standin.Reply;

/**
 * Uploads in parts. Source: S3 User Guide, "Uploading and copying objects using multipart upload in Amazon S3" and its limits; S3 API Reference,
 * CreateMultipartUpload, UploadPart, UploadPartCopy, CompleteMultipartUpload, AbortMultipartUpload, ListParts, ListMultipartUploads.
 */
final class Uploads {
    /** An upload that nobody ends keeps its parts. */
    private static final Duration LONGEST = Duration.ofHours(24);

    private static final int MOST_PARTS = 10_000;
    private static final long SMALLEST_PART = 5L * 1024 * 1024;
    private static final int MOST_LISTED = 1_000;
    private static final Pattern RANGE = Pattern.compile("bytes=([0-9]{1,18})-([0-9]{1,18})");

    /** A part as it came. */
    private record Part(Content content, String tag, byte[] digest, Instant at) {}

    /** An upload that is under way. */
    private record Upload(
            String id,
            String bucketArn,
            String key,
            Map<String, String> headers,
            String accessList,
            TreeMap<Integer, Part> parts,
            Instant begun) {}

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final ObjectWrites writes;
    private final Clock clock;
    private final Map<String, Upload> uploads = new ConcurrentHashMap<>();
    private final AtomicLong number = new AtomicLong();

    Uploads(CloudState state, Gatekeeper gatekeeper, ObjectWrites writes, Clock clock) {
        this.state = state;
        this.gatekeeper = gatekeeper;
        this.writes = writes;
        this.clock = clock;
    }

    Reply begin(Call call, String arn, String key) {
        call.needs().operation("CreateMultipartUpload");
        String list = writes.demandPut(call, arn, key);
        String id = "upload-" + number.incrementAndGet();
        Instant now = clock.instant();
        uploads.values().removeIf(old -> old.begun().plus(LONGEST).isBefore(now));
        uploads.put(id, new Upload(id, arn, key, call.headers(), list, new TreeMap<>(), now));
        return StorageXml.reply("InitiateMultipartUploadResult", xml -> xml.text("Bucket", CloudState.nameOf(arn))
                .text("Key", key)
                .text("UploadId", id));
    }

    private Upload upload(Call call, String arn, String key) {
        Upload upload = uploads.get(call.query().getOrDefault("uploadId", ""));
        if (upload == null
                || upload.begun().plus(LONGEST).isBefore(clock.instant())
                || !upload.bucketArn().equals(arn)
                || !upload.key().equals(key)) {
            throw new Refusal(404, "NoSuchUpload", "The specified upload does not exist.");
        }
        return upload;
    }

    Reply part(Call call, String arn, String key) {
        boolean copies = call.headers().containsKey("x-amz-copy-source");
        call.needs().operation(copies ? "UploadPartCopy" : "UploadPart");
        gatekeeper.demand(call, "s3:PutObject", arn + "/" + key);
        Upload upload = upload(call, arn, key);
        String asked = call.query().getOrDefault("partNumber", "");
        int at = asked.matches("[0-9]{1,5}") ? Integer.parseInt(asked) : 0;
        if (at < 1 || at > MOST_PARTS) {
            throw new Refusal(400, "InvalidArgument", "Part number must be an integer between 1 and 10000, inclusive");
        }
        Map<String, String> checksums = copies ? Map.of() : Checksums.demandRight(call);
        Content content = copies ? copied(call) : state.objects().keep(call.body());
        byte[] digest = Digests.of("MD5", copies ? content.bytes() : call.body());
        String tag = "\"" + HexFormat.of().formatHex(digest) + "\"";
        synchronized (upload.parts()) {
            upload.parts()
                    .put(at, new Part(content, tag, digest, clock.instant().truncatedTo(ChronoUnit.SECONDS)));
        }
        if (copies) {
            return StorageXml.reply("CopyPartResult", xml -> xml.text(
                            "LastModified", clock.instant().truncatedTo(ChronoUnit.SECONDS))
                    .text("ETag", tag));
        }
        Reply reply = Reply.empty(200);
        reply.headers().put("ETag", tag);
        reply.headers().putAll(checksums);
        return reply;
    }

    private Content copied(Call call) {
        Content whole = writes.source(call).content();
        Optional<String> asked = call.header("x-amz-copy-source-range");
        if (asked.isEmpty()) {
            return state.objects().joined(List.of(whole));
        }
        Matcher range = RANGE.matcher(asked.get());
        if (!range.matches()) {
            throw new Refusal(
                    400,
                    "InvalidArgument",
                    "The x-amz-copy-source-range value must be of the form bytes=first-last where first and last are"
                            + " the zero-based offsets of the first and last bytes to copy");
        }
        long from = Long.parseLong(range.group(1));
        long to = Long.parseLong(range.group(2));
        if (from > to || to >= whole.size()) {
            throw new Refusal(
                    400, "InvalidArgument", "Range specified is not valid for source object of size: " + whole.size());
        }
        return state.objects().joined(List.of(whole.part(from, to - from + 1)));
    }

    Reply complete(Call call, String arn, String key) {
        call.needs().operation("CompleteMultipartUpload");
        gatekeeper.demand(call, "s3:PutObject", arn + "/" + key);
        Upload upload = upload(call, arn, key);
        List<Part> parts = named(call, upload);
        Preconditions.demandForWriting(call, state.objects().current(arn, key));
        ByteArrayOutputStream digests = new ByteArrayOutputStream();
        parts.forEach(part -> digests.writeBytes(part.digest()));
        // The tag of an upload in parts is a digest of their digests, with their number.
        String tag =
                "\"" + HexFormat.of().formatHex(Digests.of("MD5", digests.toByteArray())) + "-" + parts.size() + "\"";
        Content whole = state.objects().joined(parts.stream().map(Part::content).toList());
        uploads.remove(upload.id());
        StoredObject stored = writes.store(
                arn,
                key,
                upload.headers(),
                whole,
                tag,
                parts.stream().map(part -> part.content().size()).toList(),
                upload.accessList());
        discard(upload.parts().values());
        Reply reply = StorageXml.reply(
                "CompleteMultipartUploadResult", xml -> xml.text("Location", "/" + CloudState.nameOf(arn) + "/" + key)
                        .text("Bucket", CloudState.nameOf(arn))
                        .text("Key", key)
                        .text("ETag", tag));
        if (!stored.version().equals(StoredObject.ONLY)) {
            reply.headers().put("x-amz-version-id", stored.version());
        }
        return reply;
    }

    /** Returns the parts that a request names, which it has to name rightly and in their order. */
    private static List<Part> named(Call call, Upload upload) {
        JsonPart asked = JsonReader.read(WireReading.json(CompletedMultipartUpload.builder(), call.body()))
                .root()
                .orElseThrow();
        List<Part> parts = new ArrayList<>();
        int last = 0;
        for (JsonPart each : asked.list("Parts")) {
            String number = each.text("PartNumber").orElse("");
            int at = number.matches("[0-9]{1,5}") ? Integer.parseInt(number) : 0;
            if (at <= last) {
                throw new Refusal(400, "InvalidPartOrder", "The list of parts was not in ascending order.");
            }
            last = at;
            Part part;
            synchronized (upload.parts()) {
                part = upload.parts().get(at);
            }
            String tag = each.text("ETag").orElse("").replace("\"", "");
            if (part == null || !part.tag().replace("\"", "").equals(tag)) {
                throw new Refusal(
                        400,
                        "InvalidPart",
                        "One or more of the specified parts could not be found. The part may not have been uploaded, or"
                                + " the specified entity tag may not match the part's entity tag.");
            }
            if (!parts.isEmpty() && parts.get(parts.size() - 1).content().size() < SMALLEST_PART) {
                throw new Refusal(
                        400, "EntityTooSmall", "Your proposed upload is smaller than the minimum allowed size");
            }
            parts.add(part);
        }
        if (parts.isEmpty()) {
            throw new Refusal(400, "MalformedXML", "The XML you provided was not well-formed or did not validate");
        }
        return parts;
    }

    private void discard(Collection<Part> parts) {
        parts.forEach(part -> state.objects().discard(part.content()));
    }

    Reply abort(Call call, String arn, String key) {
        call.needs().operation("AbortMultipartUpload");
        gatekeeper.demand(call, "s3:AbortMultipartUpload", arn + "/" + key);
        Upload upload = upload(call, arn, key);
        uploads.remove(upload.id());
        discard(upload.parts().values());
        return Reply.empty(204);
    }

    Reply parts(Call call, String arn, String key) {
        call.needs().operation("ListParts");
        gatekeeper.demand(call, "s3:ListMultipartUploadParts", arn + "/" + key);
        Upload upload = upload(call, arn, key);
        int most = call.parameter("max-parts")
                .filter(text -> text.matches("[0-9]{1,4}"))
                .map(text -> Math.min(MOST_LISTED, Integer.parseInt(text)))
                .orElse(MOST_LISTED);
        int after = call.parameter("part-number-marker")
                .filter(text -> text.matches("[0-9]{1,5}"))
                .map(Integer::parseInt)
                .orElse(0);
        Map<Integer, Part> all;
        synchronized (upload.parts()) {
            all = new LinkedHashMap<>(upload.parts().tailMap(after, false));
        }
        List<Map.Entry<Integer, Part>> page =
                all.entrySet().stream().limit(most).toList();
        boolean goesOn = page.size() < all.size();
        return StorageXml.reply("ListPartsResult", xml -> {
            xml.text("Bucket", CloudState.nameOf(arn)).text("Key", key).text("UploadId", upload.id());
            xml.text("PartNumberMarker", after).text("MaxParts", most).text("IsTruncated", goesOn);
            if (goesOn && !page.isEmpty()) {
                xml.text("NextPartNumberMarker", page.get(page.size() - 1).getKey());
            }
            page.forEach(entry -> xml.element("Part", part -> part.text("PartNumber", entry.getKey())
                    .text("LastModified", entry.getValue().at())
                    .text("ETag", entry.getValue().tag())
                    .text("Size", entry.getValue().content().size())));
            xml.text("StorageClass", upload.headers().getOrDefault("x-amz-storage-class", "STANDARD"));
        });
    }

    Reply list(Call call, String arn) {
        call.needs().operation("ListMultipartUploads");
        gatekeeper.demand(call, "s3:ListBucketMultipartUploads", arn);
        String prefix = call.parameter("prefix").orElse("");
        if (call.has("delimiter") || call.has("key-marker")) {
            throw new Refusal(
                    501, "NotImplemented", "Pages and folders of uploads are not part of the simulated account");
        }
        List<Upload> all = uploads.values().stream()
                .filter(upload -> upload.bucketArn().equals(arn) && upload.key().startsWith(prefix))
                .sorted(java.util.Comparator.comparing(Upload::key).thenComparing(Upload::begun))
                .toList();
        return StorageXml.reply("ListMultipartUploadsResult", xml -> {
            xml.text("Bucket", CloudState.nameOf(arn)).text("KeyMarker", "").text("UploadIdMarker", "");
            xml.text("Prefix", prefix).text("MaxUploads", MOST_LISTED).text("IsTruncated", false);
            all.forEach(upload -> xml.element("Upload", each -> each.text("Key", upload.key())
                    .text("UploadId", upload.id())
                    .text("StorageClass", upload.headers().getOrDefault("x-amz-storage-class", "STANDARD"))
                    .text("Initiated", upload.begun().truncatedTo(ChronoUnit.SECONDS))));
        });
    }
}
