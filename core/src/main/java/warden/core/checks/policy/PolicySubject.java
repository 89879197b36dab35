package warden.core.checks.policy;

import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import warden.core.account.Account;
import warden.core.algebra.Effort;
import warden.core.algebra.TooComplexException;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.TooComplex;
import warden.core.check.Verdict;
import warden.core.document.Pointer;
import warden.core.identity.HeldPolicy;
import warden.core.identity.Principal;
import warden.core.policy.PolicyDocument;
import warden.core.policy.PolicyKind;
import warden.core.policy.Statement;
import warden.core.site.Site;
import warden.core.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/**
 * One policy document that a check looks at.
 *
 * @param subject the identifier of what it is attached to
 * @param bucket the bucket's ARN for a bucket policy; empty for others
 */
record PolicySubject(String subject, Optional<String> site, String bucket, PolicyDocument document, Citation at) {
    /** More than any policy that is written for a purpose takes. */
    private static final long MOST_STEPS = 400_000;

    /** Returns the verdicts on every bucket policy; {@code judge} is asked for those that were read. */
    static List<Verdict> eachBucketPolicy(Setup setup, Function<PolicySubject, List<Verdict>> judge) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Bucket bucket : account.buckets()) {
                Optional<String> site =
                        setup.estate().sitesOf(bucket).stream().findFirst().map(Site::name);
                List<Verdict> here;
                try {
                    here = bucket.policy()
                            .fold(
                                    found -> Effort.within(
                                            MOST_STEPS,
                                            () -> judge.apply(new PolicySubject(
                                                    bucket.arn(), site, bucket.arn(), found.value(), found.at()))),
                                    absent -> List.<Verdict>of(),
                                    unread -> List.<Verdict>of(
                                            new Verdict.Unknown(bucket.arn(), site, List.of(unread.need()))));
                } catch (TooComplexException tooComplex) {
                    here = List.of(new Verdict.Unknown(
                            bucket.arn(), site, List.of(TooComplex.need("bucket-policy", bucket.arn(), tooComplex))));
                }
                verdicts.addAll(here.isEmpty() ? List.of(new Verdict.Clean(bucket.arn(), site)) : here);
            }
        }
        return verdicts;
    }

    /** Returns the key policies and identity-based policies of all accounts, inline and managed, each once. */
    static List<PolicySubject> others(Setup setup) {
        List<PolicySubject> all = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (String key : account.survey().subjects("key-policy")) {
                if (account.keyPolicy(key) instanceof Reading.Found<HeldPolicy> found) {
                    all.add(new PolicySubject(
                            key, Optional.empty(), "", found.value().document(), found.at()));
                }
            }
            for (Reading<HeldPolicy> policy : account.directory().organizationPolicies()) {
                policy.found().ifPresent(held -> all.add(held(held.at().subject(), held)));
            }
            // A managed policy is one document, however many hold it.
            Set<PolicyDocument> seen = Collections.newSetFromMap(new IdentityHashMap<>());
            for (Principal principal : account.directory().principals()) {
                principal.holdings().policies().stream()
                        .map(held -> held(subjectOf(principal, held), held))
                        .filter(held -> seen.add(held.document()))
                        .forEach(all::add);
                principal
                        .trust()
                        .ifPresent(trust -> all.add(new PolicySubject(
                                principal.arn().toString(), Optional.empty(), "", trust, principal.at())));
            }
        }
        return all;
    }

    private static PolicySubject held(String subject, HeldPolicy policy) {
        return new PolicySubject(subject, Optional.empty(), "", policy.document(), policy.at());
    }

    /** A managed policy is changed where it stands, an inline one at its holder. */
    private static String subjectOf(Principal principal, HeldPolicy held) {
        return held.at().aspect().equals("iam-policy") || held.at().aspect().equals("iam-group")
                ? held.at().subject()
                : principal.arn().toString();
    }

    Citation cite(Statement statement) {
        return at.at(statement.at().toString(), statement.text());
    }

    Citation cite(Pointer pointer, String quote) {
        return at.at(pointer.toString(), quote);
    }

    Verdict flagged(CheckCard card, String place, String says, List<Citation> because) {
        return new Verdict.Flagged(
                Finding.of(card, subject, site, says, because).at(place));
    }

    /** Names the document in a sentence. */
    String called() {
        return document.kind() == PolicyKind.BUCKET ? "The bucket policy" : "The policy";
    }
}
