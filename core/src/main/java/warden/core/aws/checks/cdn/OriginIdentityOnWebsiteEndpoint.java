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

/** Finds identities and controls on website endpoints. */
final class OriginIdentityOnWebsiteEndpoint implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "origin-identity-on-website-endpoint",
            Area.CDN,
            Severity.HIGH,
            "an identity or control on a website endpoint origin: it cannot work",
            "distribution",
            "A website endpoint answers anonymous requests only, so the bucket cannot be sealed behind it.",
            "Use the bucket's REST endpoint as the origin's domain, and a default root object.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Origin origin : subject.distribution().origins()) {
            if (!origin.isWebsite()) {
                continue;
            }
            boolean signs = origin.identity().isPresent() || origin.control().isPresent();
            String says = "The origin " + origin.domain() + " is a website endpoint, which an origin access "
                    + (origin.control().isPresent() ? "control" : "identity") + " cannot open.";
            verdicts.add(
                    signs
                            ? new Verdict.Flagged(Finding.of(
                                            CARD,
                                            subject.distribution().arn(),
                                            subject.site(),
                                            says,
                                            List.of(subject.distribution().cite(origin)))
                                    .at(origin.id()))
                            : subject.clean());
        }
        return verdicts;
    }
}
