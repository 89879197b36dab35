package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.Familiar;
import warden.core.aws.audit.Familiar.Whose;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.reach.Grantee;
import warden.core.aws.reach.NamedCallers;
import warden.core.aws.reach.NamedCallers.Caller;
import warden.core.aws.reach.Possibility;
import warden.core.aws.reach.Reach;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Need;

/** Finds publishing roles that an account outside the trusted ones may assume. */
final class TrustOutsideAccount implements PublisherCheck {
    private static final String ASSUME = "sts:AssumeRole";
    private static final CheckCard CARD = new CheckCard(
                    "trust-outside-account",
                    Area.CREDENTIAL,
                    Severity.HIGH,
                    "an account, organization or outside role that is not in trusted-accounts may assume a publishing role; critical where no external id is asked for and the role may write",
                    "iam-role",
                    "Whoever runs that account decides who publishes this site; you do not.",
                    "Take the account out of the role's trust policy, or list it under trusted-accounts in the site file.",
                    "IAM User Guide, \"Access to AWS accounts owned by third parties\"")
            .atWorst(Severity.CRITICAL);

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        Optional<PolicyDocument> trust = subject.publisher().principal().trust();
        if (trust.isEmpty()) {
            return List.of();
        }
        Account account = subject.publisher().account();
        Familiar familiar = new Familiar(subject.context().cloud(), account);
        List<Verdict> verdicts = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        for (Caller caller : NamedCallers.in(account, trust.get())) {
            Whose whose = familiar.of(caller);
            if (whose == Whose.OURS || caller.grantee().who() instanceof Actor.Service) {
                continue;
            }
            Possibility can = assumes(subject, caller, Map.of());
            if (can instanceof Possibility.Open open) {
                needs.addAll(open.needs());
            } else if (can instanceof Possibility.Allowed allowed) {
                needs.addAll(whose == Whose.UNKNOWN ? familiar.whatWouldTell(caller) : List.of());
                if (whose == Whose.FOREIGN) {
                    verdicts.addAll(flagged(subject, caller, allowed));
                }
            }
        }
        if (!needs.isEmpty()) {
            verdicts.add(subject.unknown(needs));
        }
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }

    private static Possibility assumes(Subject subject, Caller caller, Map<String, ContextValue> more) {
        Map<String, ContextValue> settled = new HashMap<>(caller.grantee().settled());
        settled.putAll(more);
        return reach(subject)
                .can(caller.grantee().who(), ASSUME, subject.publisher().arn(), settled);
    }

    private static Reach reach(Subject subject) {
        return subject.context().cloud().reach(subject.publisher().account());
    }

    private static List<Verdict> flagged(Subject subject, Caller caller, Possibility.Allowed allowed) {
        Possibility withoutId = assumes(subject, caller, Map.of("sts:ExternalId", ContextValue.ABSENT));
        boolean asksForNone = withoutId instanceof Possibility.Allowed;
        String says = "The publishing role " + subject.name() + " can be assumed from outside: by " + caller.called()
                + ", which is not trusted" + (asksForNone ? " and need not show an external id." : ".");
        Finding finding = subject.finding(CARD, says, allowed.decision().because())
                .at(caller.grantee().label())
                .with(Optional.of(allowed.witness()));
        List<Need> open = new ArrayList<>();
        Truth writes = writes(subject, open);
        Truth unasked = Truth.of(asksForNone);
        if (withoutId instanceof Possibility.Open unsettled) {
            open.addAll(unsettled.needs());
            unasked = Truth.UNKNOWN;
        }
        return switch (unasked.and(writes)) {
            case TRUE -> List.of(new Verdict.Flagged(finding.as(Severity.CRITICAL)));
            case FALSE -> List.of(new Verdict.Flagged(finding));
            case UNKNOWN -> Verdict.atLeast(finding, Severity.CRITICAL, subject.unknown(open));
        };
    }

    /** Returns whether the role may write to a bucket of its sites, and adds what would tell where that is not known. */
    private static Truth writes(Subject subject, List<Need> open) {
        Grantee role =
                new Grantee(new Actor.Role(subject.publisher().principal().arn()));
        Truth writes = Truth.FALSE;
        for (Bucket bucket : subject.buckets()) {
            Extent extent = reach(subject).extent(bucket, role, Ability.WRITE);
            writes = writes.or(extent.truth());
            if (extent.kind() == Extent.Kind.UNKNOWN) {
                open.addAll(extent.needsOr("bucket-policy", bucket.arn()));
            }
        }
        return writes;
    }
}
