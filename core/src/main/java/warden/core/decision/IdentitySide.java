package warden.core.decision;

import java.util.List;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.decision.PolicyMatch.Hit;
import warden.core.identity.HeldPolicy;
import warden.core.identity.Holdings;
import warden.core.identity.Principal;
import warden.core.policy.Actor;
import warden.core.policy.Arn;
import warden.core.policy.Context;
import warden.core.policy.Truth;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * What an own principal's own side says: organization policies, identity-based policies, permissions boundary.
 * Source: IAM User Guide, "Policy evaluation logic" and "Permissions boundaries for IAM entities"; AWS Organizations
 * User Guide, "Service control policies".
 */
final class IdentitySide {
    private final Account account;
    private final List<Reading<HeldPolicy>> organization;

    IdentitySide(Account account) {
        this.account = account;
        this.organization = account.directory().organizationPolicies();
    }

    /**
     * The answers of one side to one request.
     *
     * @param denied whether any of its policies denies
     * @param allowed whether the identity-based policies allow
     * @param bounded whether the boundary lets it through; true without a boundary
     * @param organization whether the organization lets it through; true without organization policies
     * @param hasBoundary whether there is a boundary at all
     * @param isRoot whether the caller is the account's root, who needs no policy
     */
    record Opinion(
            Truth denied, Truth allowed, Truth bounded, Truth organization, boolean hasBoundary, boolean isRoot) {}

    boolean hasOrganizationPolicies() {
        return !organization.isEmpty();
    }

    /** Returns the opinion on the request and notes in the ledger what it rests on. */
    Opinion weigh(Request request, String action, Context context, Ledger ledger) {
        Truth denied = Truth.FALSE;
        Truth organizationAllows = organizationBinds(request.who()) ? Truth.FALSE : Truth.TRUE;
        if (organizationBinds(request.who())) {
            for (Reading<HeldPolicy> reading : organization) {
                Optional<HeldPolicy> policy = reading.found();
                if (policy.isEmpty()) {
                    reading.missing().ifPresent(ledger::need);
                    denied = denied.or(Truth.UNKNOWN);
                    organizationAllows = organizationAllows.or(Truth.UNKNOWN);
                    continue;
                }
                denied = denied.or(deniedBy(policy.get(), request, action, context, ledger));
                organizationAllows =
                        organizationAllows.or(allowedBy(policy.get(), request, action, context, ledger, false));
            }
            Truth lets = organizationAllows;
            ledger.step(() -> "Organization policies: " + lets(lets) + ".");
        }
        if (request.who() instanceof Actor.AccountRoot) {
            ledger.step(() -> "The account's root user needs no policy of its own.");
            return new Opinion(denied, Truth.TRUE, Truth.TRUE, organizationAllows, false, true);
        }
        Arn arn = request.who() instanceof Actor.User user ? user.arn() : ((Actor.Role) request.who()).arn();
        Reading<Principal> reading = account.directory().principal(arn);
        if (reading.isAbsent()) {
            ledger.step(() -> "The account says that " + arn.name() + " does not exist.");
            return new Opinion(denied, Truth.FALSE, Truth.TRUE, organizationAllows, false, false);
        }
        if (reading.found().isEmpty()) {
            reading.missing().ifPresent(ledger::need);
            ledger.step(() -> "The policies of " + arn.name() + " were not read.");
            return new Opinion(denied.or(Truth.UNKNOWN), Truth.UNKNOWN, Truth.UNKNOWN, organizationAllows, true, false);
        }
        return weigh(reading.found().get(), request, action, context, ledger, denied, organizationAllows);
    }

    private Opinion weigh(
            Principal principal,
            Request request,
            String action,
            Context context,
            Ledger ledger,
            Truth deniedAbove,
            Truth organizationAllows) {
        Holdings holdings = principal.holdings();
        Truth denied = deniedAbove;
        Truth allowed = Truth.FALSE;
        for (HeldPolicy policy : holdings.policies()) {
            denied = denied.or(deniedBy(policy, request, action, context, ledger));
            allowed = allowed.or(allowedBy(policy, request, action, context, ledger, true));
            if (!policy.speaksFor(action) && allowed == Truth.FALSE) {
                allowed = Truth.UNKNOWN;
                ledger.need(new Need(
                        "iam-policy",
                        policy.name(),
                        "the built-in copy does not hold this service",
                        "iam:GetPolicyVersion"));
            }
        }
        for (Need need : holdings.missing()) {
            ledger.need(need);
            denied = denied.or(Truth.UNKNOWN);
            allowed = allowed.or(Truth.UNKNOWN);
        }
        Truth bounded = Truth.TRUE;
        if (holdings.boundary().isPresent()) {
            denied = denied.or(deniedBy(holdings.boundary().get(), request, action, context, ledger));
            bounded = allowedBy(holdings.boundary().get(), request, action, context, ledger, false);
        } else if (holdings.boundaryMissing().isPresent()) {
            ledger.need(holdings.boundaryMissing().get());
            denied = denied.or(Truth.UNKNOWN);
            bounded = Truth.UNKNOWN;
        }
        boolean hasBoundary =
                holdings.boundary().isPresent() || holdings.boundaryMissing().isPresent();
        Truth identity = allowed;
        Truth limit = bounded;
        ledger.step(() -> "Its own policies: " + allows(identity) + ".");
        if (hasBoundary) {
            ledger.step(() -> "Its permissions boundary: " + lets(limit) + ".");
        }
        return new Opinion(denied, allowed, bounded, organizationAllows, hasBoundary, false);
    }

    private static String allows(Truth truth) {
        return switch (truth) {
            case TRUE -> "a statement allows it";
            case FALSE -> "no statement allows it";
            case UNKNOWN -> "whether one allows it is not known";
        };
    }

    private static String lets(Truth truth) {
        return switch (truth) {
            case TRUE -> "they let it through";
            case FALSE -> "none lets it through";
            case UNKNOWN -> "whether they let it through is not known";
        };
    }

    /** Roles that the provider's services own are outside the organization's policies. */
    private boolean organizationBinds(Actor who) {
        boolean serviceLinked =
                who instanceof Actor.Role role && role.arn().resource().startsWith("role/aws-service-role/");
        return !organization.isEmpty() && !serviceLinked;
    }

    private Truth deniedBy(HeldPolicy policy, Request request, String action, Context context, Ledger ledger) {
        Truth denied = Truth.FALSE;
        for (Hit hit : PolicyMatch.denies(policy, request, action, context, account)) {
            denied = denied.or(hit.truth());
            ledger.step(() -> "\"" + policy.name() + "\": " + called(hit)
                    + (hit.truth() == Truth.TRUE ? " denies it." : " may deny it."));
            if (hit.truth() == Truth.TRUE) {
                ledger.denies.add(hit.cite());
            } else {
                ledger.open(hit.cite(), PolicyMatch.openPoint(hit, context));
            }
        }
        return denied;
    }

    private Truth allowedBy(
            HeldPolicy policy, Request request, String action, Context context, Ledger ledger, boolean counts) {
        Truth allowed = Truth.FALSE;
        for (Hit hit : PolicyMatch.allows(policy, request, action, context, account)) {
            if (hit.truth().compareTo(allowed) > 0) {
                ledger.step(() -> "\"" + policy.name() + "\": " + called(hit)
                        + (hit.truth() == Truth.TRUE ? " allows it." : " may allow it."));
                if (hit.truth() == Truth.TRUE && counts) {
                    ledger.allows.add(hit.cite());
                } else if (hit.truth() == Truth.UNKNOWN) {
                    ledger.open(hit.cite(), PolicyMatch.openPoint(hit, context));
                }
            }
            allowed = allowed.or(hit.truth());
        }
        return allowed;
    }

    private static String called(Hit hit) {
        return hit.statement().map(statement -> statement.called()).orElse("the document");
    }
}
