package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.AccountCheck;

/** Finds accounts that accept their keys. */
final class AccountKeyAccess implements AccountCheck {
    private static final CheckCard CARD = new CheckCard(
            "account-key-access",
            Area.EXPOSURE,
            Severity.MEDIUM,
            "a storage account accepts its keys, which publishing does not need",
            "storage-account",
            "Whoever holds a key, or a URL signed with it, can do everything with every blob, and no role shows it.",
            "Publish by role, then set allowSharedKeyAccess to false.",
            "Storage documentation, \"Prevent Shared Key authorization for an Azure Storage account\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(AccountCheck.Of subject) {

        Truth accepts = subject.account().acceptsSharedKeys();
        if (accepts == Truth.FALSE) {
            return subject.clean();
        }
        if (accepts == Truth.UNKNOWN) {
            return subject.open(subject.account().need("whether it accepts its keys is not known"));
        }
        return subject.flagged(
                CARD,
                "The account " + subject.account().name() + " accepts its keys.",
                subject.account().cite("allowSharedKeyAccess"));
    }
}
