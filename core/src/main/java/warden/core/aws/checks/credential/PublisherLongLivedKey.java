package warden.core.aws.checks.credential;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.checks.CredentialCards;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/** Finds publishing users with an access key where a role would do. */
final class PublisherLongLivedKey implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_LONG_LIVED_KEY;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        if (subject.publisher().principal().isRole()) {
            return List.of();
        }
        Reading<JsonPart> keys = subject.publisher()
                .account()
                .survey()
                .reading("iam-user-keys", subject.publisher().arn());
        if (keys.isUnread()) {
            return List.of(subject.unknown(keys.missing().stream().toList()));
        }
        Optional<JsonPart> active = keys.found().stream()
                .flatMap(answer -> answer.list("AccessKeyMetadata").stream())
                .filter(key -> key.text("Status").filter("Active"::equals).isPresent())
                .findFirst();
        if (active.isEmpty()) {
            return List.of(subject.clean());
        }
        Citation at = keys.citation().orElseThrow().at(active.get().at().toString(), "");
        String says =
                subject.name() + " publishes with a user's access key; a role that the pipeline assumes needs none.";
        return List.of(new Verdict.Flagged(subject.finding(CARD, says, List.of(at))));
    }
}
