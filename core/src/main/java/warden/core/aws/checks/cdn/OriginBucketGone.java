package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Origin;
import warden.core.checks.CdnCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds origins whose bucket is not in the account. */
final class OriginBucketGone implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.ORIGIN_BUCKET_GONE;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Origin origin : subject.distribution().origins()) {
            origin.bucket().ifPresent(name -> verdicts.add(judge(subject, origin, name)));
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Origin origin, String name) {
        if (subject.cloud().ownerOf(name).isPresent()) {
            return subject.clean();
        }
        List<Need> needs = subject.cloud().accounts().stream()
                .flatMap(account -> account.listedBuckets().missing().stream())
                .toList();
        if (!needs.isEmpty()) {
            return subject.unknown(needs);
        }
        List<Citation> because = new ArrayList<>(List.of(subject.distribution().cite(origin)));
        subject.cloud().accounts().forEach(account -> account.listedBuckets()
                .citation()
                .ifPresent(at -> because.add(at.at("/Buckets", ""))));
        String says = "The distribution fetches from the bucket " + name + ", which is not in the surveyed accounts.";
        return new Verdict.Flagged(Finding.of(CARD, subject.distribution().arn(), subject.site(), says, because)
                .at(origin.id()));
    }
}
