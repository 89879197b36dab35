package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.Origin;
import warden.core.checks.CdnCards;
import warden.core.survey.Citation;

/** Finds behaviours that pass the visitor's Host header to a bucket. */
final class OriginHostForwarded implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.ORIGIN_HOST_FORWARDED;

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
                    .edges()
                    .policies()
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
