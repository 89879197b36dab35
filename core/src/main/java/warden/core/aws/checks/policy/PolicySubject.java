package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.Statement;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Bucket;
import warden.core.document.Pointer;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * One policy document that a check looks at.
 *
 * @param subject the identifier of what it is attached to
 * @param bucket the bucket's ARN for a bucket policy; empty for others
 */
record PolicySubject(
        AwsContext context, String subject, Optional<String> site, String bucket, PolicyDocument document, Citation at)
        implements Judged {
    /** Returns the bucket policies that were read. */
    static List<PolicySubject> ofBuckets(AwsContext context) {
        List<PolicySubject> all = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (Bucket bucket : account.buckets()) {
                if (bucket.policy() instanceof Reading.Found<PolicyDocument> found) {
                    all.add(new PolicySubject(
                            context, bucket.arn(), site(context, bucket), bucket.arn(), found.value(), found.at()));
                }
            }
        }
        return all;
    }

    /** Returns every policy that was read: of buckets first. */
    static List<PolicySubject> all(AwsContext context) {
        List<PolicySubject> all = new ArrayList<>(ofBuckets(context));
        all.addAll(others(context));
        return all;
    }

    /** Returns what is to be said of the bucket policies that there are none of, and of those that were not read. */
    static List<Verdict> otherBuckets(AwsContext context) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (Bucket bucket : account.buckets()) {
                bucket.policy()
                        .missing()
                        .ifPresent(need ->
                                verdicts.add(new Verdict.Unknown(bucket.arn(), site(context, bucket), List.of(need))));
                if (bucket.policy().isAbsent()) {
                    verdicts.add(new Verdict.Clean(bucket.arn(), site(context, bucket)));
                }
            }
        }
        return verdicts;
    }

    private static Optional<String> site(AwsContext context, Bucket bucket) {
        return context.cloud().sitesOf(bucket).stream().findFirst().map(BucketSite::name);
    }

    /** Returns the key policies and identity-based policies of all accounts, inline and managed, each once. */
    private static List<PolicySubject> others(AwsContext context) {
        List<PolicySubject> all = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (String key : account.survey().subjects("key-policy")) {
                account.keyPolicy(key).found().ifPresent(held -> all.add(held(context, key, held)));
            }
            for (Reading<HeldPolicy> policy : account.directory().organizationPolicies()) {
                policy.found().ifPresent(held -> all.add(held(context, held.at().subject(), held)));
            }
            // A managed policy is one document, however many hold it.
            Set<PolicyDocument> seen = Collections.newSetFromMap(new IdentityHashMap<>());
            for (Principal principal : account.directory().principals()) {
                Stream.concat(principal.holdings().policies().stream(), principal.holdings().boundary().stream())
                        .map(held -> held(context, subjectOf(principal, held), held))
                        .filter(held -> seen.add(held.document()))
                        .forEach(all::add);
                principal
                        .trust()
                        .ifPresent(trust -> all.add(new PolicySubject(
                                context, principal.arn().toString(), Optional.empty(), "", trust, principal.at())));
            }
        }
        return all;
    }

    /** Returns open verdicts for the policies, users, groups and roles that were asked for and not read. */
    static List<Verdict> unreadOthers(AwsContext context) {
        List<Verdict> open = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (String aspect :
                    List.of("key-policy", "organization-policy", "iam-user", "iam-group", "iam-role", "iam-policy")) {
                for (String of : account.survey().subjects(aspect)) {
                    account.survey()
                            .missing(aspect, of)
                            .ifPresent(need -> open.add(new Verdict.Unknown(of, Optional.empty(), List.of(need))));
                }
            }
            // What somebody holds and no line describes has no line of its own.
            Set<Need> held = new LinkedHashSet<>();
            for (Principal principal : account.directory().principals()) {
                held.addAll(principal.holdings().missing());
                principal.holdings().boundaryMissing().ifPresent(held::add);
            }
            held.stream()
                    .filter(need -> !account.survey().asked(need.aspect(), need.of()))
                    .forEach(need -> open.add(new Verdict.Unknown(need.of(), Optional.empty(), List.of(need))));
        }
        return open;
    }

    private static PolicySubject held(AwsContext context, String subject, HeldPolicy policy) {
        return new PolicySubject(context, subject, Optional.empty(), "", policy.document(), policy.at());
    }

    /** A managed policy is changed where it stands, an inline one at its holder. */
    private static String subjectOf(Principal principal, HeldPolicy held) {
        return held.at().aspect().equals("iam-policy") || held.at().aspect().equals("iam-group")
                ? held.at().subject()
                : principal.arn().toString();
    }

    @Override
    public Verdict unknown(List<Need> needs) {
        return new Verdict.Unknown(subject, site, needs);
    }

    Verdict clean() {
        return new Verdict.Clean(subject, site);
    }

    Citation cite(Statement statement) {
        return at.at(statement.at().toString(), statement.text());
    }

    Citation cite(Pointer pointer, String quote) {
        return at.at(pointer.toString(), quote);
    }

    /** Returns a finding about a place in the document, which is told apart from others by what stands there. */
    Verdict flagged(CheckCard card, String place, String says, List<Citation> because) {
        String meaning = document.statements().stream()
                .filter(statement -> (place + "/").startsWith(statement.at() + "/"))
                .findFirst()
                .map(statement -> statement.meaning()
                        + (place.equals(statement.at().toString()) ? "" : " " + says.replaceAll("[0-9]+", "")))
                .orElse(place);
        return new Verdict.Flagged(
                Finding.of(card, subject, site, says, because).at(place).meaning(meaning));
    }

    /** Names the document in a sentence. */
    String called() {
        return document.kind() == PolicyKind.BUCKET ? "The bucket policy" : "The policy";
    }
}
