package warden.core.aws.checks.credential;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AccountCheck;
import warden.core.document.JsonPart;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds accounts whose root user has access keys. */
final class RootKey implements AccountCheck {
    private static final CheckCard CARD = new CheckCard(
            "root-key",
            Area.CREDENTIAL,
            Severity.CRITICAL,
            "the account's root user has access keys",
            "account-summary",
            "The root user can do everything, and no policy of the account can limit it.",
            "Log in as the root user and delete its access keys.",
            "IAM User Guide, \"Root user best practices for your AWS account\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        String number = subject.account().number();
        String root = "arn:aws:iam::" + number + ":root";
        Verdict verdict = subject.account()
                .survey()
                .reading("account-summary", number)
                .fold(
                        found -> judge(root, number, found),
                        absent -> unknown(root, number, absent.code()),
                        unread -> new Verdict.Unknown(root, Optional.empty(), List.of(unread.need())));
        return List.of(verdict);
    }

    private static Verdict unknown(String root, String number, String why) {
        Need need = new Need("account-summary", number, why, "iam:GetAccountSummary");
        return new Verdict.Unknown(root, Optional.empty(), List.of(need));
    }

    private static Verdict judge(String root, String number, Reading.Found<JsonPart> summary) {
        Optional<String> keys = summary.value().text("SummaryMap", "AccountAccessKeysPresent");
        if (keys.isEmpty()) {
            return unknown(root, number, "the number of the root user's keys is not in the answer");
        }
        if (keys.get().equals("0")) {
            return new Verdict.Clean(root, Optional.empty());
        }
        return new Verdict.Flagged(Finding.of(
                CARD,
                root,
                Optional.empty(),
                "The root user of the account " + number + " has access keys.",
                List.of(summary.at().at("/SummaryMap/AccountAccessKeysPresent", keys.get()))));
    }
}
