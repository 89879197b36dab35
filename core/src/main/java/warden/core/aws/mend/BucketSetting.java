package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.policy.PublicPolicy;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.aws.survey.Permissions;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.document.Pointer;
import warden.core.mend.Call;
import warden.core.mend.Edited;
import warden.core.survey.Reading;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/**
 * The settings of a bucket that can be changed, each a document of its own. Source: AWS CLI Command Reference, s3api, the commands named; S3
 * API Reference, "Error responses", the codes of absence.
 */
enum BucketSetting {
    POLICY("bucket-policy", "bucket-policy", "Policy", "policy", "NoSuchBucketPolicy"),
    PUBLIC_ACCESS(
            "bucket-public-access",
            "public-access-block",
            "PublicAccessBlockConfiguration",
            "public-access-block-configuration",
            "NoSuchPublicAccessBlockConfiguration"),
    OWNERSHIP(
            "bucket-ownership",
            "bucket-ownership-controls",
            "OwnershipControls",
            "ownership-controls",
            "OwnershipControlsNotFoundError"),
    WEBSITE("bucket-website", "bucket-website", null, "website-configuration", "NoSuchWebsiteConfiguration"),
    LIFECYCLE(
            "bucket-lifecycle",
            "bucket-lifecycle-configuration",
            null,
            "lifecycle-configuration",
            "NoSuchLifecycleConfiguration"),
    CORS("bucket-cors", "bucket-cors", null, "cors-configuration", "NoSuchCORSConfiguration"),
    VERSIONING("bucket-versioning", "bucket-versioning", null, "versioning-configuration", null),
    LOGGING("bucket-logging", "bucket-logging", null, "bucket-logging-status", null),
    ACL("bucket-acl", "bucket-acl", null, "access-control-policy", null),
    PAYER("bucket-payer", "bucket-request-payment", null, "request-payment-configuration", null);

    static final Edited.Program PROGRAM =
            new Edited.Program("aws", Call.of("sts", "get-caller-identity", "--query=Account", "--output=text"));

    /** What no visitor's answer rests on. */
    private static final Set<BucketSetting> UNSEEN = EnumSet.of(LIFECYCLE, CORS, VERSIONING, LOGGING);

    /** Removing the lifecycle goes by a shorter name. */
    private static final Map<String, String> DELETES = Map.of("bucket-lifecycle-configuration", "bucket-lifecycle");

    private final String aspect;
    private final String command;
    private final @Nullable String member;
    private final String option;
    private final @Nullable String absence;

    /**
     * @param command what follows get-, put- and delete-
     * @param member the answer's member that holds the document; null where the whole answer is it
     * @param option the option by which it is written
     * @param absence the code where there is none; null for what every bucket has
     */
    BucketSetting(String aspect, String command, @Nullable String member, String option, @Nullable String absence) {
        this.aspect = aspect;
        this.command = command;
        this.member = member;
        this.option = option;
        this.absence = absence;
    }

    String aspect() {
        return aspect;
    }

    /** Returns the document as surveyed, JSON text; empty where there is none; absent where it was not read. */
    Optional<Optional<String>> surveyed(Account account, Bucket bucket) {
        Reading<JsonPart> reading = account.survey().reading(aspect, bucket.arn());
        return reading.fold(
                found -> Optional.of(Optional.of(document(found.value()))),
                absent -> Optional.of(Optional.<String>empty()),
                unread -> Optional.<Optional<String>>empty());
    }

    private String document(JsonPart answer) {
        if (this == POLICY) {
            return answer.text("Policy")
                    .orElseGet(() -> JsonSpelling.of(answer.find("Policy").orElse(answer)));
        }
        if (this == LIFECYCLE) {
            return Json.text(Json.object("Rules", answer.list("Rules")));
        }
        return JsonSpelling.of(member == null ? answer : answer.find(member).orElse(answer));
    }

    /**
     * Returns the change of the document; absent where it was not read, or is so already.
     *
     * @param after makes the new document of the old, which is empty JSON where there is none
     */
    Optional<Edited> edited(Account account, Bucket bucket, String title, UnaryOperator<String> after) {
        return surveyed(account, bucket)
                .flatMap(before ->
                        written(account, bucket, title, before, Optional.of(after.apply(before.orElse("{}")))));
    }

    /** Returns the removal of the document; absent where it was not read, or there is none. */
    Optional<Edited> removed(Account account, Bucket bucket, String title) {
        return surveyed(account, bucket).flatMap(before -> written(account, bucket, title, before, Optional.empty()));
    }

    private Optional<Edited> written(
            Account account, Bucket bucket, String title, Optional<String> before, Optional<String> after) {
        if (before.equals(after)) {
            return Optional.empty();
        }
        Edited edited = Edited.of(
                title,
                bucket.arn(),
                PROGRAM,
                new Edited.Document(
                        new Call(read(account, bucket), Optional.empty()),
                        absence == null ? List.of() : List.of(absence),
                        before,
                        after),
                Edited.Calls.of(write(account, bucket, after), undo(account, bucket, before)),
                List.of(line(bucket, after)));
        if (UNSEEN.contains(this)) {
            return Optional.of(edited.unseen());
        }
        return Optional.of(
                this == POLICY && after.isPresent() && isRefused(account, bucket, after.get())
                        ? edited.refused("the service refuses a public policy while BlockPublicPolicy is on")
                        : edited);
    }

    /** Source: S3 User Guide, "Blocking public access to your Amazon S3 storage", BlockPublicPolicy. */
    private static boolean isRefused(Account account, Bucket bucket, String policy) {
        boolean blocks = PublicAccessBlock.isOn(bucket.publicAccessBlock(), PublicAccessBlock::blockPublicPolicy)
                        .or(PublicAccessBlock.isOn(account.publicAccessBlock(), PublicAccessBlock::blockPublicPolicy))
                != Truth.FALSE;
        return blocks
                && PublicPolicy.isPublic(PolicyParser.parse(policy, PolicyKind.BUCKET, Pointer.ROOT)) != Truth.FALSE;
    }

    private List<String> read(Account account, Bucket bucket) {
        List<String> read = call("get-" + command, account, bucket);
        if (this == POLICY) {
            read.addAll(List.of("--query=Policy", "--output=text"));
        } else if (this == LIFECYCLE) {
            read.addAll(List.of("--query={Rules:Rules}", "--output=json"));
        } else {
            if (member != null) {
                read.add("--query=" + member);
            }
            read.add("--output=json");
        }
        return read;
    }

    /** The account's number beside each call keeps it from a bucket of the same name that somebody else made meanwhile. */
    private static List<String> call(String command, Account account, Bucket bucket) {
        return new ArrayList<>(
                List.of("s3api", command, "--bucket=" + bucket.name(), "--expected-bucket-owner=" + account.number()));
    }

    private Call write(Account account, Bucket bucket, Optional<String> document) {
        if (document.isEmpty()) {
            return new Call(
                    call("delete-" + DELETES.getOrDefault(command, command), account, bucket), Optional.empty());
        }
        List<String> put = call("put-" + command, account, bucket);
        put.add("--" + option + "=file://" + Call.FILE);
        return new Call(put, document);
    }

    /** What once kept versions keeps them for good; it can be told to make no more. Source: S3 User Guide, "How S3 Versioning works". */
    private Call undo(Account account, Bucket bucket, Optional<String> before) {
        boolean neverHad = this == VERSIONING
                && before.filter(text -> !text.contains("Status")).isPresent();
        return write(account, bucket, neverHad ? Optional.of(Json.text(Json.object("Status", "Suspended"))) : before);
    }

    private SurveyLine line(Bucket bucket, Optional<String> document) {
        String call = Permissions.toRead(aspect);
        if (document.isEmpty()) {
            return new SurveyLine("", 1, aspect, bucket.arn(), call, Outcome.ABSENT, String.valueOf(absence));
        }
        String body = this == POLICY
                ? Json.text(Json.object("Policy", document.get()))
                : member == null ? document.get() : Json.text(Json.object(member, new Json.Raw(document.get())));
        return new SurveyLine("", 1, aspect, bucket.arn(), call, Outcome.FOUND, body);
    }
}
