package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.WebCheck;

/** Finds private sites that the internet can reach. */
final class AccountNetworkOpen implements WebCheck {
    private static final CheckCard CARD = new CheckCard(
            "account-network-open",
            Area.EXPOSURE,
            Severity.LOW,
            "a site that is meant to be private can be reached from everywhere",
            "storage-account",
            "Whoever has the address reads what is meant for few.",
            "Let in the networks that are meant, and set the default action to Deny.",
            "Storage documentation, \"Configure Azure Storage firewalls and virtual networks\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        boolean isPrivate =
                subject.webSite().stated().filter(stated -> stated.isPrivate()).isPresent();
        if (!isPrivate) {
            return List.of();
        }
        return switch (subject.account().network().admitsInternet()) {
            case FALSE -> subject.clean();
            case TRUE ->
                subject.flagged(
                        CARD,
                        "The site " + subject.webSite().name()
                                + " is meant to be private, and its web endpoint answers the whole internet.",
                        subject.account().cite("networkAcls", "defaultAction"));
            case UNKNOWN ->
                subject.open(subject.account().need("its network rules were not read, or are not modelled"));
        };
    }
}
