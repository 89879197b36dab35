package warden.core.azure.checks.cdn;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;

/** Finds edges of the classic kind. */
final class CdnClassicRetiring implements EdgeCheck {
    private static final CheckCard CARD = new CheckCard(
            "cdn-classic-retiring",
            Area.CDN,
            Severity.MEDIUM,
            "an edge of the classic kind, whose end the provider has announced",
            "cdn-profile",
            "One day the site is not served any more, on the provider's date and not on yours.",
            "Check the date, and move the endpoint to Front Door.",
            "Azure CDN, \"Azure CDN Standard from Microsoft (classic) retirement FAQ\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        if (subject.edge().isFrontDoor()) {
            return List.of();
        }
        return subject.flagged(
                CARD,
                "The edge " + subject.edge().host()
                        + " is of the classic kind, whose end the provider has announced: check the date.",
                List.of(subject.edge().at()));
    }
}
