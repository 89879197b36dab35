package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Origin;

/** Finds origin access identities, which origin access control has replaced. */
final class OriginIdentityLegacy implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "origin-identity-legacy",
            Area.CDN,
            Severity.LOW,
            "an origin access identity where origin access control is available",
            "distribution",
            "An identity cannot read objects under customer keys or in newer regions, and is no longer developed.",
            "Change the origin to origin access control; allow both in the bucket policy until that is rolled out.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Origin origin : subject.distribution().origins()) {
            if (origin.isRest() && origin.identity().isPresent()) {
                String says = "The origin " + origin.domain() + " is reached by the origin access identity "
                        + origin.identity().get() + ", where origin access control is available.";
                verdicts.add(new Verdict.Flagged(Finding.of(
                                CARD,
                                subject.distribution().arn(),
                                subject.site(),
                                says,
                                List.of(subject.distribution().cite(origin)))
                        .at(origin.id())));
            }
        }
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }
}
