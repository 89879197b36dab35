package warden.core.azure.checks.hosting;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.Listed;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;
import warden.core.survey.Need;

/** Finds sites with nothing in front whose reads are not logged. */
final class StorageLoggingOff implements WebCheck {
    private static final CheckCard CARD = HostingCards.STORAGE_LOGGING_OFF.told(
            "diagnostic-setting-list",
            "Nobody can tell who asked for what.",
            "Send StorageRead of the blob service to a log.",
            "Azure Monitor documentation, \"Diagnostic settings in Azure Monitor\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {
        if (!subject.webSite().edges().isEmpty()) {
            return List.of();
        }
        String service = ResourceId.blobService(subject.account().id());
        Listed settings = subject.account().subscription().list("diagnostic-setting-list", service, "");
        boolean logs = settings.items().stream()
                .flatMap(item -> item.list("logs").stream())
                .filter(log -> log.flag("enabled").orElse(false))
                .anyMatch(log ->
                        log.text("category").filter("StorageRead"::equals).isPresent()
                                || log.text("categoryGroup")
                                        .filter(group -> group.equals("audit") || group.equals("allLogs"))
                                        .isPresent());
        if (logs) {
            return subject.clean();
        }
        if (settings.open().isPresent()) {
            return subject.open(settings.open().get());
        }
        // An edge in front of it would log on its own.
        List<Need> edges = subject.context().cloud().unknownEdges(subject.webSite());
        if (!edges.isEmpty()) {
            return subject.open(edges);
        }
        return subject.flagged(
                CARD,
                "Nobody sees who reads the site: reads of " + subject.account().name() + " are not logged.",
                settings.at().map(at -> at.at("", "")));
    }
}
