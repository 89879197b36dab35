package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.AccountCheck;

/** Finds accounts that answer plain HTTP. */
final class AccountPlainHttp implements AccountCheck {
    private static final CheckCard CARD = new CheckCard(
            "account-plain-http",
            Area.EXPOSURE,
            Severity.HIGH,
            "a storage account answers plain HTTP",
            "storage-account",
            "What visitors get, and what publishers send, can be read and changed on the way.",
            "Set supportsHttpsTrafficOnly to true, and put an edge before hosts of your own.",
            "Storage documentation, \"Require secure transfer to ensure secure connections\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(AccountCheck.Of subject) {

        return switch (subject.account().refusesPlainHttp()) {
            case TRUE -> subject.clean();
            case FALSE ->
                subject.flagged(
                        CARD,
                        "The account " + subject.account().name() + " answers plain HTTP.",
                        subject.account().cite("supportsHttpsTrafficOnly"));
            case UNKNOWN -> subject.open(subject.account().need("whether it refuses plain HTTP is not in the answer"));
        };
    }
}
