package warden.core.aws.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.trace.Remedy;

/**
 * Finds the smallest change after which a refused reader may read: each is made on a copy of the survey, and the request decided again there.
 */
final class SmallestChange {
    private final Account account;
    private final Bucket bucket;
    private final Request request;

    /** For a request that the bucket refuses. */
    SmallestChange(Account account, Bucket bucket, Request request) {
        this.account = account;
        this.bucket = bucket;
        this.request = request;
    }

    /** Returns what to do; absent when none of the changes that are tried lets the reader in. */
    Optional<Remedy> find() {
        return candidates().stream().filter(this::lets).findFirst().map(this::spelled);
    }

    /** A bucket that is meant to be closed is not to be opened to mend an address that nobody should use. */
    private Remedy spelled(Remedy remedy) {
        boolean opens = request.who() instanceof Actor.Anyone
                && remedy.changes().stream()
                        .anyMatch(change -> change.line().aspect().equals("bucket-policy"));
        return remedy.saying(
                opens
                        ? "If visitors are meant to read the bucket: " + Remedy.lowered(remedy.says())
                                + "; if not, serve it through a distribution that signs."
                        : remedy.says() + ".");
    }

    private boolean lets(Remedy remedy) {
        return new Evaluator(RemedyTrial.applied(remedy, account))
                        .decideUnsurveyed(request)
                        .outcome()
                == Decision.Outcome.ALLOW;
    }

    /** The changes to try, the smaller before the larger. */
    private List<Remedy> candidates() {
        List<Remedy> single = new ArrayList<>();
        if (request.who() instanceof Actor.Anyone) {
            open(account.publicAccessBlock().found(), "account-public-access", account.number())
                    .ifPresent(single::add);
            open(bucket.publicAccessBlock().found(), "bucket-public-access", bucket.arn())
                    .ifPresent(single::add);
            if (bucket.isAskedWhoPays()) {
                single.add(Remedy.of(
                        "Let the bucket's owner pay: turn off requester pays",
                        account,
                        Remedy.found("bucket-payer", bucket.arn(), Json.text(Json.object("Payer", "BucketOwner")))));
            }
        }
        List<Remedy> policy = new ArrayList<>();
        ontoObjects().ifPresent(policy::add);
        grant().ifPresent(policy::add);
        policy.addAll(withoutDenies());
        List<Remedy> all = new ArrayList<>(single);
        all.addAll(policy);
        for (int i = 0; i < single.size(); i++) {
            for (int j = i + 1; j < single.size(); j++) {
                all.add(single.get(i).and(single.get(j)));
            }
        }
        for (Remedy granting : policy) {
            single.forEach(other -> all.add(granting.and(other)));
            single.stream().reduce(Remedy::and).ifPresent(every -> all.add(granting.and(every)));
        }
        return all;
    }

    /** A statement that is there and names the bucket in the place of its objects is to be mended, not doubled. */
    private Optional<Remedy> ontoObjects() {
        Optional<Statement> wrong = bucket.policy().found().stream()
                .flatMap(policy -> policy.statements().stream())
                .filter(statement -> !statement.isOpaque() && statement.effect() == Effect.ALLOW)
                .filter(statement -> statement.actions().covers("s3:getobject"))
                .filter(statement -> statement.resources().stream()
                        .anyMatch(clause -> clause.covers(bucket.arn(), request.context()) == Truth.TRUE
                                && clause.covers(bucket.object("index.html"), request.context()) == Truth.FALSE))
                .findFirst();
        return wrong.flatMap(statement -> edited(
                "Write " + bucket.arn() + "/* into the resources of the bucket policy's " + statement.called()
                        + ", which grants s3:GetObject on the bucket and not on its objects",
                root -> JsonEdit.set(
                        root, statement.at() + "/Resource", Json.text(List.of(bucket.arn(), bucket.arn() + "/*")))));
    }

    /** Each statement that denies, left out. */
    private List<Remedy> withoutDenies() {
        return bucket.policy().found().stream()
                .flatMap(policy -> policy.statements().stream())
                .filter(statement -> statement.effect() == Effect.DENY)
                .flatMap(statement -> edited(
                        "Except " + reader().map(Reader::called).orElse("the reader") + " from the bucket policy's "
                                + statement.called() + ", which denies it",
                        root -> JsonEdit.remove(root, statement.at().toString()))
                        .stream())
                .toList();
    }

    private Optional<Remedy> open(Optional<PublicAccessBlock> block, String aspect, String of) {
        String whose = aspect.startsWith("account") ? "the account's" : "the bucket's";
        return block.filter(each -> each.restrictPublicBuckets() || each.ignorePublicAcls())
                .map(each -> Remedy.of(
                        "Turn off " + (each.restrictPublicBuckets() ? "RestrictPublicBuckets" : "IgnorePublicAcls")
                                + " in " + whose + " public access block, which takes the grant back",
                        account,
                        Remedy.found(
                                aspect,
                                of,
                                Json.text(Json.object(
                                        "PublicAccessBlockConfiguration",
                                        Json.object(
                                                "BlockPublicAcls",
                                                each.blockPublicAcls(),
                                                "IgnorePublicAcls",
                                                false,
                                                "BlockPublicPolicy",
                                                each.blockPublicPolicy(),
                                                "RestrictPublicBuckets",
                                                false))))));
    }

    /** Adds a statement for the reader to the policy; absent where the policy is not known. */
    private Optional<Remedy> grant() {
        return reader().flatMap(reader -> ownStatements().map(own -> {
            List<Object> statements = new ArrayList<>(own);
            statements.add(Json.object(
                    "Effect",
                    "Allow",
                    "Principal",
                    reader.principal(),
                    "Action",
                    "s3:GetObject",
                    "Resource",
                    bucket.arn() + "/*",
                    "Condition",
                    reader.condition()));
            return withPolicy(
                    "Grant " + reader.called() + " s3:GetObject on " + bucket.arn() + "/* in the bucket policy",
                    Json.text(Json.object("Version", "2012-10-17", "Statement", statements)));
        }));
    }

    /** How a statement names the reader, and a sentence calls him. */
    private record Reader(Object principal, Optional<Object> condition, String called) {}

    private Optional<Reader> reader() {
        if (request.who() instanceof Actor.Anyone) {
            return Optional.of(new Reader("*", Optional.empty(), "everyone"));
        }
        if (request.who() instanceof Actor.OriginIdentity identity) {
            String arn = "arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity " + identity.id();
            return Optional.of(new Reader(
                    Json.object("AWS", arn), Optional.empty(), "the origin access identity " + identity.id()));
        }
        if (request.who() instanceof Actor.Service service
                && request.context().get("aws:sourcearn") instanceof ContextValue.Known source
                && source.values().size() == 1) {
            String arn = source.values().get(0);
            return Optional.of(new Reader(
                    Json.object("Service", service.name()),
                    Optional.of(Json.object("StringEquals", Json.object("aws:SourceArn", arn))),
                    "the service " + service.name() + " for " + arn));
        }
        return Optional.empty();
    }

    /** Returns the text of the bucket's policy; absent where there is none, or it was not read. */
    private Optional<String> policyText() {
        return account.survey().reading("bucket-policy", bucket.arn()).found().flatMap(answer -> answer.text("Policy"));
    }

    /** Returns the statements of the bucket's policy; absent where the policy was not read. */
    private Optional<List<JsonPart>> ownStatements() {
        return bucket.policy().isAbsent()
                ? Optional.of(List.of())
                : policyText().flatMap(SmallestChange::statements);
    }

    private Optional<Remedy> edited(String says, UnaryOperator<String> edit) {
        return policyText().map(text -> withPolicy(says, edit.apply(text)));
    }

    private Remedy withPolicy(String says, String text) {
        return Remedy.of(
                says, account, Remedy.found("bucket-policy", bucket.arn(), Json.text(Json.object("Policy", text))));
    }

    private static Optional<List<JsonPart>> statements(String policy) {
        return JsonReader.read(policy)
                .root()
                .flatMap(root -> root.find("Statement"))
                .map(part -> part instanceof JsonPart.JsonArray array ? array.items() : List.of(part));
    }
}
