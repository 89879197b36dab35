package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.check.Area;
import warden.core.check.CheckCard;
import warden.core.check.EachCheck;
import warden.core.check.Familiar;
import warden.core.check.Familiar.Whose;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.policy.Actor;
import warden.core.policy.ContextValue;
import warden.core.reach.Ability;
import warden.core.reach.Grantee;
import warden.core.reach.NamedCallers;
import warden.core.reach.NamedCallers.Caller;
import warden.core.reach.Possibility;
import warden.core.reach.Reach;
import warden.core.storage.Bucket;
import warden.core.survey.Need;

/** Finds publishing roles that an account outside the trusted ones may assume. */
final class TrustOutsideAccount implements EachCheck<PublisherCheck.Subject> {
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
    public List<PublisherCheck.Subject> subjects(Setup setup) {
        List<PublisherCheck.Subject> subjects = new ArrayList<>();
        setup.publishers().forEach(each -> subjects.add(new PublisherCheck.Subject(setup, each, List.of())));
        setup.possiblePublishers()
                .forEach(each -> subjects.add(new PublisherCheck.Subject(setup, each.publisher(), each.needs())));
        subjects.removeIf(subject -> subject.publisher().principal().trust().isEmpty());
        return subjects;
    }

    @Override
    public List<Verdict> unread(Setup setup) {
        return CredentialNeeds.unread(setup);
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Subject subject) {
        Account account = subject.publisher().account();
        Familiar familiar = new Familiar(subject.setup().estate(), account);
        List<Verdict> verdicts = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        for (Caller caller :
                NamedCallers.in(account, subject.publisher().principal().trust().orElseThrow())) {
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
                    verdicts.add(new Verdict.Flagged(finding(subject, caller, allowed)));
                }
            }
        }
        if (!verdicts.isEmpty()) {
            return subject.doubts().isEmpty() ? verdicts : List.of(subject.unknown(subject.doubts()));
        }
        return List.of(
                needs.isEmpty()
                        ? subject.clean()
                        : subject.unknown(needs.stream().distinct().toList()));
    }

    private static Possibility assumes(PublisherCheck.Subject subject, Caller caller, Map<String, ContextValue> more) {
        Map<String, ContextValue> settled = new HashMap<>(caller.grantee().settled());
        settled.putAll(more);
        return reach(subject)
                .can(caller.grantee().who(), ASSUME, subject.publisher().arn(), settled);
    }

    private static Reach reach(PublisherCheck.Subject subject) {
        return subject.setup().estate().reach(subject.publisher().account());
    }

    private static Finding finding(PublisherCheck.Subject subject, Caller caller, Possibility.Allowed allowed) {
        boolean withoutId =
                assumes(subject, caller, Map.of("sts:ExternalId", ContextValue.ABSENT)) instanceof Possibility.Allowed;
        Severity severity = withoutId && mayWrite(subject) ? Severity.CRITICAL : Severity.HIGH;
        String says = "The publishing role " + subject.name() + " can be assumed from outside: by " + caller.called()
                + ", which is not trusted" + (withoutId ? " and need not show an external id." : ".");
        return subject.finding(CARD, says, allowed.decision().because())
                .at(caller.grantee().label())
                .with(Optional.of(allowed.witness()))
                .as(severity);
    }

    /** True unless it surely may not write to any of its sites' buckets. */
    private static boolean mayWrite(PublisherCheck.Subject subject) {
        Grantee role =
                new Grantee(new Actor.Role(subject.publisher().principal().arn()));
        for (Bucket bucket : subject.buckets()) {
            if (reach(subject).extent(bucket, role, Ability.WRITE).isSome()) {
                return true;
            }
        }
        return false;
    }
}
