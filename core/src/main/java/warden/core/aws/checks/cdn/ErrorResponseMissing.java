package warden.core.aws.checks.cdn;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Decision;
import warden.core.access.Extent;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Origin;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.reach.Grantee;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Need;

/** Finds REST origins whose 403 for missing pages reaches visitors. */
final class ErrorResponseMissing implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "error-response-missing",
            Area.CDN,
            Severity.MEDIUM,
            "REST origin and a missing page shows the storage's raw 403",
            "distribution, bucket-policy",
            "Who follows a broken link is told that access is denied, in XML.",
            "Answer 403 by a custom error response with a page of the site and status 404.",
            "CloudFront Developer Guide, \"Generate custom error responses\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Origin> origin = subject.distribution().defaultOrigin();
        Optional<Bucket> bucket = subject.bucketOfPages();
        if (bucket.isEmpty()) {
            return List.of();
        }
        if (subject.distribution().errorResponse(403).isPresent()) {
            return List.of(subject.clean());
        }
        Grantee edge = BucketMatrix.edge(subject.distribution(), origin.get(), subject.account());
        if (subject.reachOf(bucket.get())
                        .extent(bucket.get(), edge, Ability.READ)
                        .kind()
                == Extent.Kind.NONE) {
            // Where nothing can be read at all, that is the fault to report.
            return List.of(subject.clean());
        }
        Optional<Need> function = subject.distribution()
                .defaultBehavior()
                .flatMap(behavior -> subject.functionIn(behavior, each -> true));
        if (function.isPresent()) {
            return List.of(subject.unknown(List.of(function.get())));
        }
        Map<String, ContextValue> context = new HashMap<>(edge.settled());
        context.put("aws:SecureTransport", ContextValue.Known.of("true"));
        Decision list = subject.reachOf(bucket.get())
                .evaluator()
                .decide(new Request(edge.who(), "s3:ListBucket", bucket.get().arn(), Context.given(context)));
        return List.of(
                switch (list.outcome()) {
                    case ALLOW -> subject.clean();
                    case UNKNOWN ->
                        subject.unknown(
                                list.needs().isEmpty()
                                        ? List.of(new Need(
                                                "bucket-policy", bucket.get().arn(), list.says(), ""))
                                        : list.needs());
                    case DENY ->
                        subject.flagged(
                                CARD,
                                "A missing page shows the storage service's raw 403: there is no custom error response for it.",
                                List.of(subject.distribution().cite("CustomErrorResponses")));
                });
    }
}
