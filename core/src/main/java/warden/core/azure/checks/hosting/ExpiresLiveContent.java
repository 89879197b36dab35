package warden.core.azure.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.BlobList;
import warden.core.azure.account.Item;
import warden.core.azure.audit.WebCheck;
import warden.core.checks.HostingCards;
import warden.core.document.JsonPart;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds blobs of sites that are archived, and rules that may expire them. */
final class ExpiresLiveContent implements WebCheck {
    private static final CheckCard CARD = HostingCards.EXPIRES_LIVE_CONTENT.told(
            "container-blobs, management-policy",
            "Pages vanish some day without anybody having removed them.",
            "Bring the blobs back to an online tier, and keep rules away from $web.",
            "Storage documentation, \"Optimize costs by automatically managing the data lifecycle\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(WebCheck.Of subject) {

        List<BlobList.Blob> archived = subject.web().blobs().blobs().values().stream()
                .filter(blob ->
                        blob.text("accessTier").filter("Archive"::equals).isPresent())
                .toList();
        if (!archived.isEmpty()) {
            return subject.flagged(
                    CARD,
                    "The blob " + archived.get(0).name()
                            + (archived.size() > 1 ? " and " + (archived.size() - 1) + " more are" : " is")
                            + " archived and cannot be served.",
                    archived.stream().map(BlobList.Blob::at).limit(3).toList());
        }
        List<Need> open = new ArrayList<>();
        Reading<Item> policy = subject.account()
                .subscription()
                .one("management-policy", subject.account().id());
        policy.found().ifPresent(item -> {
            for (JsonPart rule : item.list("policy", "rules")) {
                boolean namesWeb = rule.texts("definition", "filters", "prefixMatch").stream()
                        .anyMatch(prefix -> prefix.equals("$web") || prefix.startsWith("$web/"));
                if (namesWeb && rule.flag("enabled").orElse(true)) {
                    open.add(new Need(
                            "management-policy",
                            subject.account().id(),
                            "whether lifecycle rules leave $web alone is not certain",
                            ""));
                }
            }
        });
        policy.missing().ifPresent(open::add);
        subject.web().blobs().open().ifPresent(open::add);
        return subject.open(open);
    }
}
