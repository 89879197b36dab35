package warden.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.decision.Decision;
import warden.core.decision.Evaluator;
import warden.core.decision.Request;
import warden.core.document.JsonPart.JsonText;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.document.Pointer;
import warden.core.policy.Actor;
import warden.core.storage.Bucket;
import warden.core.storage.PublicAccessBlock;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

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

    /**
     * A change.
     *
     * @param says what to do, as a sentence without its stop
     * @param lines what takes the place of readings in the copy
     */
    private record Change(String says, List<SurveyLine> lines) {
        Change and(Change other) {
            List<SurveyLine> both = new ArrayList<>(lines);
            both.addAll(other.lines());
            return new Change(says + ", and " + lowered(other.says()), both);
        }
    }

    /** Returns what to do, as a sentence; absent when none of the changes that are tried gives the page. */
    Optional<String> find() {
        return candidates().stream().filter(this::lets).findFirst().map(this::spelled);
    }

    /** A bucket that is meant to be closed is not to be opened to mend an address that nobody should use. */
    private String spelled(Change change) {
        boolean opens = request.who() instanceof Actor.Anyone
                && change.lines().stream().anyMatch(line -> line.aspect().equals("bucket-policy"));
        return opens
                ? "If visitors are meant to read the bucket: " + lowered(change.says())
                        + "; if not, serve it through a distribution that signs."
                : change.says() + ".";
    }

    private static String lowered(String sentence) {
        return sentence.substring(0, 1).toLowerCase(Locale.ROOT) + sentence.substring(1);
    }

    private boolean lets(Change change) {
        Survey copy = account.survey();
        for (SurveyLine line : change.lines()) {
            copy = copy.with(line);
        }
        return new Evaluator(new Account(copy)).decideUnsurveyed(request).outcome() == Decision.Outcome.ALLOW;
    }

    /** The changes to try, the smaller before the larger. */
    private List<Change> candidates() {
        List<Change> single = new ArrayList<>();
        if (request.who() instanceof Actor.Anyone) {
            open(account.publicAccessBlock().found(), "account-public-access", account.number())
                    .ifPresent(single::add);
            open(bucket.publicAccessBlock().found(), "bucket-public-access", bucket.arn())
                    .ifPresent(single::add);
            if (bucket.isAskedWhoPays()) {
                single.add(new Change(
                        "Let the bucket's owner pay: turn off requester pays",
                        List.of(found("bucket-payer", bucket.arn(), "{\"Payer\":\"BucketOwner\"}"))));
            }
        }
        Optional<Change> grant = grant();
        List<Change> all = new ArrayList<>(single);
        grant.ifPresent(all::add);
        for (int i = 0; i < single.size(); i++) {
            for (int j = i + 1; j < single.size(); j++) {
                all.add(single.get(i).and(single.get(j)));
            }
        }
        grant.ifPresent(granting -> {
            single.forEach(other -> all.add(granting.and(other)));
            single.stream().reduce(Change::and).ifPresent(every -> all.add(granting.and(every)));
        });
        return all;
    }

    private static Optional<Change> open(Optional<PublicAccessBlock> block, String aspect, String of) {
        String whose = aspect.startsWith("account") ? "the account's" : "the bucket's";
        return block.filter(each -> each.restrictPublicBuckets() || each.ignorePublicAcls())
                .map(each -> new Change(
                        "Turn off " + (each.restrictPublicBuckets() ? "RestrictPublicBuckets" : "IgnorePublicAcls")
                                + " in " + whose + " public access block, which takes the grant back",
                        List.of(found(
                                aspect,
                                of,
                                "{\"PublicAccessBlockConfiguration\":{\"BlockPublicAcls\":" + each.blockPublicAcls()
                                        + ",\"IgnorePublicAcls\":false,\"BlockPublicPolicy\":"
                                        + each.blockPublicPolicy() + ",\"RestrictPublicBuckets\":false}}"))));
    }

    /** Adds a statement for the reader to the policy; absent where the policy is not known. */
    private Optional<Change> grant() {
        String principal;
        String who;
        if (request.who() instanceof Actor.Anyone) {
            principal = "\"*\"";
            who = "everyone";
        } else if (request.who() instanceof Actor.OriginIdentity identity) {
            principal = "{\"AWS\":\"arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity " + identity.id()
                    + "\"}";
            who = "the origin access identity " + identity.id();
        } else {
            return Optional.empty();
        }
        String statement = "{\"Effect\":\"Allow\",\"Principal\":" + principal
                + ",\"Action\":\"s3:GetObject\",\"Resource\":\"" + bucket.arn() + "/*\"}";
        Optional<String> statements = bucket.policy().isAbsent()
                ? Optional.of("")
                : account.survey()
                        .reading("bucket-policy", bucket.arn())
                        .found()
                        .flatMap(answer -> answer.text("Policy"))
                        .flatMap(SmallestChange::statements);
        return statements.map(own -> {
            String text =
                    "{\"Version\":\"2012-10-17\",\"Statement\":[" + own + (own.isEmpty() ? "" : ",") + statement + "]}";
            String quoted = JsonSpelling.of(new JsonText(Pointer.ROOT, text));
            return new Change(
                    "Grant " + who + " s3:GetObject on " + bucket.arn() + "/* in the bucket policy",
                    List.of(found("bucket-policy", bucket.arn(), "{\"Policy\":" + quoted + "}")));
        });
    }

    /** Returns the statements of a policy's text, separated by commas. */
    private static Optional<String> statements(String policy) {
        return JsonReader.read(policy)
                .root()
                .flatMap(root -> root.find("Statement"))
                .map(part -> {
                    String text = JsonSpelling.of(part);
                    return text.startsWith("[")
                            ? text.substring(1, text.length() - 1).strip()
                            : text;
                });
    }

    private static SurveyLine found(String aspect, String of, String body) {
        return new SurveyLine("", 1, aspect, of, "", Outcome.FOUND, body);
    }
}
