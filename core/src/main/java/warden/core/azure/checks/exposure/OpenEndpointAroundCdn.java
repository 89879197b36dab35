package warden.core.azure.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.WebCheck;
import warden.core.azure.site.AzureCloud;
import warden.core.checks.ExposureCards;
import warden.core.site.SitePattern;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds web endpoints behind an edge that the whole internet can reach around it. */
final class OpenEndpointAroundCdn implements WebCheck {
    private static final CheckCard CARD = ExposureCards.OPEN_ENDPOINT_AROUND_CDN.told(
            "storage-account, cdn-endpoint",
            "What the edge adds or forbids does not hold at the web endpoint.",
            "Let the edge in by a private link, and set the network's default action to Deny.",
            "Azure Front Door, \"Secure your origin with Private Link\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        List<AzureCloud.EdgeOrigin> origins = subject.context().cloud().originsOf(subject.account()).stream()
                .filter(origin -> origin.isWeb() && origin.origin().enabled())
                .toList();
        boolean isMeant = subject.webSite()
                .meant()
                .filter(SitePattern.OPEN_BUCKET_BEHIND_CDN::equals)
                .isPresent();
        if (isMeant) {
            return List.of();
        }
        Truth admits = subject.account().network().admitsInternet();
        if (origins.isEmpty()) {
            List<Need> edges = new ArrayList<>(subject.context().cloud().unreadEdges());
            subject.context().cloud().edges().forEach(edge -> edges.addAll(edge.unknowns()));
            return edges.isEmpty() || admits == Truth.FALSE ? List.of() : subject.open(edges);
        }
        if (admits == Truth.FALSE) {
            return subject.clean();
        }
        if (subject.isOn() == Truth.FALSE) {
            return List.of();
        }
        if (admits == Truth.UNKNOWN) {
            return subject.open(subject.account().need("its network rules were not read, or are not modelled"));
        }
        if (subject.isOn() == Truth.UNKNOWN) {
            return subject.open(subject.hostingNeed());
        }
        boolean isFrontDoor = origins.stream().anyMatch(origin -> origin.edge().isFrontDoor());
        String says =
                "The web endpoint of " + subject.account().name() + " answers anyone, around the edge in front of it.";
        List<Citation> because = new ArrayList<>(List.of(origins.get(0).origin().at()));
        subject.account().cite("networkAcls", "defaultAction").ifPresent(because::add);
        return List.of(new Verdict.Flagged(subject.finding(CARD, says, because)
                .mendedBy(
                        isFrontDoor
                                ? "Let a Front Door of the Premium tier in by a private link to the group web, and set the network's"
                                        + " default action to Deny."
                                : "A web endpoint can check no header: move the edge to Front Door Premium with a private link to the"
                                        + " group web, or agree to leave it.")));
    }
}
