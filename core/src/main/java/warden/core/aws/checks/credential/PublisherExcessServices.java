package warden.core.aws.checks.credential;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.permission.Excess;
import warden.core.checks.CredentialCards;

/** Finds publishing credentials with actions in services that publishing never needs. */
final class PublisherExcessServices implements PublisherCheck {
    private static final CheckCard CARD = CredentialCards.PUBLISHER_EXCESS_SERVICES;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        Excess excess = subject.excess();
        if (excess.services().isEmpty()) {
            return List.of(subject.cleanUnlessUnread());
        }
        boolean every = excess.services().contains("*");
        List<String> named = excess.services().stream()
                .filter(service -> !service.equals("*"))
                .toList();
        String says = subject.name() + " is allowed actions in "
                + (every
                        ? "every service"
                        : String.join(", ", named.subList(0, Math.min(6, named.size())))
                                + (named.size() > 6 ? " and " + (named.size() - 6) + " services more" : ""))
                + ", which publishing never needs.";
        String first = every ? "ec2:DescribeInstances" : named.get(0) + ":*";
        return List.of(new Verdict.Flagged(subject.finding(
                CARD,
                says,
                List.of(
                        subject.publisher().principal().at(),
                        subject.permissions().cite(first)))));
    }
}
