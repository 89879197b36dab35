package warden.core.azure.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.account.Container;
import warden.core.azure.audit.AccountCheck;
import warden.core.survey.Need;

/** Finds accounts that allow open containers and have none. */
final class AccountAllowsOpenContainers implements AccountCheck {
    private static final CheckCard CARD = new CheckCard(
            "account-allows-open-containers",
            Area.EXPOSURE,
            Severity.MEDIUM,
            "a storage account allows open containers though none is open",
            "storage-account, container",
            "Who changes one container opens it to everyone; the website needs none of it.",
            "Set allowBlobPublicAccess to false: the website is served all the same.",
            "Storage documentation, \"Remediate anonymous read access to blob data\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(AccountCheck.Of subject) {

        Truth allows = subject.account().allowsAnonymous();
        if (allows == Truth.FALSE) {
            return subject.clean();
        }
        if (allows == Truth.UNKNOWN) {
            return subject.open(subject.account().need("whether it allows open containers is not in the answer"));
        }
        List<Container> containers = subject.account().containers();
        if (containers.stream().anyMatch(container -> container.isOpen() == Truth.TRUE)) {
            return List.of();
        }
        List<Need> open =
                new ArrayList<>(subject.account().listed().open().stream().toList());
        containers.stream()
                .filter(container -> container.isOpen() == Truth.UNKNOWN
                        && !container.settings().isUnread())
                .forEach(container -> open.add(container.need()));
        if (!open.isEmpty()) {
            return subject.open(open);
        }
        return subject.flagged(
                CARD,
                "The account " + subject.account().name() + " allows containers to be opened to everyone, and none is.",
                subject.account().cite("allowBlobPublicAccess"));
    }
}
