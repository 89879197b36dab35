package warden.standin.aws;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.services.s3.model.AccessControlPolicy;
import software.amazon.awssdk.services.s3.model.BucketLifecycleConfiguration;
import software.amazon.awssdk.services.s3.model.BucketLoggingStatus;
import software.amazon.awssdk.services.s3.model.CORSConfiguration;
import software.amazon.awssdk.services.s3.model.OwnershipControls;
import software.amazon.awssdk.services.s3.model.PublicAccessBlockConfiguration;
import software.amazon.awssdk.services.s3.model.RequestPaymentConfiguration;
import software.amazon.awssdk.services.s3.model.VersioningConfiguration;
import software.amazon.awssdk.services.s3.model.WebsiteConfiguration;
import warden.core.access.Truth;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.policy.PublicPolicy;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.document.Json;
import warden.core.document.JsonReader;
import warden.core.document.Pointer;
import warden.standin.Refusal;
import warden.standin.Reply;

/** Changes the settings of buckets. What is changed is in force at once. Source: S3 API Reference, the put and delete call of each setting. */
final class BucketWrites {
    /**
     * A setting that can be written.
     *
     * @param put the action that writing takes
     * @param delete the action that deleting takes; null for what cannot be deleted
     * @param member the member under which a survey holds the document; null where the document is the whole
     * @param model of the document
     * @param absence the code where there is none
     */
    private record Setting(
            String parameter,
            String put,
            @Nullable String delete,
            String aspect,
            String get,
            @Nullable String member,
            SdkPojo model,
            String absence) {}

    private static final List<Setting> SETTINGS = List.of(
            new Setting(
                    "publicAccessBlock",
                    "s3:PutBucketPublicAccessBlock",
                    "s3:PutBucketPublicAccessBlock",
                    "bucket-public-access",
                    "s3:GetBucketPublicAccessBlock",
                    "PublicAccessBlockConfiguration",
                    PublicAccessBlockConfiguration.builder(),
                    "NoSuchPublicAccessBlockConfiguration"),
            new Setting(
                    "ownershipControls",
                    "s3:PutBucketOwnershipControls",
                    "s3:PutBucketOwnershipControls",
                    "bucket-ownership",
                    "s3:GetBucketOwnershipControls",
                    "OwnershipControls",
                    OwnershipControls.builder(),
                    "OwnershipControlsNotFoundError"),
            new Setting(
                    "website",
                    "s3:PutBucketWebsite",
                    "s3:DeleteBucketWebsite",
                    "bucket-website",
                    "s3:GetBucketWebsite",
                    null,
                    WebsiteConfiguration.builder(),
                    "NoSuchWebsiteConfiguration"),
            new Setting(
                    "lifecycle",
                    "s3:PutLifecycleConfiguration",
                    "s3:PutLifecycleConfiguration",
                    "bucket-lifecycle",
                    "s3:GetLifecycleConfiguration",
                    null,
                    BucketLifecycleConfiguration.builder(),
                    "NoSuchLifecycleConfiguration"),
            new Setting(
                    "cors",
                    "s3:PutBucketCORS",
                    "s3:PutBucketCORS",
                    "bucket-cors",
                    "s3:GetBucketCORS",
                    null,
                    CORSConfiguration.builder(),
                    "NoSuchCORSConfiguration"),
            new Setting(
                    "versioning",
                    "s3:PutBucketVersioning",
                    null,
                    "bucket-versioning",
                    "s3:GetBucketVersioning",
                    null,
                    VersioningConfiguration.builder(),
                    ""),
            new Setting(
                    "logging",
                    "s3:PutBucketLogging",
                    null,
                    "bucket-logging",
                    "s3:GetBucketLogging",
                    null,
                    BucketLoggingStatus.builder(),
                    ""),
            new Setting(
                    "acl",
                    "s3:PutBucketAcl",
                    null,
                    "bucket-acl",
                    "s3:GetBucketAcl",
                    null,
                    AccessControlPolicy.builder(),
                    ""),
            new Setting(
                    "requestPayment",
                    "s3:PutBucketRequestPayment",
                    null,
                    "bucket-payer",
                    "s3:GetBucketRequestPayment",
                    null,
                    RequestPaymentConfiguration.builder(),
                    ""));

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final AccessListWrites accessLists;

    BucketWrites(CloudState state, Gatekeeper gatekeeper) {
        this.state = state;
        this.accessLists = new AccessListWrites(state);
        this.gatekeeper = gatekeeper;
    }

    /** Answers a call that changes a setting; absent for other calls. */
    Optional<Reply> answer(Call call, String arn) {
        boolean puts = call.method().equals("PUT");
        if (!puts && !call.method().equals("DELETE")) {
            return Optional.empty();
        }
        if (call.has("policy")) {
            return Optional.of(policy(call, arn, puts));
        }
        return SETTINGS.stream()
                .filter(setting -> call.has(setting.parameter()))
                .findFirst()
                .map(setting -> setting(call, arn, setting, puts));
    }

    private Reply setting(Call call, String arn, Setting setting, boolean puts) {
        if (puts) {
            gatekeeper.demand(call, setting.put(), arn);
            Checksums.demandRight(call);
            String document = setting.parameter().equals("acl")
                    ? accessLists.ofBucket(call, arn)
                    : WireReading.json(setting.model(), call.body());
            state.put(
                    setting.aspect(),
                    arn,
                    setting.get(),
                    setting.member() == null
                            ? document
                            : Json.text(Json.object(setting.member(), new Json.Raw(document))));
            return Reply.empty(200);
        }
        if (setting.delete() == null) {
            throw new Refusal(405, "MethodNotAllowed", "The specified method is not allowed against this resource.");
        }
        gatekeeper.demand(call, setting.delete(), arn);
        state.putAbsent(setting.aspect(), arn, setting.get(), setting.absence());
        return Reply.empty(204);
    }

    private Reply policy(Call call, String arn, boolean puts) {
        if (!puts) {
            gatekeeper.demand(call, "s3:DeleteBucketPolicy", arn);
            state.putAbsent("bucket-policy", arn, "s3:GetBucketPolicy", "NoSuchBucketPolicy");
            return Reply.empty(204);
        }
        gatekeeper.demand(call, "s3:PutBucketPolicy", arn);
        String text = new String(call.body(), StandardCharsets.UTF_8);
        PolicyDocument policy = PolicyParser.parse(text, PolicyKind.BUCKET, Pointer.ROOT);
        if (JsonReader.read(text).root().isEmpty() || policy.isPartlyOpaque()) {
            throw new Refusal(400, "MalformedPolicy", "Policies must be valid JSON and the first byte must be '{'");
        }
        boolean blocked = blocksPublicPolicies(arn) && PublicPolicy.isPublic(policy) != Truth.FALSE;
        if (blocked) {
            throw new Refusal(
                    403,
                    "AccessDenied",
                    "public policies are blocked by the BlockPublicPolicy block public access setting");
        }
        state.put("bucket-policy", arn, "s3:GetBucketPolicy", Json.text(Json.object("Policy", text)));
        return Reply.empty(204);
    }

    private boolean blocksPublicPolicies(String arn) {
        return state.bucket(arn)
                        .publicAccessBlock()
                        .found()
                        .filter(PublicAccessBlock::blockPublicPolicy)
                        .isPresent()
                || state.account()
                        .publicAccessBlock()
                        .found()
                        .filter(PublicAccessBlock::blockPublicPolicy)
                        .isPresent();
    }
}
