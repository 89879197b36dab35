package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.UnaryOperator;
import warden.core.aws.account.Account;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Phase;

/** The changes of one bucket's settings. What they find so already they leave as it is. */
final class BucketChanges {
    private final Account account;
    private final String name;

    BucketChanges(Account account, String bucketName) {
        this.account = account;
        this.name = bucketName;
    }

    /** What to do to a bucket as it is in a state. */
    private interface Work {
        Optional<Edited> on(Account account, Bucket bucket);
    }

    private Change change(Phase phase, String step, String key, Work work) {
        return new Change("bucket " + name + " " + key, phase, step, account.number(), state -> Accounts.in(
                        state, account.number())
                .flatMap(now -> work.on(now, now.bucket(name))));
    }

    /** Changes a setting. */
    Change setting(Phase phase, String step, BucketSetting setting, String title, UnaryOperator<String> after) {
        return change(phase, step, step, (now, bucket) -> setting.edited(now, bucket, title, after));
    }

    /** Takes a setting away. */
    Change removing(Phase phase, String step, BucketSetting setting, String title) {
        return change(phase, step, step, (now, bucket) -> setting.removed(now, bucket, title));
    }

    /** Changes the statements of the bucket policy; a policy of which none is left goes. */
    Change statements(
            Phase phase,
            String step,
            String key,
            String title,
            BiFunction<Statement, JsonPart, Optional<Object>> statement) {
        return change(phase, step, key, (now, bucket) -> {
            Optional<String> policy = BucketSetting.POLICY.surveyed(now, bucket).flatMap(text -> text);
            if (policy.isEmpty()) {
                return Optional.empty();
            }
            Optional<String> after = PolicyText.changing(policy.get(), PolicyKind.BUCKET, statement);
            return after.isPresent()
                    ? BucketSetting.POLICY.edited(now, bucket, title, text -> after.get())
                    : BucketSetting.POLICY.removed(now, bucket, title);
        });
    }

    /** Adds a statement to the bucket policy. */
    Change granting(Phase phase, String step, String key, String title, Object... statement) {
        return change(
                phase,
                step,
                key,
                (now, bucket) -> BucketSetting.POLICY.edited(
                        now, bucket, title, policy -> PolicyText.adding(policy, Json.object(statement))));
    }

    /** Turns on all four flags of the bucket's public access block. */
    Change block() {
        return setting(
                Phase.GUARD,
                "block-public-access",
                BucketSetting.PUBLIC_ACCESS,
                "Turn on all four flags of the public access block of " + name,
                old -> AccountGuard.ALL_FLAGS);
    }

    /** Disables ACLs. */
    Change ownObjects() {
        return setting(
                Phase.GUARD,
                "disable-acls",
                BucketSetting.OWNERSHIP,
                "Let the owner of " + name + " own every object, which disables ACLs",
                old -> Json.text(Json.object("Rules", List.of(Json.object("ObjectOwnership", "BucketOwnerEnforced")))));
    }

    /** Denies what comes without TLS. */
    Change demandTls() {
        String arn = Bucket.arnOf(name);
        return granting(
                Phase.GUARD,
                "demand-tls",
                "demand-tls",
                "Refuse requests to " + name + " that come without TLS",
                "Sid",
                "TlsOnly",
                "Effect",
                "Deny",
                "Principal",
                "*",
                "Action",
                "s3:*",
                "Resource",
                List.of(arn, arn + "/*"),
                "Condition",
                Json.object("Bool", Json.object("aws:SecureTransport", "false")));
    }

    /** Takes everybody out of the bucket policy. A grant under a condition stays: whom it is meant for is not told. */
    Change shutOutEveryone() {
        return statements(
                Phase.SHUT_OUT,
                "shut-out-everyone",
                "shut-out-everyone",
                "Take everybody out of the bucket policy of " + name,
                (statement, part) ->
                        statement.mayDeny() || !statement.conditions().isEmpty()
                                ? Optional.of(part)
                                : leavingOut(statement, part, PrincipalElement.Everyone.class::isInstance));
    }

    /** Returns a statement without some of its principals; nothing where none is left; the same part where none of them is in it. */
    static Optional<Object> leavingOut(
            Statement statement, JsonPart part, java.util.function.Predicate<PrincipalElement> goes) {
        boolean isNegated =
                statement.principals().filter(clause -> clause.negated()).isPresent();
        List<PrincipalElement> elements =
                statement.principals().map(clause -> clause.elements()).orElse(List.of());
        if (isNegated || elements.stream().noneMatch(goes)) {
            return Optional.of(part);
        }
        if (elements.stream().allMatch(goes)) {
            return Optional.empty();
        }
        java.util.Map<String, Object> kinds = new java.util.LinkedHashMap<>();
        int index = 0;
        JsonPart principal = part.find("Principal").orElseThrow();
        for (java.util.Map.Entry<String, JsonPart> kind :
                ((JsonPart.JsonObject) principal).members().entrySet()) {
            List<JsonPart> values =
                    kind.getValue() instanceof JsonPart.JsonArray array ? array.items() : List.of(kind.getValue());
            List<Object> kept = new ArrayList<>();
            for (JsonPart value : values) {
                if (!goes.test(elements.get(index++))) {
                    kept.add(value);
                }
            }
            if (!kept.isEmpty()) {
                kinds.put(kind.getKey(), kept.size() == 1 ? kept.get(0) : kept);
            }
        }
        return PolicyText.setting(part, "Principal", kinds);
    }

    /** Keeps old versions for a month, and ends uploads that nobody ends. */
    Change expireOldVersions() {
        return setting(
                Phase.LET_IN,
                "expire-old-versions",
                BucketSetting.LIFECYCLE,
                "Let old versions in " + name + " expire after 30 days, and unfinished uploads after 7",
                old -> {
                    JsonPart rules =
                            warden.core.document.JsonReader.read(old).root().orElseThrow();
                    List<Object> all = new ArrayList<>(rules.list("Rules"));
                    all.add(Json.object(
                            "ID",
                            "expire-old-versions",
                            "Filter",
                            Json.object("Prefix", ""),
                            "Status",
                            "Enabled",
                            "NoncurrentVersionExpiration",
                            Json.object("NoncurrentDays", 30),
                            "AbortIncompleteMultipartUpload",
                            Json.object("DaysAfterInitiation", 7)));
                    return Json.text(Json.object("Rules", all));
                });
    }

    /** Keeps old versions. */
    Change keepVersions() {
        return setting(
                Phase.GUARD,
                "keep-versions",
                BucketSetting.VERSIONING,
                "Turn versioning on for " + name,
                old -> Json.text(Json.object("Status", "Enabled")));
    }
}
