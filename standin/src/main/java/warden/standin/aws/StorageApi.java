package warden.standin.aws;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.Set;
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
import software.amazon.awssdk.services.s3.model.GetPublicAccessBlockResponse;
import software.amazon.awssdk.services.s3.model.ListBucketsResponse;
import warden.core.access.Truth;
import warden.core.aws.storage.Bucket;
import warden.core.document.JsonPart;
import warden.core.survey.SurveyLine;
import warden.standin.Refusal;
import warden.standin.Reply;

/** The storage service's REST protocol. Source: S3 API Reference. */
final class StorageApi {
    /** A sub-resource of a bucket that can be read: its parameter, action, aspect, and how the answer is spelled. */
    private record Setting(String parameter, String action, String aspect, String root, SdkPojo model) {
        /** Returns the operation's name, which is that of its answer. */
        String operation() {
            return model.getClass().getEnclosingClass().getSimpleName().replaceFirst("Response$", "");
        }
    }

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

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final BucketWrites writes;
    private final Listings listings;
    private final ObjectReads reads;
    private final ObjectWrites objects;
    private final Uploads uploads;

    StorageApi(CloudState state, Gatekeeper gatekeeper, Clock clock) {
        this.state = state;
        this.gatekeeper = gatekeeper;
        this.writes = new BucketWrites(state, gatekeeper);
        this.listings = new Listings(state, gatekeeper);
        this.reads = new ObjectReads(state, gatekeeper);
        this.objects = new ObjectWrites(state, gatekeeper, reads, clock);
        this.uploads = new Uploads(state, gatekeeper, objects, clock);
    }

    /** Answers a request for {@code bucket} (empty: for the account) and {@code key} (empty: for the bucket). */
    Reply answer(Call call, String bucket, String key) {
        if (bucket.isEmpty()) {
            if (!call.method().equals("GET")) {
                throw notSimulated(call, "");
            }
            call.needs().operation("ListBuckets");
            gatekeeper.demand(call, "s3:ListAllMyBuckets", "*");
            JsonPart list = found("bucket-list", state.header().account());
            return StorageXml.reply(
                    "ListAllMyBucketsResult",
                    xml -> xml.spelled(WireSpelling.xml(ListBucketsResponse.builder(), list)));
        }
        String arn = Bucket.arnOf(bucket);
        if (!state.hasBucket(arn)) {
            throw call.method().equals("PUT") && key.isEmpty() && call.query().isEmpty()
                    ? notSimulated(call, "")
                    : new Refusal(404, "NoSuchBucket", "The specified bucket does not exist");
        }
        demandRegion(call, arn);
        return key.isEmpty() ? onBucket(call, arn) : onObject(call, arn, key);
    }

    /** A bucket is asked in its region; where it is, anybody may ask. Source: S3 User Guide, "Making requests", section "Request redirection". */
    private void demandRegion(Call call, String arn) {
        Optional<String> region = state.bucket(arn).region().found();
        boolean isElsewhere = !call.region().isEmpty()
                && !call.has("location")
                && region.filter(own -> !own.equals(call.region())).isPresent();
        if (isElsewhere) {
            throw new Refusal(
                            301,
                            "PermanentRedirect",
                            "The bucket you are attempting to access must be addressed using the specified endpoint.")
                    .with("x-amz-bucket-region", region.get());
        }
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
                return policy(call, arn);
            }
            if (call.has("policyStatus")) {
                return policyStatus(call, arn);
            }
            if (call.has("versions")) {
                return listings.versions(call, arn);
            }
            if (call.has("uploads")) {
                return uploads.list(call, arn);
            }
            demandOnly(call, LISTING);
            return listings.objects(call, arn);
        }
        if (call.method().equals("HEAD")) {
            demandOnly(call, Set.of());
            call.needs().operation("HeadBucket");
            gatekeeper.demand(call, "s3:ListBucket", arn);
            return region(Reply.empty(200), arn);
        }
        if (call.method().equals("POST") && call.has("delete")) {
            demandOnly(call, Set.of("delete"));
            return objects.deleteMany(call, arn);
        }
        return writes.answer(call, arn).orElseThrow(() -> notSimulated(call, ""));
    }

    private static final Set<String> LISTING = Set.of(
            "list-type",
            "prefix",
            "delimiter",
            "max-keys",
            "marker",
            "start-after",
            "continuation-token",
            "encoding-type",
            "fetch-owner");

    /** What every call may say beside what it is: who signed it, and which operation it is. */
    private static final Set<String> OF_SIGNATURES =
            Set.of("x-id", "AWSAccessKeyId", "Signature", "Expires", "x-amz-security-token");

    /**
     * Refuses a call that says more than is understood: a parameter may make another call of it, and taken for the plain one it would do something else.
     */
    private static void demandOnly(Call call, Set<String> understood) {
        call.query().keySet().stream()
                .filter(name -> !understood.contains(name) && !OF_SIGNATURES.contains(name))
                .filter(name -> !name.startsWith("X-Amz-"))
                .sorted()
                .findFirst()
                .ifPresent(name -> {
                    throw notSimulated(call, " with " + name);
                });
    }

    private static Refusal notSimulated(Call call, String how) {
        return new Refusal(501, "NotImplemented", call.method() + how + " is not part of the simulated account");
    }

    private Reply policy(Call call, String arn) {
        call.needs().operation("GetBucketPolicy");
        gatekeeper.demand(call, "s3:GetBucketPolicy", arn);
        JsonPart policy = found("bucket-policy", arn);
        String text = policy.text("Policy").orElseGet(() -> policy.find("Policy")
                .map(warden.core.document.JsonSpelling::of)
                .orElse("{}"));
        return Reply.of(200, "application/json", text);
    }

    private Reply policyStatus(Call call, String arn) {
        call.needs().operation("GetBucketPolicyStatus");
        gatekeeper.demand(call, "s3:GetBucketPolicyStatus", arn);
        found("bucket-policy", arn);
        Truth isPublic = state.bucket(arn).hasPublicPolicy();
        if (isPublic == Truth.UNKNOWN) {
            throw new Refusal(501, "NotImplemented", "Whether this policy is public is not known");
        }
        return StorageXml.reply("PolicyStatus", xml -> xml.text("IsPublic", isPublic == Truth.TRUE));
    }

    private Reply region(Reply reply, String arn) {
        state.bucket(arn).region().found().ifPresent(region -> reply.headers().put("x-amz-bucket-region", region));
        return reply;
    }

    private Reply setting(Call call, String arn, Setting setting) {
        call.needs().operation(setting.operation());
        gatekeeper.demand(call, setting.action(), arn);
        JsonPart document = found(setting.aspect(), arn);
        if (setting.parameter().equals("location")) {
            return StorageXml.reply(
                    "LocationConstraint",
                    xml -> xml.characters(document.text("LocationConstraint").orElse("")));
        }
        if (!setting.root().isEmpty()) {
            return StorageXml.reply(setting.root(), xml -> xml.spelled(WireSpelling.xml(setting.model(), document)));
        }
        return Reply.xml(
                200,
                WireSpelling.xmlPayload(setting.model(), document)
                        .orElse("")
                        .replaceFirst(">", " xmlns=\"" + StorageXml.SPACE + "\">"));
    }

    private static final Set<String> READING = Set.of(
            "acl",
            "tagging",
            "attributes",
            "versionId",
            "partNumber",
            "response-content-type",
            "response-content-language",
            "response-expires",
            "response-cache-control",
            "response-content-disposition",
            "response-content-encoding");

    private Reply onObject(Call call, String arn, String key) {
        return switch (call.method()) {
            case "GET", "HEAD" -> {
                if (call.has("uploadId")) {
                    demandOnly(call, Set.of("uploadId", "max-parts", "part-number-marker"));
                    yield uploads.parts(call, arn, key);
                }
                demandOnly(call, READING);
                yield reads.answer(call, arn, key);
            }
            case "PUT" -> {
                if (call.has("partNumber")) {
                    demandOnly(call, Set.of("partNumber", "uploadId"));
                    yield uploads.part(call, arn, key);
                }
                demandOnly(call, Set.of("acl", "tagging", "versionId"));
                yield objects.put(call, arn, key);
            }
            case "POST" -> {
                if (call.has("uploads")) {
                    demandOnly(call, Set.of("uploads"));
                    yield uploads.begin(call, arn, key);
                }
                demandOnly(call, Set.of("uploadId"));
                if (!call.has("uploadId")) {
                    throw notSimulated(call, "");
                }
                yield uploads.complete(call, arn, key);
            }
            case "DELETE" -> {
                if (call.has("uploadId")) {
                    demandOnly(call, Set.of("uploadId"));
                    yield uploads.abort(call, arn, key);
                }
                demandOnly(call, Set.of("tagging", "versionId"));
                yield objects.delete(call, arn, key);
            }
            default ->
                throw new Refusal(
                        405, "MethodNotAllowed", "The specified method is not allowed against this resource.");
        };
    }
}
