package warden.core.checks.credential;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
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
import warden.core.identity.Principal;
import warden.core.site.Site;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds active access keys that have not been changed for long. */
final class KeyOld implements Check {
    private static final int OLD_DAYS = 90;
    private static final int VERY_OLD_DAYS = 365;
    private static final CheckCard CARD = new CheckCard(
            "key-old",
            Area.CREDENTIAL,
            Severity.MEDIUM,
            "an active key is older than 90 days (high: a year)",
            "iam-user-keys",
            "The longer a key lives, the more copies of it lie about, and the less anybody knows where.",
            "Create a new key, put it in use, then delete this one; better, let the pipeline assume a role.",
            "IAM User Guide, \"Update access keys\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Principal user : account.directory().principals()) {
                if (!user.isRole()) {
                    verdicts.addAll(judge(setup, account, user));
                }
            }
        }
        return verdicts;
    }

    private static List<Verdict> judge(Setup setup, Account account, Principal user) {
        String arn = user.arn().toString();
        Optional<String> site = setup.publishers().stream()
                .filter(publisher -> publisher.arn().equals(arn))
                .flatMap(publisher -> publisher.sites().stream())
                .findFirst()
                .map(Site::name);
        return account.survey()
                .reading("iam-user-keys", arn)
                .fold(
                        found -> judge(setup, arn, site, found),
                        absent -> List.<Verdict>of(new Verdict.Clean(arn, site)),
                        unread -> List.<Verdict>of(new Verdict.Unknown(arn, site, List.of(unread.need()))));
    }

    private static List<Verdict> judge(Setup setup, String arn, Optional<String> site, Reading.Found<JsonPart> keys) {
        List<Verdict> verdicts = new ArrayList<>();
        for (JsonPart key : keys.value().list("AccessKeyMetadata")) {
            if (!key.text("Status").orElse("").equals("Active")) {
                continue;
            }
            Optional<Instant> created = instant(key.text("CreateDate").orElse(""));
            String id = shortened(key.text("AccessKeyId").orElse(""));
            if (created.isEmpty()) {
                verdicts.add(new Verdict.Unknown(
                        arn,
                        site,
                        List.of(new Need(
                                "iam-user-keys",
                                arn,
                                "the date of the key " + id + " is in a form that is not understood",
                                "iam:ListAccessKeys"))));
                continue;
            }
            long days = Duration.between(created.get(), setup.at()).toDays();
            if (days > OLD_DAYS) {
                String says = "The active access key " + id + " is " + days + " days old.";
                Finding finding = Finding.of(
                                CARD,
                                arn,
                                site,
                                says,
                                List.of(keys.at().at(key.at().toString(), id)))
                        .at(id);
                verdicts.add(new Verdict.Flagged(days > VERY_OLD_DAYS ? finding.as(Severity.HIGH) : finding));
            }
        }
        return verdicts.isEmpty() ? List.of(new Verdict.Clean(arn, site)) : verdicts;
    }

    private static Optional<Instant> instant(String text) {
        try {
            return Optional.of(OffsetDateTime.parse(text).toInstant());
        } catch (DateTimeException strange) {
            return Optional.empty();
        }
    }

    /** An access key id names an account's secret half; outputs show its ends only. */
    private static String shortened(String id) {
        return id.length() < 12 ? "…" : id.substring(0, 4) + "…" + id.substring(id.length() - 4);
    }
}
