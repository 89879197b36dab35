package warden.core.azure.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.ContainerCheck;
import warden.core.checks.ExposureCards;
import warden.core.survey.Citation;

/** Finds open containers that their account keeps shut though an edge or a record leads to them. */
final class GuardContradictsGrant implements ContainerCheck {
    private static final CheckCard CARD = ExposureCards.GUARD_CONTRADICTS_GRANT.told(
            "container, storage-account",
            "Visitors are refused what the container's level seems to give them.",
            "Serve the site by the web endpoint, which this setting does not concern.",
            "Storage documentation, \"Remediate anonymous read access to blob data\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(ContainerCheck.Of subject) {

        if (subject.container().isOpen() != Truth.TRUE
                || subject.container().account().allowsAnonymous() != Truth.FALSE) {
            return List.of();
        }
        boolean isLedTo = subject.isOrigin()
                || subject.container().account().blobHosts().stream().anyMatch(host -> !subject.context()
                        .cloud()
                        .hosts()
                        .hostsLeadingTo(host)
                        .isEmpty());
        if (!isLedTo) {
            return subject.clean();
        }
        List<Citation> because =
                new ArrayList<>(subject.container().citeLevel().stream().toList());
        subject.container().account().cite("allowBlobPublicAccess").ifPresent(because::add);
        return List.of(new Verdict.Flagged(subject.finding(
                        CARD,
                        "The container " + subject.container().name()
                                + " is open by its own level, and its account lets no container be read anonymously.",
                        because)
                .mendedBy("Serve the site by the web endpoint, which this setting does not concern.")));
    }
}
