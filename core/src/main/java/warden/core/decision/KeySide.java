package warden.core.decision;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.decision.IdentitySide.Opinion;
import warden.core.decision.PolicyMatch.Hit;
import warden.core.identity.HeldPolicy;
import warden.core.policy.Actor;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.policy.ContextValue.Known;
import warden.core.policy.Truth;
import warden.core.storage.Bucket;
import warden.core.storage.Encryption;
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

    private final Account account;
    private final IdentitySide identities;

    KeySide(Account account, IdentitySide identities) {
        this.account = account;
        this.identities = identities;
    }

    static boolean isAboutKeys(String lowerCaseAction) {
        return KEY_ACTIONS.containsKey(lowerCaseAction);
    }

    /** Returns whether the key, where one is needed, lets the request through. */
    Truth lets(Bucket bucket, Request request, String action, Context context, Ledger ledger) {
        String keyAction = KEY_ACTIONS.get(action);
        Optional<String> objectKey = Bucket.keyIn(request.resource());
        if (keyAction == null || objectKey.isEmpty()) {
            return Truth.TRUE;
        }
        boolean writes = action.equals("s3:putobject");
        Reading<Encryption> encryption = writes ? bucket.encryption() : bucket.objectEncryption(objectKey.get());
        Optional<Encryption> chosen = writes ? chosen(context) : Optional.empty();
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

    private Truth lets(Bucket bucket, Encryption encryption, Request request, String keyAction, Ledger ledger) {
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
        Reading<HeldPolicy> policy = account.keyPolicy(encryption.key().get());
        if (policy.found().isEmpty()) {
            policy.missing().ifPresent(ledger::need);
            ledger.step(() -> "The policy of the key was not read.");
            return Truth.UNKNOWN;
        }
        Context context = keyContext(bucket, encryption, request);
        Request keyRequest =
                new Request(request.who(), keyAction, policy.found().get().at().subject(), context);
        return permits(policy.found().get(), keyRequest, keyAction, context, ledger);
    }

    private boolean isOwn(Actor actor) {
        return actor.home().filter(account.number()::equals).isPresent();
    }

    /** Returns whether a key's policy, and for own principals their own side, permit the key action. */
    Truth permits(HeldPolicy policy, Request request, String action, Context context, Ledger ledger) {
        Truth denied = Truth.FALSE;
        for (Hit hit : PolicyMatch.denies(policy, request, action, context, account)) {
            denied = denied.or(hit.truth());
            if (hit.truth() == Truth.TRUE) {
                ledger.limits.add(hit.cite());
            } else {
                ledger.open(hit.cite(), PolicyMatch.openPoint(hit, context));
            }
        }
        List<Hit> hits = PolicyMatch.allows(policy, request, action, context, account);
        Truth allowed;
        if (isOwn(request.who())) {
            // What the identity's policies say about the key is part of this step; it does not speak for the request
            // itself.
            Ledger aside = new Ledger(false);
            Opinion own = identities.weigh(request, action, context, aside);
            aside.needs.forEach(ledger::need);
            denied = denied.or(own.denied());
            allowed = Grants.strict(hits, own).and(own.organization());
        } else {
            allowed = hits.stream().map(Hit::truth).reduce(Truth.FALSE, Truth::or);
        }
        for (Hit hit : hits) {
            if (hit.truth() == Truth.UNKNOWN) {
                ledger.open(hit.cite(), PolicyMatch.openPoint(hit, context));
            }
        }
        Truth result = allowed.and(denied.not());
        ledger.step(() -> switch (result) {
            case TRUE -> "The key's policy permits " + action + ".";
            case FALSE -> "The key's policy does not permit " + action + ".";
            case UNKNOWN -> "Whether the key's policy permits " + action + " is not known.";
        });
        if (result == Truth.FALSE) {
            ledger.limits.add(policy.at());
        }
        return result;
    }

    /**
     * Returns the context of the call that the storage service makes to the key service for the caller. Of what else the request
     * carried, nothing is said about whether the key service sees it: unknown.
     */
    private Context keyContext(Bucket bucket, Encryption encryption, Request request) {
        Map<String, ContextValue> facts = new HashMap<>();
        ContextValue region = bucket.region()
                .fold(
                        found -> Known.of("s3." + found.value() + ".amazonaws.com"),
                        absent -> Known.of("s3.us-east-1.amazonaws.com"),
                        unread -> ContextValue.UNKNOWN);
        facts.put("kms:viaservice", region);
        facts.put(
                "kms:calleraccount",
                request.who()
                        .home()
                        .<ContextValue>map(Known::of)
                        .orElseGet(() -> request.who() instanceof Actor.AnyAccount
                                ? request.context().get("aws:principalaccount")
                                : ContextValue.ABSENT));
        facts.put(
                "kms:encryptioncontext:aws:s3:arn",
                Known.of(encryption.bucketKey() ? bucket.arn() : request.resource()));
        return request.context()
                .forwarded(key -> key.equals("aws:sourcearn") || key.equals("aws:sourceaccount"))
                .withFacts(facts);
    }
}
