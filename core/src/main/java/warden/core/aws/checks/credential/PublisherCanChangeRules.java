package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.access.Decision;
import warden.core.access.Witness;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.storage.Bucket;
import warden.core.checks.CredentialCards;
import warden.core.pipeline.Needed;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds publishing credentials that can change how their bucket is exposed, hosted or encrypted. */
final class PublisherCanChangeRules implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_CAN_CHANGE_RULES;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final List<String> RULES = List.of(
            "s3:PutBucketPolicy",
            "s3:DeleteBucketPolicy",
            "s3:PutBucketAcl",
            "s3:PutBucketPublicAccessBlock",
            "s3:PutBucketOwnershipControls",
            "s3:PutBucketWebsite",
            "s3:DeleteBucketWebsite",
            "s3:PutEncryptionConfiguration",
            "s3:DeleteBucket");

    @Override
    public List<Verdict> judge(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        Set<String> needed =
                subject.needed().needed().stream().map(Needed::action).collect(Collectors.toSet());
        for (Bucket bucket : subject.buckets()) {
            List<String> can = new ArrayList<>();
            List<Citation> because = new ArrayList<>();
            for (String action : RULES) {
                Decision decision = subject.permissions().asDeployment(action, bucket.arn(), Map.of());
                if (decision.outcome() == Decision.Outcome.ALLOW && !needed.contains(action)) {
                    can.add(action);
                    because.addAll(decision.because());
                } else if (decision.outcome() == Decision.Outcome.UNKNOWN) {
                    needs.addAll(decision.needs());
                }
            }
            if (!can.isEmpty()) {
                String says = subject.name() + " can change the rules of " + bucket.name() + ": "
                        + String.join(", ", can.subList(0, Math.min(4, can.size())))
                        + (can.size() > 4 ? " and " + (can.size() - 4) + " more." : ".");
                Witness witness = new Witness(
                        subject.publisher().actor().spelled(),
                        can.get(0),
                        bucket.arn(),
                        Map.of("aws:SecureTransport", "true"));
                verdicts.add(new Verdict.Flagged(
                        subject.finding(CARD, says, because).at(bucket.name()).with(Optional.of(witness))));
            }
        }
        if (!verdicts.isEmpty()) {
            return verdicts;
        }
        return List.of(needs.isEmpty() ? subject.clean() : subject.unknown(needs));
    }
}
