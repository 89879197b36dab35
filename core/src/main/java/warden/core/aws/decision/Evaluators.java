package warden.core.aws.decision;

import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.aws.storage.Bucket;
import warden.core.document.Instants;

/**
 * The engines of all surveyed accounts together: a request that crosses from one to another is decided on both sides. Safe for use by
 * several threads.
 */
public final class Evaluators {
    private final Map<String, Evaluator> byAccount = new LinkedHashMap<>();
    private final Map<String, ContextValue> time;
    private @Nullable Map<String, Evaluator> byBucket;

    /**
     * Makes the engines.
     *
     * @param at the instant as of which every request is taken to be sent that does not say otherwise; absent when nothing tells
     */
    public Evaluators(List<Account> accounts, Optional<Instant> at) {
        // Source: IAM User Guide, "AWS global condition context keys", "aws:CurrentTime" and "aws:EpochTime".
        this.time = at.<Map<String, ContextValue>>map(instant -> Map.of(
                        "aws:currenttime", Known.of(Instants.spelled(instant)),
                        "aws:epochtime", Known.of(Long.toString(instant.getEpochSecond()))))
                .orElse(Map.of());
        accounts.forEach(account -> byAccount.putIfAbsent(account.number(), new Evaluator(account, this)));
    }

    /** Returns the engine that speaks for an account, which is one of these. */
    public Evaluator of(Account account) {
        Evaluator evaluator = byAccount.get(account.number());
        if (evaluator == null) {
            throw new IllegalArgumentException("the account " + account.number() + " is none of these");
        }
        return evaluator;
    }

    /** Returns the engine of the account with this number; absent when it was not surveyed. */
    Optional<Evaluator> numbered(String account) {
        return Optional.ofNullable(byAccount.get(account));
    }

    /** Returns the engine of the account that owns a bucket of this name; absent when no survey knows it as its own. */
    Optional<Evaluator> owning(String bucketName) {
        if (byAccount.size() == 1) {
            return byAccount.values().stream()
                    .filter(evaluator -> evaluator.account().ownsBucket(bucketName) == Truth.TRUE)
                    .findFirst();
        }
        return Optional.ofNullable(byBucket().get(bucketName));
    }

    private synchronized Map<String, Evaluator> byBucket() {
        if (byBucket == null) {
            Map<String, Evaluator> all = new HashMap<>();
            for (Evaluator evaluator : byAccount.values()) {
                for (Bucket bucket : evaluator.account().buckets()) {
                    if (evaluator.account().ownsBucket(bucket.name()) == Truth.TRUE) {
                        all.putIfAbsent(bucket.name(), evaluator);
                    }
                }
            }
            byBucket = all;
        }
        return byBucket;
    }

    /** Returns what every request carries unless it says otherwise. */
    Map<String, ContextValue> time() {
        return time;
    }
}
