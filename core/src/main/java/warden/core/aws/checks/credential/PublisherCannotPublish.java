package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.permission.Shortfall;
import warden.core.aws.publishing.NeededPermissions;
import warden.core.checks.CredentialCards;
import warden.core.pipeline.Needed;
import warden.core.survey.Citation;

/** Finds publishing credentials that lack what a deployment of their site takes. */
final class PublisherCannotPublish implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_CANNOT_PUBLISH;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        NeededPermissions needed = subject.needed();
        if (needed.needed().isEmpty()) {
            return List.of();
        }
        Shortfall shortfall = Shortfall.of(subject.permissions(), needed.needed());
        if (!shortfall.missing().isEmpty()) {
            List<Citation> because =
                    new ArrayList<>(List.of(subject.publisher().principal().at()));
            because.addAll(shortfall.because());
            List<String> actions =
                    shortfall.missing().stream().map(Needed::action).distinct().toList();
            String says = subject.name()
                    + subject.site().map(name -> " publishes " + name).orElse(" publishes") + " and is not allowed "
                    + String.join(", ", actions) + ".";
            return List.of(new Verdict.Flagged(subject.finding(CARD, says, because)));
        }
        return List.of(shortfall.needs().isEmpty() ? subject.clean() : subject.unknown(shortfall.needs()));
    }
}
