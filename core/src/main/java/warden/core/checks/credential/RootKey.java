package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.document.JsonPart;
import warden.core.survey.Reading;

/** Finds accounts whose root user has access keys. */
final class RootKey implements Check {
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
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            String root = "arn:aws:iam::" + account.number() + ":root";
            Reading<JsonPart> summary = account.survey().reading("account-summary", account.number());
            Optional<String> keys = summary.found()
                    .flatMap(answer -> answer.find("SummaryMap", "AccountAccessKeysPresent"))
                    .flatMap(JsonPart::scalar);
            if (summary.isUnread()) {
                verdicts.add(new Verdict.Unknown(
                        root, Optional.empty(), summary.missing().stream().toList()));
            } else if (keys.filter(count -> !count.equals("0")).isPresent()) {
                verdicts.add(new Verdict.Flagged(Finding.of(
                        CARD,
                        root,
                        Optional.empty(),
                        "The root user of the account " + account.number() + " has access keys.",
                        List.of(summary.citation()
                                .orElseThrow()
                                .at("/SummaryMap/AccountAccessKeysPresent", keys.get())))));
            } else {
                verdicts.add(new Verdict.Clean(root, Optional.empty()));
            }
        }
        return verdicts;
    }
}
