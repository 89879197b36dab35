package warden.core.aws.checks.hosting;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;

/** Finds buckets that ask anonymous visitors to pay. */
final class RequesterPays implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "requester-pays",
            Area.HOSTING,
            Severity.HIGH,
            "the bucket asks the reader to pay: anonymous visitors get 403",
            "bucket-payer",
            "Anonymous requests cannot be billed, so every one is refused.",
            "Set the payer to the bucket's owner.",
            "S3 User Guide, \"Using Requester Pays buckets\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        if (!subject.needsPublicAccess()) {
            return List.of();
        }
        Verdict verdict = subject.bucket()
                .requesterPays()
                .fold(
                        found -> found.value()
                                ? subject.flagged(
                                        CARD,
                                        "The bucket asks its readers to pay, so anonymous visitors get 403.",
                                        List.of(found.at().at("/Payer", "Requester")))
                                : subject.clean(),
                        absent -> subject.clean(),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }
}
