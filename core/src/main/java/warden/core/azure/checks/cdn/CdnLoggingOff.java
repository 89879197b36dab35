package warden.core.azure.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.Listed;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CdnCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds edges that log no requests. */
final class CdnLoggingOff implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.CDN_LOGGING_OFF.told(
            "diagnostic-setting-list",
            "Nobody can tell who asked for what, or what visitors were answered.",
            "Send the access log of the profile to a log.",
            "Azure Front Door, \"Monitor metrics and logs in Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        Edge edge = subject.edge();
        List<Need> open = new ArrayList<>();
        List<Citation> because = new ArrayList<>();
        for (String of : edge.isFrontDoor() ? List.of(edge.profile()) : List.of(edge.id(), edge.profile())) {
            Listed settings =
                    subject.context().cloud().accountOf(edge).subscription().list("diagnostic-setting-list", of, "");
            boolean logs = settings.items().stream()
                    .flatMap(item -> item.list("logs").stream())
                    .filter(log -> log.flag("enabled").orElse(false))
                    .anyMatch(log -> log.text("category")
                                    .filter(name -> name.endsWith("AccessLog"))
                                    .isPresent()
                            || log.text("categoryGroup").isPresent());
            if (logs) {
                return subject.clean();
            }
            settings.open().ifPresent(open::add);
            settings.at().ifPresent(at -> because.add(at.at("", "")));
        }
        if (!open.isEmpty()) {
            return subject.open(open);
        }
        return subject.flagged(CARD, "The edge " + edge.host() + " keeps no log of requests.", because);
    }
}
