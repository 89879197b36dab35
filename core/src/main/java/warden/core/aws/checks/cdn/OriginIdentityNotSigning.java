package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.OriginControl;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/** Finds origin access controls that do not sign for a bucket. */
final class OriginIdentityNotSigning implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "origin-identity-not-signing",
            Area.CDN,
            Severity.HIGH,
            "origin access control that never signs, or of the wrong type",
            "distribution, origin-control",
            "The bucket sees a stranger, and refuses; or it must be open, and the control is for nothing.",
            "Set the control's signing behaviour to always and its origin type to s3.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Origin origin : subject.distribution().origins()) {
            if (origin.isRest() && origin.control().isPresent()) {
                Reading<OriginControl> control =
                        subject.account().edges().originControl(origin.control().get());
                verdicts.add(control.fold(
                        found -> judge(subject, origin, found),
                        absent -> flagged(subject, origin, "does not exist", absent.at()),
                        unread -> subject.unknown(List.of(unread.need()))));
            }
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Origin origin, Reading.Found<OriginControl> control) {
        if (control.value().signs().equals("never")) {
            return flagged(subject, origin, "never signs", control.at());
        }
        String type = control.value().originType();
        return type.isEmpty() || type.equals("s3")
                ? subject.clean()
                : flagged(subject, origin, "is of the type " + type + ", not s3", control.at());
    }

    private static Verdict flagged(Subject subject, Origin origin, String how, Citation at) {
        String says = "The origin access control " + origin.control().orElse("") + " of the origin " + origin.domain()
                + " " + how + ".";
        return new Verdict.Flagged(Finding.of(
                        CARD,
                        subject.distribution().arn(),
                        subject.site(),
                        says,
                        List.of(subject.distribution().cite(origin), at))
                .at(origin.id()));
    }
}
