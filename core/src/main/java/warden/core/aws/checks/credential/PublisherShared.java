package warden.core.aws.checks.credential;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.site.BucketSite;
import warden.core.checks.CredentialCards;
import warden.core.site.SitePattern;

/** Finds credentials that publish several sites. */
final class PublisherShared implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_SHARED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        List<String> sites = subject.publisher().sites().stream()
                .filter(site -> !site.buckets().isEmpty())
                .filter(site ->
                        site.pattern().filter(SitePattern.REDIRECT_ONLY::equals).isEmpty())
                .map(BucketSite::name)
                .toList();
        if (sites.size() < 2) {
            return List.of(subject.clean());
        }
        String says = subject.name() + " publishes " + sites.size() + " sites: "
                + String.join(", ", sites.subList(0, Math.min(4, sites.size())))
                + (sites.size() > 4 ? " and " + (sites.size() - 4) + " more." : ".");
        return List.of(new Verdict.Flagged(subject.finding(
                CARD, says, List.of(subject.publisher().principal().at()))));
    }
}
