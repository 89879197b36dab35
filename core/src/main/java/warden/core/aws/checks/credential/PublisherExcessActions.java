package warden.core.aws.checks.credential;

import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.permission.Excess;
import warden.core.checks.CredentialCards;

/** Finds publishing credentials with more than they need in the services they need. */
final class PublisherExcessActions implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_EXCESS_ACTIONS;

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** Actions of which other checks say what is dangerous about them. */
    private static final Set<String> SAID_ELSEWHERE = Set.of(
            "s3:putbucketpolicy",
            "s3:deletebucketpolicy",
            "s3:putbucketacl",
            "s3:putbucketpublicaccessblock",
            "s3:putbucketownershipcontrols",
            "s3:putbucketwebsite",
            "s3:deletebucketwebsite",
            "s3:putencryptionconfiguration",
            "s3:deletebucket",
            "s3:deleteobjectversion",
            "s3:putbucketversioning",
            "s3:putlifecycleconfiguration");

    @Override
    public List<Verdict> judge(Subject subject) {
        Excess excess = subject.excess();
        List<ServiceAction> rest = excess.actions().stream()
                .filter(action -> !SAID_ELSEWHERE.contains(action.lowerCaseName()))
                .toList();
        if (rest.isEmpty()) {
            return List.of(subject.cleanUnlessUnread());
        }
        String services = rest.stream().map(ServiceAction::service).distinct().collect(Collectors.joining(" and "));
        String says = subject.name() + " is allowed " + rest.size() + (rest.size() == 1 ? " action" : " actions")
                + " of " + services
                + " that its deployment does not need, such as "
                + rest.stream().limit(3).map(ServiceAction::name).collect(Collectors.joining(", ")) + ".";
        return List.of(new Verdict.Flagged(subject.finding(
                CARD, says, List.of(subject.permissions().cite(rest.get(0).name())))));
    }
}
