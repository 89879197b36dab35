package warden.core.aws.checks.credential;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.document.JsonPart;
import warden.core.survey.Reading;

/** Finds publishing users that a person can log in as. */
final class PublisherConsoleLogin implements PublisherCheck {
    private static final CheckCard CARD = new CheckCard(
                    "publisher-console-login",
                    Area.CREDENTIAL,
                    Severity.MEDIUM,
                    "a publishing user also has a console password (high: without MFA)",
                    "iam-login, iam-user-mfa",
                    "Two doors to the same powers, one of them open to guessing.",
                    "Take the console password away; let people log in as themselves.",
                    "IAM User Guide, \"Security best practices in IAM\"")
            .atWorst(Severity.HIGH);

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        String arn = subject.publisher().arn();
        if (subject.publisher().principal().isRole()) {
            return List.of();
        }
        Reading<JsonPart> login = subject.publisher().account().survey().reading("iam-login", arn);
        if (login.isUnread()) {
            return List.of(subject.unknown(login.missing().stream().toList()));
        }
        if (login.found().isEmpty()) {
            return List.of(subject.clean());
        }
        Reading<JsonPart> devices = subject.publisher().account().survey().reading("iam-user-mfa", arn);
        boolean none = devices.found()
                        .filter(answer -> answer.list("MFADevices").isEmpty())
                        .isPresent()
                || devices.isAbsent();
        String says = subject.name() + " publishes and has a console password too"
                + (none ? ", without a second factor." : ".");
        Finding finding = subject.finding(CARD, says, List.of(login.citation().orElseThrow()));
        return devices.missing()
                .map(need -> Verdict.atLeast(finding, Severity.HIGH, subject.unknown(List.of(need))))
                .orElse(List.of(new Verdict.Flagged(none ? finding.as(Severity.HIGH) : finding)));
    }
}
