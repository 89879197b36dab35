package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.Origin;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.survey.AwsAspects;
import warden.core.checks.CdnCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds folders with an index page behind a REST origin, which does not know index documents. */
final class FolderIndexUnserved implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.FOLDER_INDEX_UNSERVED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Origin> origin = subject.distribution().defaultOrigin();
        Optional<Bucket> bucket = subject.bucketOfPages();
        if (bucket.isEmpty()) {
            return List.of();
        }
        Reading<ObjectListing> objects = bucket.get().objects();
        if (objects.isUnread()) {
            return List.of(subject.unknown(objects.missing().stream().toList()));
        }
        String root = origin.get().key("/");
        Optional<String> page = objects.found().stream()
                .flatMap(listing -> listing.keys().stream())
                .filter(key -> key.startsWith(root)
                        && key.endsWith("/index.html")
                        && key.length() > root.length() + "/index.html".length() - 1)
                .filter(key -> !key.equals(root + "index.html"))
                .findFirst();
        if (page.isEmpty()) {
            return List.of(
                    objects.found().filter(ObjectListing::isComplete).isPresent()
                            ? subject.clean()
                            : subject.unknown(List.of(AwsAspects.cutShort(
                                    "bucket-objects", bucket.get().arn()))));
        }
        String folder = "/" + page.get().substring(root.length(), page.get().length() - "index.html".length());
        Optional<Behavior> behavior = subject.distribution().behaviorFor(folder);
        Optional<Need> function = behavior.flatMap(each -> subject.functionIn(each, Behavior.EdgeFunction::mayRewrite));
        if (function.isPresent()) {
            return List.of(subject.unknown(List.of(function.get())));
        }
        String says = "The page " + page.get() + " exists, and nothing at the edge turns " + folder + " into it.";
        List<Citation> because = new ArrayList<>(List.of(subject.distribution().cite(origin.get())));
        objects.found().flatMap(listing -> listing.citation(page.get())).ifPresent(because::add);
        return List.of(subject.flagged(CARD, says, because));
    }
}
