package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.storage.Website;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.trace.Trace;
import warden.core.trace.WebAddress;

/** Finds redirects to plain HTTP although the target serves HTTPS. */
final class RedirectToPlainHttp implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "redirect-to-plain-http",
            Area.HOSTING,
            Severity.MEDIUM,
            "a redirect leads visitors to http: though the target serves HTTPS",
            "bucket-website, zone-records, distribution, certificate",
            "The next hop can be read and changed by everybody on the way.",
            "Set the redirect's protocol to https.",
            "S3 User Guide, \"Configuring a webpage redirect\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        if (!(subject.bucket().website() instanceof Reading.Found<Website> website)) {
            return List.of();
        }
        List<Verdict> verdicts = new ArrayList<>();
        for (Redirects.Redirect redirect : Redirects.of(website)) {
            if (!redirect.secure()) {
                verdicts.add(judge(subject, redirect));
            }
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Redirects.Redirect redirect) {
        Optional<WebAddress> address =
                WebAddress.parse("https://" + redirect.host() + "/").address();
        if (address.isEmpty()) {
            return subject.clean();
        }
        Trace trace = subject.visits().to(address.get());
        if (trace.surely(outcome -> outcome.failure().isEmpty())) {
            String says = "A redirect leads visitors to http://" + redirect.host() + ", which serves HTTPS too.";
            return new Verdict.Flagged(
                    Finding.of(CARD, subject.bucket().arn(), subject.site(), says, List.of(redirect.at()))
                            .at(redirect.host()));
        }
        return trace.surely(outcome -> outcome.failure().isPresent())
                ? subject.clean()
                : subject.unknown(
                        trace.needs().isEmpty()
                                ? List.of(new Need(
                                        "zone-records",
                                        redirect.host(),
                                        "never asked",
                                        "route53:ListResourceRecordSets"))
                                : trace.needs());
    }
}
