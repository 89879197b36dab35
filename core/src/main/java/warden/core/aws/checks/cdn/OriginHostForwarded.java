package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.Origin;
import warden.core.survey.Citation;

/** Finds behaviours that pass the visitor's Host header to a bucket. */
final class OriginHostForwarded implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "origin-host-forwarded",
            Area.CDN,
            Severity.HIGH,
            "the viewer's Host header is sent to a storage origin: refused",
            "distribution, origin-request-policy",
            "The storage service goes by the Host header and looks for a bucket named like the site: visitors get 403 or 404.",
            "Use an origin request policy that leaves Host out, such as AllViewerExceptHostHeader.",
            "CloudFront Developer Guide, \"Use managed origin request policies\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Behavior behavior : subject.distribution().behaviors()) {
            Optional<Origin> origin = subject.storageOrigin(behavior);
            if (origin.isEmpty()) {
                continue;
            }
            verdicts.add(subject.account()
                    .edgePolicies()
                    .forwarded(behavior, subject.distribution().at())
                    .fold(
                            found ->
                                    found.value().contains("*") || found.value().contains("host")
                                            ? judge(subject, behavior, origin.get(), found.at())
                                            : subject.clean(),
                            absent -> subject.clean(),
                            unread -> subject.unknown(List.of(unread.need()))));
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Behavior behavior, Origin origin, Citation policy) {
        boolean signs = origin.identity().isPresent() || origin.control().isPresent();
        List<String> hosts = subject.distribution().aliases();
        boolean namedLikeHosts = !hosts.isEmpty()
                && hosts.stream()
                        .allMatch(host -> origin.bucket().filter(host::equals).isPresent());
        if (namedLikeHosts && !signs) {
            // The storage service finds the right bucket by the host that it is given.
            return subject.clean();
        }
        String says = "In " + behavior.called() + " the visitor's Host header is passed to " + origin.domain()
                + ", which refuses it.";
        return new Verdict.Flagged(Finding.of(
                        CARD,
                        subject.distribution().arn(),
                        subject.site(),
                        says,
                        List.of(subject.distribution().cite(behavior), policy))
                .at(behavior.pathPattern().orElse("*")));
    }
}
