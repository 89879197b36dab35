package warden.core.aws.publishing;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.decision.AclSide;
import warden.core.aws.policy.Arn;
import warden.core.aws.publishing.Deployments.StepOf;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.Encryption;
import warden.core.pipeline.Needed;
import warden.core.pipeline.Needed.Evidence;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.site.SitePattern;

/**
 * The permissions that a credential needs to publish. From its pipelines where they are known, else from what its sites' patterns imply.
 *
 * <p>Source: AWS CLI Command Reference, "s3 sync", "s3 cp"; S3 API Reference, "Required permissions" of each operation; S3 User Guide,
 * "Protecting data with server-side encryption", permissions for multipart uploads; CloudFront Developer Guide, "Actions defined by
 * CloudFront".
 *
 * @param needed each action and resource once
 * @param open the steps that may need more: they are not understood, or name what only the running pipeline knows
 */
public record NeededPermissions(List<Needed> needed, List<Open> open) {
    public NeededPermissions {
        needed = List.copyOf(needed);
        open = List.copyOf(open);
    }

    /** A step that may need more, and why. */
    public record Open(StepOf step, String why) {}

    /** True when nothing is left open, so that what is needed is all that is needed. */
    public boolean isComplete() {
        return open.isEmpty();
    }

    /** Works out what a credential needs. */
    public static NeededPermissions of(PublishingPrincipal publisher, Deployments deployments) {
        return of(publisher, deployments, deployments.stepsOf(publisher));
    }

    /** Works out what a credential needs for these steps. */
    public static NeededPermissions of(PublishingPrincipal publisher, Deployments deployments, List<StepOf> steps) {
        Collector collector = new Collector(publisher, deployments);
        boolean publishes = steps.stream().anyMatch(each -> each.step().publishes());
        steps.forEach(collector::step);
        if (!publishes) {
            publisher.sites().forEach(collector::pattern);
        }
        return collector.result();
    }

    /** The number that stands for an account that nothing tells. */
    public static final String NO_ACCOUNT = "000000000000";

    /** Gathers permissions, the first reason for each. */
    private static final class Collector {
        private final PublishingPrincipal publisher;
        private final Deployments deployments;
        private final Map<String, Needed> needed = new LinkedHashMap<>();
        private final List<Open> open = new ArrayList<>();
        private final Set<String> bucketsWithOpenKey = new HashSet<>();

        Collector(PublishingPrincipal publisher, Deployments deployments) {
            this.publisher = publisher;
            this.deployments = deployments;
        }

        NeededPermissions result() {
            return new NeededPermissions(List.copyOf(needed.values()), open);
        }

        private static final String KEY = "s3:x-amz-server-side-encryption-aws-kms-key-id";

        private void add(String action, String on, String why, Evidence evidence) {
            Optional<Map<String, String>> carries =
                    evidence == Evidence.PIPELINE ? Optional.of(Map.of()) : Optional.empty();
            needed.putIfAbsent(action + " " + on, new Needed(action, on, why, evidence, carries));
        }

        private void put(String objects, String why, Map<String, String> carries) {
            needed.putIfAbsent(
                    "s3:PutObject " + objects + " " + new TreeMap<>(carries),
                    new Needed("s3:PutObject", objects, why, Evidence.PIPELINE, Optional.of(carries)));
        }

        void pattern(BucketSite site) {
            boolean served = site.account() == publisher.account()
                    && site.pattern().filter(SitePattern.REDIRECT_ONLY::equals).isEmpty();
            Optional<Bucket> bucket = served ? site.buckets().stream().findFirst() : Optional.empty();
            bucket.ifPresent(own -> {
                String why = "publishing " + site.name() + " implies it";
                add("s3:ListBucket", own.arn(), why, Evidence.PATTERN);
                add("s3:PutObject", own.object("*"), why, Evidence.PATTERN);
                add("s3:DeleteObject", own.object("*"), why, Evidence.PATTERN);
                encryption(own, true, why, Evidence.PATTERN, Optional.empty());
                for (Distribution distribution : site.distributions()) {
                    add("cloudfront:CreateInvalidation", distribution.arn(), why, Evidence.PATTERN);
                }
            });
        }

        void step(StepOf of) {
            Operation operation = of.step().operation();
            if (operation instanceof Operation.NotUnderstood unclear) {
                open.add(new Open(of, unclear.why()));
            } else if (operation instanceof Operation.Upload upload) {
                upload(of, upload);
            } else if (operation instanceof Operation.Remove removal) {
                bucket(of, removal.target()).ifPresent(bucket -> {
                    if (removal.many()) {
                        add("s3:ListBucket", bucket.arn(), why(of, "lists what to remove"), Evidence.PIPELINE);
                    }
                    add(
                            "s3:DeleteObject",
                            bucket.object(keys(removal.target(), removal.many())),
                            why(of, "removes"),
                            Evidence.PIPELINE);
                });
            } else if (operation instanceof Operation.Fetch fetch) {
                fetch(of, fetch);
            } else if (operation instanceof Operation.Invalidate invalidation) {
                invalidate(of, invalidation);
            } else if (operation instanceof Operation.Call call) {
                call(of, call);
            } else if (operation instanceof Operation.KeepState state) {
                bucket(of, state.target()).ifPresent(bucket -> {
                    add("s3:ListBucket", bucket.arn(), why(of, "keeps its state there"), Evidence.PIPELINE);
                    add(
                            "s3:GetObject",
                            bucket.object(keys(state.target(), false)),
                            why(of, "keeps its state there"),
                            Evidence.PIPELINE);
                    add(
                            "s3:PutObject",
                            bucket.object(keys(state.target(), false)),
                            why(of, "keeps its state there"),
                            Evidence.PIPELINE);
                });
            }
        }

        private static String why(StepOf of, String does) {
            return "pipeline " + of.pipeline().place(of.step()) + " " + does;
        }

        private Optional<Bucket> bucket(StepOf of, Target target) {
            Optional<Bucket> bucket = deployments.bucketOf(of.pipeline(), target.bucket());
            if (bucket.isPresent()) {
                return bucket;
            }
            if (target.bucket().isKnown()) {
                // Another account's bucket, or one that is not there: the permission is needed all the same.
                return Optional.of(publisher.account().bucket(target.bucket().text()));
            }
            open.add(new Open(
                    of,
                    "which bucket is meant is known only to the running pipeline ("
                            + String.join(", ", target.bucket().open()) + "); --set tells it"));
            return Optional.empty();
        }

        private void upload(StepOf of, Operation.Upload upload) {
            bucket(of, upload.target()).ifPresent(bucket -> {
                String objects = bucket.object(
                        keys(upload.target(), upload.many() || upload.extracts().orElse(false)));
                if (upload.lists()) {
                    add("s3:ListBucket", bucket.arn(), why(of, "compares with what is there"), Evidence.PIPELINE);
                }
                Map<String, String> carries = new HashMap<>(upload.carries());
                upload.acl().ifPresent(acl -> carries.put("s3:x-amz-acl", acl));
                put(objects, why(of, "uploads"), carries);
                Optional.ofNullable(carries.get(KEY))
                        .filter(key -> Arn.parse(key).isPresent())
                        .ifPresent(key -> {
                            add("kms:GenerateDataKey", key, why(of, "uploads under this key"), Evidence.PIPELINE);
                            add("kms:Decrypt", key, why(of, "uploads under this key"), Evidence.PIPELINE);
                        });
                if (upload.deletes()) {
                    add("s3:DeleteObject", objects, why(of, "removes what is gone"), Evidence.PIPELINE);
                }
                // What the bucket refuses in any case is not needed: the ACL has to go.
                boolean refused = upload.acl()
                        .flatMap(acl -> AclSide.uploadRefusal(bucket, Optional.of(publisher.account()), acl))
                        .isPresent();
                if (upload.acl().isPresent() && !refused) {
                    add("s3:PutObjectAcl", objects, why(of, "sets an ACL"), Evidence.PIPELINE);
                }
                encryption(bucket, true, why(of, "uploads under the bucket's key"), Evidence.PIPELINE, Optional.of(of));
            });
        }

        private void fetch(StepOf of, Operation.Fetch fetch) {
            bucket(of, fetch.from()).ifPresent(bucket -> {
                String objects = bucket.object(keys(fetch.from(), fetch.many()));
                if (fetch.many()) {
                    add("s3:ListBucket", bucket.arn(), why(of, "lists what to fetch"), Evidence.PIPELINE);
                }
                add("s3:GetObject", objects, why(of, "fetches"), Evidence.PIPELINE);
                if (fetch.moves()) {
                    add("s3:DeleteObject", objects, why(of, "moves"), Evidence.PIPELINE);
                }
                encryption(
                        bucket, false, why(of, "fetches under the bucket's key"), Evidence.PIPELINE, Optional.of(of));
            });
            fetch.to().ifPresent(to -> bucket(of, to).ifPresent(bucket -> {
                add("s3:PutObject", bucket.object(keys(to, fetch.many())), why(of, "copies"), Evidence.PIPELINE);
                encryption(bucket, true, why(of, "copies under the bucket's key"), Evidence.PIPELINE, Optional.of(of));
            }));
        }

        private void invalidate(StepOf of, Operation.Invalidate invalidation) {
            List<Distribution> distributions = deployments.distributionsOf(of.pipeline(), invalidation.distribution());
            for (Distribution distribution : distributions) {
                add("cloudfront:CreateInvalidation", distribution.arn(), why(of, "invalidates"), Evidence.PIPELINE);
            }
            if (distributions.isEmpty() && invalidation.distribution().isKnown()) {
                add(
                        "cloudfront:CreateInvalidation",
                        distributionArn(invalidation.distribution().text()),
                        why(of, "invalidates"),
                        Evidence.PIPELINE);
            } else if (distributions.isEmpty()) {
                open.add(new Open(
                        of,
                        "which distribution is meant is known only to the running pipeline ("
                                + String.join(", ", invalidation.distribution().open()) + "); --set tells it"));
            }
        }

        private String distributionArn(String id) {
            String account = publisher.account().number();
            // An identifier of a distribution is unique over all accounts.
            return "arn:aws:cloudfront::" + (account.equals(NO_ACCOUNT) ? "*" : account) + ":distribution/" + id;
        }

        private void call(StepOf of, Operation.Call call) {
            String on = call.on().text();
            if (on.startsWith("distribution/")) {
                PipelineValue id = new PipelineValue(
                        on.substring("distribution/".length()), call.on().open());
                List<Distribution> distributions = deployments.distributionsOf(of.pipeline(), id);
                distributions.forEach(
                        each -> add(call.action(), each.arn(), why(of, "asks for it"), Evidence.PIPELINE));
                if (distributions.isEmpty() && id.isKnown()) {
                    add(call.action(), distributionArn(id.text()), why(of, "asks for it"), Evidence.PIPELINE);
                }
            } else if (call.on().isKnown()) {
                add(call.action(), on, why(of, "calls it"), Evidence.PIPELINE);
            } else {
                Target target = Target.ofPath(new PipelineValue(
                        on.replaceFirst("^arn:aws:s3:::", ""), call.on().open()));
                bucket(of, target)
                        .ifPresent(bucket -> add(
                                call.action(),
                                target.prefix().text().isEmpty() ? bucket.arn() : bucket.object("*"),
                                why(of, "calls it"),
                                Evidence.PIPELINE));
            }
        }

        /** Returns the keys that a step touches, as a pattern. */
        private static String keys(Target target, boolean many) {
            String prefix = target.prefix().isKnown() ? target.prefix().text() : "";
            if (!target.prefix().isKnown() || prefix.isEmpty()) {
                return "*";
            }
            return many
                    ? (prefix.endsWith("/") ? prefix : prefix + "/") + "*"
                    : prefix.endsWith("/") ? prefix + "*" : prefix;
        }

        /** A key of the account's own has to be usable too; where it is not known whether there is one, that is left open. */
        private void encryption(Bucket bucket, boolean writes, String why, Evidence evidence, Optional<StepOf> step) {
            boolean isOpen = bucket.encryption().missing().isPresent();
            step.filter(of -> isOpen)
                    .filter(of -> bucketsWithOpenKey.add(bucket.name()))
                    .ifPresent(of -> open.add(new Open(
                            of,
                            "whether the bucket " + bucket.name() + " encrypts under a key of its own is not known;"
                                    + " then kms:GenerateDataKey and kms:Decrypt on that key are needed too")));
            Optional<Encryption> encryption = bucket.encryption().found().filter(Encryption::withKey);
            encryption.flatMap(Encryption::key).map(this::keyArn).ifPresent(key -> {
                if (writes) {
                    add("kms:GenerateDataKey", key, why, evidence);
                }
                // An upload in parts reads its own parts back.
                add("kms:Decrypt", key, why, evidence);
            });
        }

        private String keyArn(String reference) {
            if (Arn.parse(reference).isPresent()) {
                return reference;
            }
            Account account = publisher.account();
            return account.survey().subjects("key-policy").stream()
                    .filter(arn -> arn.endsWith("/" + reference))
                    .findFirst()
                    .orElse("arn:aws:kms:*:" + account.number() + ":key/" + reference.replaceFirst("^alias/.*", "*"));
        }
    }
}
