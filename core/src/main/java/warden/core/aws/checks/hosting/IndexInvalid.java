package warden.core.aws.checks.hosting;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.storage.Website;
import warden.core.checks.HostingCards;
import warden.core.survey.Reading;

/** Finds index suffixes that can name no object. */
final class IndexInvalid implements BucketCheck {
    private static final CheckCard CARD = HostingCards.INDEX_INVALID;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        if (!(subject.bucket().website() instanceof Reading.Found<Website> website)) {
            return List.of();
        }
        Website value = website.value();
        String suffix = value.index().orElse("");
        if (value.redirectsAll() || !(suffix.isEmpty() || suffix.contains("/"))) {
            return List.of(subject.clean());
        }
        String says = suffix.isEmpty()
                ? "The website names no index document."
                : "The website's index document is \"" + suffix + "\", which contains a slash.";
        return List.of(subject.flagged(CARD, says, List.of(website.at().at("/IndexDocument", suffix))));
    }
}
