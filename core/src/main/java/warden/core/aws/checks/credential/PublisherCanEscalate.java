package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.access.Decision;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.permission.EscalationPath;
import warden.core.aws.reach.Possibility;
import warden.core.checks.CredentialCards;
import warden.core.survey.Citation;

/** Finds publishing credentials that can give themselves more. */
final class PublisherCanEscalate implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_CAN_ESCALATE;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final int MOST_NAMED = 4;

    @Override
    public List<Verdict> judge(Subject subject) {
        EscalationPath.Ways ways = EscalationPath.openTo(subject.permissions());
        List<EscalationPath.Open> open = ways.open();
        if (open.isEmpty()) {
            return List.of(ways.needs().isEmpty() ? subject.cleanUnlessUnread() : subject.unknown(ways.needs()));
        }
        List<Citation> because = new ArrayList<>();
        open.forEach(path -> path.requests()
                .forEach(request -> because.addAll(request.decision().because())));
        String said = open.stream()
                .limit(MOST_NAMED)
                .map(PublisherCanEscalate::spelled)
                .collect(Collectors.joining("; it can "));
        int more = open.size() - MOST_NAMED;
        String says = subject.name() + " can " + said + (more > 0 ? "; and " + more + " ways more" : "") + ".";
        // A request that the engine allows outright is the one to replay.
        Possibility.Allowed first = open.stream()
                .flatMap(path -> path.requests().stream())
                .filter(request -> request.decision().outcome() == Decision.Outcome.ALLOW)
                .findFirst()
                .orElse(open.get(0).requests().get(0));
        return List.of(new Verdict.Flagged(subject.finding(CARD, says, because).with(Optional.of(first.witness()))));
    }

    private static String spelled(EscalationPath.Open open) {
        return open.path().says() + " ("
                + open.requests().stream()
                        .map(request -> request.witness().action() + " on "
                                + request.witness().on())
                        .collect(Collectors.joining(", "))
                + ")";
    }
}
