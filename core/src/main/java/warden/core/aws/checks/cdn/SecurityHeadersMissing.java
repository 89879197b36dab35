package warden.core.aws.checks.cdn;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.Origin;
import warden.core.checks.CdnCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds sites that are served without the headers that protect visitors. */
final class SecurityHeadersMissing implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.SECURITY_HEADERS_MISSING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Behavior> behavior = subject.distribution().defaultBehavior();
        Optional<Origin> origin = behavior.flatMap(subject::storageOrigin);
        if (origin.isEmpty() || subject.onlyRedirects(origin.get())) {
            return List.of();
        }
        Verdict verdict = subject.account()
                .edges()
                .policies()
                .securityHeaders(behavior.get(), subject.distribution().at())
                .fold(
                        found -> judge(subject, behavior.get(), found.value(), found.at()),
                        absent -> judge(subject, behavior.get(), Set.of(), absent.at()),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }

    private static Verdict judge(Subject subject, Behavior behavior, Set<String> set, Citation policy) {
        boolean hsts = set.contains("hsts");
        boolean other = set.stream().anyMatch(name -> !name.equals("hsts"));
        if (hsts && other) {
            return subject.clean();
        }
        Optional<Need> function =
                subject.functionIn(behavior, each -> each.event().endsWith("-response"));
        if (function.isPresent()) {
            return subject.unknown(List.of(function.get()));
        }
        String says = !hsts && !other
                ? "Pages are served without HSTS and without any other protecting header."
                : hsts
                        ? "Pages are served without any header about content type sniffing, framing, content security or referrers."
                        : "Pages are served without HSTS.";
        return subject.flagged(CARD, says, List.of(subject.distribution().cite(behavior), policy));
    }
}
