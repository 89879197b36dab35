package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.storage.Website;
import warden.core.aws.survey.AwsAspects;
import warden.core.checks.HostingCards;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/** Finds websites whose index document does not exist at the root. */
final class IndexMissing implements SiteBucketCheck {
    private static final CheckCard CARD = HostingCards.INDEX_MISSING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        if (!(subject.bucket().website() instanceof Reading.Found<Website> website)) {
            return subject.bucket().website().missing().stream()
                    .map(need -> subject.unknown(List.of(need)))
                    .toList();
        }
        Optional<String> index = website.value().index().filter(suffix -> !suffix.isEmpty() && !suffix.contains("/"));
        if (index.isEmpty() || website.value().redirectsAll()) {
            return List.of();
        }
        Verdict verdict = subject.bucket()
                .objects()
                .fold(
                        found -> judge(subject, website, index.get(), found),
                        absent -> subject.clean(),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }

    private static Verdict judge(
            Subject subject, Reading.Found<Website> website, String index, Reading.Found<ObjectListing> objects) {
        Truth exists = objects.value().has(index);
        if (exists == Truth.TRUE) {
            return subject.clean();
        }
        if (exists == Truth.UNKNOWN) {
            return subject.unknown(List.of(
                    AwsAspects.cutShort("bucket-objects", subject.bucket().arn())));
        }
        Optional<String> nested = objects.value().keys().stream()
                .filter(key -> key.endsWith("/" + index))
                .findFirst();
        String says = "The index document " + index + " does not exist at the root of the bucket"
                + nested.map(key -> "; the nearest is " + key).orElse("") + ".";
        List<Citation> because =
                new ArrayList<>(List.of(website.at(), objects.at().at("", "")));
        nested.flatMap(objects.value()::citation).ifPresent(because::add);
        return new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, because));
    }
}
