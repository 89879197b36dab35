package warden.core.aws.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import warden.core.access.Decision;
import warden.core.access.Decision.Outcome;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.storage.Website;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds sealed buckets that answer requests without TLS. */
final class PlainHttpToStorage implements SiteBucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "plain-http-to-storage",
            Area.EXPOSURE,
            Severity.LOW,
            "a sealed bucket accepts requests without TLS",
            "bucket-policy",
            "A client that is set up wrongly sends its requests, and what they carry, readable by everybody on the way.",
            "Add a statement that denies s3:* to everyone when aws:SecureTransport is false.",
            "S3 User Guide, \"Security best practices for Amazon S3\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        boolean sealed = !subject.needsPublicAccess() && subject.isMeantSealed();
        List<Need> unreadEdges = sealed || subject.isStated() ? List.of() : subject.unreadEdges();
        if (!sealed && unreadEdges.isEmpty()) {
            return List.of();
        }
        if (subject.bucket().website().found().filter(Website::redirectsAll).isPresent()) {
            // It holds nothing; what it answers over plain HTTP is where to go instead.
            return List.of();
        }
        // Nobody may do more than the account's root; if even root is refused, the deny is for all.
        Actor root = new Actor.AccountRoot(subject.account().number());
        List<Decision> decisions = new ArrayList<>();
        decisions.add(decide(subject, root, "s3:ListBucket", subject.bucket().arn()));
        decisions.add(decide(subject, root, "s3:GetObject", subject.bucket().object("index.html")));
        decisions.add(decide(subject, root, "s3:PutObject", subject.bucket().object("index.html")));
        if (decisions.stream().allMatch(decision -> decision.outcome() == Outcome.DENY)) {
            return List.of(subject.clean());
        }
        if (!sealed) {
            return List.of(subject.unknown(unreadEdges));
        }
        if (decisions.stream().anyMatch(decision -> decision.outcome() == Outcome.ALLOW)) {
            List<Citation> because =
                    subject.bucket().policy().citation().stream().toList();
            String says = "The bucket accepts requests over plain HTTP.";
            return List.of(
                    new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, because)));
        }
        return List.of(subject.unknown(decisions.stream()
                .flatMap(decision -> decision.needs().stream())
                .toList()));
    }

    private static Decision decide(Subject subject, Actor who, String action, String on) {
        Context plain = Context.given(Map.of("aws:SecureTransport", ContextValue.Known.of("false")));
        return subject.reach().evaluator().decide(new Request(who, action, on, plain));
    }
}
