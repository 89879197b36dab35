package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.trim.Trimmed;
import warden.core.document.JsonSpelling;
import warden.core.mend.Change;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;

/** What to change about a credential that publishes: the policy that it needs takes the place of those that it has; its trust is pinned. */
final class CredentialRemedies {
    private static final String POLICY = "publish-site";

    private final AwsContext context;
    private final Account account;
    private final String arn;

    CredentialRemedies(AwsContext context, Account account, String arn) {
        this.context = context;
        this.account = account;
        this.arn = arn;
    }

    /** Returns what to do about a finding that is about this credential; absent for checks that no document answers. */
    Optional<Proposal> of(Finding finding) {
        return Optional.ofNullable(
                switch (finding.card().id()) {
                    case "publisher-is-admin",
                            "publisher-can-escalate",
                            "publisher-can-change-rules",
                            "publisher-beyond-its-sites",
                            "publisher-excess-services",
                            "publisher-excess-actions",
                            "publisher-cannot-publish",
                            "publisher-can-lose-versions" -> trimmed(finding);
                    case "trust-too-wide", "trust-pull-requests" -> pinned(finding);
                    case "key-old", "publisher-long-lived-key", "keys-two-active" ->
                        Proposal.byHand(
                                "the key may be in use; taking it away would break who uses it", finding.remedy());
                    case "key-unused" -> UnusedKey.of(account, arn, finding);
                    default -> null;
                });
    }

    private Optional<Trimmed> trimming() {
        return context.publishers().stream()
                .filter(publisher -> publisher.arn().equals(arn))
                .findFirst()
                .map(this::trimmed);
    }

    private Trimmed trimmed(PublishingPrincipal publisher) {
        return Trimmed.of(publisher, context.deployments(), context.permissions(publisher), List.of());
    }

    private Proposal trimmed(Finding finding) {
        Optional<Trimmed> trimmed = trimming();
        if (trimmed.isEmpty()) {
            return Proposal.byHand("it is not known what the credential publishes", finding.remedy());
        }
        Trimmed trim = trimmed.get();
        if (!trim.unread().isEmpty()) {
            return new Proposal.ByHand("not all of its policies were read", finding.remedy(), trim.unread());
        }
        if (!trim.open().isEmpty()) {
            return Proposal.byHand(
                    "what its pipeline needs is not wholly known: "
                            + trim.open().get(0).why(),
                    "Run \"gentle-warden trim --credential " + trim.name()
                            + "\", complete the policy by what the open step needs, and put it in the place of today's.");
        }
        if (trim.policy().statements().isEmpty()) {
            return Proposal.byHand("it is not known what its deployments need", finding.remedy());
        }
        IdentityPolicies policies = new IdentityPolicies(account, arn);
        if (!policies.groups().isEmpty()) {
            return Proposal.byHand(
                    "it has its rights from a group, which others may be in",
                    "Take it out of " + String.join(", ", policies.groups())
                            + ", and give it the policy that \"gentle-warden trim\" writes.");
        }
        String name = policies.inline().isEmpty() ? POLICY : policies.inline().get(0);
        List<Change> all = new ArrayList<>();
        all.add(policies.put(
                Phase.LET_IN,
                "grant-what-is-needed",
                name,
                "Grant " + trim.name() + " what its deployments need",
                JsonSpelling.of(trim.policy().json())));
        policies.inline().stream()
                .filter(other -> !other.equals(name))
                .forEach(other -> all.add(policies.delete(
                        Phase.SHUT_OUT, "drop-policy", other, "Take the policy " + other + " from " + trim.name())));
        policies.attached()
                .forEach(other -> all.add(policies.detach(
                        Phase.SHUT_OUT,
                        "detach-policy",
                        other,
                        "Take " + other.substring(other.lastIndexOf('/') + 1) + " off " + trim.name())));
        return new Proposal.Changes(all);
    }

    private Proposal pinned(Finding finding) {
        return trimming()
                .flatMap(Trimmed::trust)
                .<Proposal>map(trust -> trust.isComplete()
                        ? Proposal.of(new IdentityPolicies(account, arn)
                                .trust(
                                        Phase.SHUT_OUT,
                                        "pin-trust",
                                        "Let only its own repository work as "
                                                + arn.substring(arn.lastIndexOf('/') + 1),
                                        old -> JsonSpelling.of(trust.json())))
                        : Proposal.byHand(
                                "which repository publishes is not told by anything that was read",
                                "Run \"gentle-warden trim --credential " + arn.substring(arn.lastIndexOf('/') + 1)
                                        + " --policy-out policies\", fill in owner and repository in the trust policy that it writes, and"
                                        + " put that in the place of the role's."))
                .orElseGet(() -> Proposal.byHand("nothing tells who is to work as the role", finding.remedy()));
    }
}
