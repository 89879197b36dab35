package warden.core.azure.checks.exposure;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.AccountCheck;

/** Finds accounts that accept old versions of TLS. */
final class AccountTlsOld implements AccountCheck {
    private static final CheckCard CARD = new CheckCard(
            "account-tls-old",
            Area.EXPOSURE,
            Severity.MEDIUM,
            "a storage account accepts TLS below 1.2",
            "storage-account",
            "What is sent by old versions can be read and changed on the way.",
            "Set minimumTlsVersion to TLS1_2.",
            "Storage documentation, \"Enforce a minimum required version of Transport Layer Security (TLS)\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(AccountCheck.Of subject) {

        Optional<String> minimum = subject.account().minimumTls();
        if (minimum.isEmpty()) {
            return subject.open(subject.account().need("the account was not read"));
        }
        return switch (minimum.get()) {
            case "TLS1_2", "TLS1_3" -> subject.clean();
            case "TLS1_0", "TLS1_1" ->
                subject.flagged(
                        CARD,
                        "The account " + subject.account().name() + " accepts TLS from "
                                + minimum.get().substring(3).replace('_', '.')
                                + " on by its own setting; the provider has announced the end of versions below 1.2, whatever is set.",
                        subject.account().cite("minimumTlsVersion"));
            default -> subject.open(subject.account().need("its lowest TLS version is not a known one"));
        };
    }
}
