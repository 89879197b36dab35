package warden.core.aws.decision;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.Encryption;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * Whether a caller may use the key under which an object is, or will be, encrypted.
 * Source: S3 User Guide, "Using server-side encryption with AWS KMS keys"; KMS Developer Guide, "Key policies" and
 * "Condition keys for AWS KMS".
 */
final class KeySide {
    private static final Map<String, String> KEY_ACTIONS = Map.of(
            "s3:getobject", "kms:decrypt",
            "s3:getobjectversion", "kms:decrypt",
            "s3:putobject", "kms:generatedatakey");
    private static final String ALGORITHM = "s3:x-amz-server-side-encryption";
    private static final String KEY_ID = "s3:x-amz-server-side-encryption-aws-kms-key-id";

    private final Evaluator evaluator;
    private final Account account;

    KeySide(Evaluator evaluator) {
        this.evaluator = evaluator;
        this.account = evaluator.account();
    }

    static boolean isAboutKeys(String lowerCaseAction) {
        return KEY_ACTIONS.containsKey(lowerCaseAction);
    }

    /** Returns whether the key, where one is needed, lets the request through. */
    Truth lets(Bucket bucket, Request request, String action, DecisionEvidence ledger) {
        String keyAction = KEY_ACTIONS.get(action);
        Optional<String> objectKey = Bucket.keyIn(request.resource());
        if (keyAction == null || objectKey.isEmpty()) {
            return Truth.TRUE;
        }
        boolean writes = action.equals("s3:putobject");
        Reading<Encryption> encryption = writes ? bucket.encryption() : bucket.objectEncryption(objectKey.get());
        Optional<Encryption> chosen = writes ? chosen(request.context()) : Optional.empty();
        if (chosen.isPresent()) {
            return lets(bucket, chosen.get(), request, keyAction, ledger);
        }
        return encryption.fold(
                found -> lets(bucket, found.value(), request, keyAction, ledger),
                // Without a default, objects are encrypted under the storage service's own keys.
                absent -> Truth.TRUE,
                unread -> {
                    ledger.need(unread.need());
                    ledger.step(() -> "How the object is encrypted was not read.");
                    return Truth.UNKNOWN;
                });
    }

    /** Returns the encryption that a writer asks for by header; absent when the bucket's default holds. */
    private static Optional<Encryption> chosen(Context context) {
        if (!(context.get(ALGORITHM) instanceof Known algorithm)
                || algorithm.values().isEmpty()) {
            return Optional.empty();
        }
        Optional<String> key =
                context.get(KEY_ID) instanceof Known known && !known.values().isEmpty()
                        ? Optional.of(known.values().get(0))
                        : Optional.empty();
        return Optional.of(Encryption.of(algorithm.values().get(0), key, false));
    }

    private Truth lets(
            Bucket bucket, Encryption encryption, Request request, String keyAction, DecisionEvidence ledger) {
        if (!encryption.withKey()) {
            return Truth.TRUE;
        }
        if (request.who() instanceof Actor.Anyone || request.who() instanceof Actor.OriginIdentity) {
            ledger.step(() -> "The object is encrypted under a key of the key service, which such callers cannot use.");
            bucket.encryption().citation().ifPresent(ledger.limits::add);
            return Truth.FALSE;
        }
        if (encryption.key().isEmpty()) {
            boolean own = isOwn(request.who());
            ledger.step(() -> "The object is encrypted under the provider's managed key, which "
                    + (own ? "the account's own principals may use." : "only the account's own principals may use."));
            if (!own) {
                bucket.encryption().citation().ifPresent(ledger.limits::add);
            }
            return Truth.of(own);
        }
        return permits(bucket, encryption, encryption.key().get(), request, keyAction, ledger);
    }

    private boolean isOwn(Actor actor) {
        return actor.home().filter(account.number()::equals).isPresent();
    }

    /** Returns whether the key's policy, and the caller's own side where it has to, permit the call that the storage service makes. */
    private Truth permits(
            Bucket bucket,
            Encryption encryption,
            String key,
            Request request,
            String keyAction,
            DecisionEvidence ledger) {
        Optional<String> keyAccount = Arn.parse(key).map(Arn::account).filter(number -> !number.isEmpty());
        String owner = keyAccount.orElse(account.number());
        Account home = evaluator.numbered(owner).orElse(account);
        Reading<HeldPolicy> policy = home.keyPolicy(key);
        String of = policy.found().map(found -> found.at().subject()).orElse(key);
        Request call = new Request(request.who(), keyAction, of, keyContext(bucket, encryption, key, request));
        // What is said about the key is part of this step; it does not speak for the request itself.
        DecisionEvidence aside = new DecisionEvidence(false);
        AccessRules<Truth> rules = new AccessRules<>(
                home,
                owner,
                request.who().home().flatMap(evaluator::numbered),
                request.who(),
                keyAction,
                new OneRequest(call, new AclSide(home), this, aside));
        AccessRules.Access<Truth> access =
                rules.underPolicy(policy.isAbsent() ? new Reading.Unread<>(notThere(key)) : policy);
        Truth result = rules.allowed(access);
        aside.needs.forEach(ledger::need);
        ledger.step(() -> switch (result) {
            case TRUE -> "The key's policy permits " + keyAction + ".";
            case FALSE ->
                policy.found().isPresent() && aside.denies.isEmpty()
                        ? "The key's policy does not permit " + keyAction + "."
                        : "A policy denies " + keyAction + ".";
            case UNKNOWN ->
                policy.found().isPresent()
                        ? "Whether the key's policy permits " + keyAction + " is not known."
                        : "The policy of the key was not read.";
        });
        if (result == Truth.FALSE) {
            ledger.limits.addAll(aside.denies);
            policy.found().ifPresent(found -> ledger.limits.add(found.at()));
        }
        return result;
    }

    private static Need notThere(String key) {
        return new Need("key-policy", key, "the account says that the key is not there", "kms:GetKeyPolicy");
    }

    /**
     * Returns the context of the call that the storage service makes to the key service for the caller. Of what else the request
     * carried, nothing is said about whether the key service sees it: unknown.
     */
    private Context keyContext(Bucket bucket, Encryption encryption, String key, Request request) {
        Map<String, ContextValue> facts = new HashMap<>();
        // A bucket's objects can only be encrypted under keys of its own region, so the key's ARN tells it too.
        ContextValue region = Arn.parse(key)
                .map(Arn::region)
                .filter(name -> !name.isEmpty())
                .<ContextValue>map(KeySide::viaStorageIn)
                .orElseGet(() -> bucket.region()
                        .fold(
                                found -> viaStorageIn(found.value()),
                                absent -> viaStorageIn("us-east-1"),
                                unread -> ContextValue.UNKNOWN));
        facts.put("kms:viaservice", region);
        facts.put(
                "kms:calleraccount",
                request.who()
                        .home()
                        .<ContextValue>map(Known::of)
                        .orElseGet(() -> request.who().isOfUnknownAccount()
                                ? request.context().get("aws:principalaccount")
                                : ContextValue.ABSENT));
        facts.put(
                "kms:encryptioncontext:aws:s3:arn",
                Known.of(encryption.bucketKey() ? bucket.arn() : request.resource()));
        return request.context()
                .forwarded(name -> name.equals("aws:sourcearn") || name.equals("aws:sourceaccount"))
                .withFacts(facts);
    }

    private static ContextValue viaStorageIn(String region) {
        return Known.of("s3." + region + ".amazonaws.com");
    }
}
