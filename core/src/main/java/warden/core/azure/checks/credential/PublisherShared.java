package warden.core.azure.checks.credential;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.role.Assignment;
import warden.core.azure.site.WebSite;
import warden.core.checks.CredentialCards;
import warden.core.survey.Citation;

/** Finds principals that publish several sites. */
final class PublisherShared implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_SHARED.told(
            "role-assignment",
            "Who gets hold of one site's pipeline gets hold of the others' too.",
            "Make a principal for each site.",
            "Azure role-based access control, \"Best practices for Azure RBAC\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        if (subject.publisher().sites().size() < 2) {
            return subject.clean();
        }
        Optional<Citation> at =
                subject.assignments().stream().map(Assignment::at).findFirst();
        return at.isEmpty()
                ? List.of()
                : subject.flagged(
                        CARD,
                        subject.called() + " publishes "
                                + subject.publisher().sites().size() + " sites: "
                                + subject.publisher().sites().stream()
                                        .map(WebSite::name)
                                        .collect(Collectors.joining(", "))
                                + ".",
                        at);
    }
}
