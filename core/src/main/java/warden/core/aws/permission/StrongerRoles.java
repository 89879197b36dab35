package warden.core.aws.permission;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import warden.core.access.Truth;
import warden.core.aws.identity.Directory;
import warden.core.aws.identity.Principal;
import warden.core.aws.identity.TrustingRoles;
import warden.core.aws.permission.EscalationPath.Kind;
import warden.core.aws.permission.EscalationPath.Open;
import warden.core.aws.permission.EscalationPath.Step;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.reach.Possibility;
import warden.core.aws.reach.Reach;
import warden.core.survey.Need;

/**
 * The stronger roles of its account that a user or role can become, in one step or over several: by its own right to assume them and a trust in
 * the account, or by a trust that names it. A role is stronger that administers the account, or can give itself more.
 *
 * <p>Source: IAM User Guide, "Switch to an IAM role", "Roles terms and concepts" (role chaining).
 */
final class StrongerRoles {
    private static final String ASSUME = "sts:AssumeRole";
    private static final Map<String, ContextValue> CARRIED =
            Map.of("aws:SecureTransport", ContextValue.Known.of("true"));

    private final Reach reach;
    private final List<Principal> all;
    private final TrustingRoles trusting;

    StrongerRoles(Reach reach) {
        Directory directory = reach.evaluator().account().directory();
        this.reach = reach;
        this.all = directory.principals();
        this.trusting = directory.trustingRoles();
    }

    /** Somebody on the way, and the requests that lead there. */
    private record Reached(EffectivePermissions permissions, List<Possibility.Allowed> requests) {}

    /** Adds the ways to stronger roles, the shortest first, and what would settle those that could go either way. */
    void add(EffectivePermissions from, List<Open> open, List<Need> needs) {
        Set<String> seen = new HashSet<>(Set.of(from.principal().arn().toString()));
        Deque<Reached> queue = new ArrayDeque<>(List.of(new Reached(from, List.of())));
        while (!queue.isEmpty()) {
            Reached here = queue.remove();
            for (Principal role : mayAssume(here.permissions())) {
                String arn = role.arn().toString();
                if (seen.contains(arn)) {
                    continue;
                }
                Possibility can = reach.can(here.permissions().actor(), ASSUME, arn, CARRIED);
                if (can instanceof Possibility.Never) {
                    continue;
                }
                EffectivePermissions permissions = new EffectivePermissions(reach, role);
                if (can instanceof Possibility.Open unsettled) {
                    // Whether it matters hangs on what the role could do.
                    if (permissions.isAdmin() != Truth.FALSE
                            || !EscalationPath.direct(permissions, all).open().isEmpty()) {
                        needs.addAll(unsettled.needs());
                    }
                    continue;
                }
                seen.add(arn);
                List<Possibility.Allowed> requests = new ArrayList<>(here.requests());
                requests.add((Possibility.Allowed) can);
                judge(permissions, requests, open, needs);
                queue.add(new Reached(permissions, requests));
            }
        }
    }

    private void judge(
            EffectivePermissions role, List<Possibility.Allowed> requests, List<Open> open, List<Need> needs) {
        String name = role.principal().name();
        if (role.isAdmin() == Truth.TRUE) {
            open.add(open("become the role " + name + ", which administers the account", requests));
            return;
        }
        EscalationPath.Ways ways = EscalationPath.direct(role, all);
        if (!ways.open().isEmpty()) {
            String what = ways.open().get(0).path().says();
            open.add(open("become the role " + name + ", which can " + what, requests));
        } else {
            needs.addAll(ways.needs());
            needs.addAll(role.isAdmin() == Truth.UNKNOWN ? role.missing() : List.of());
        }
    }

    private static Open open(String says, List<Possibility.Allowed> requests) {
        return new Open(new EscalationPath(List.of(new Step(ASSUME, Kind.OTHER_ROLE)), says), requests);
    }

    /** Leaves out the roles of which it is plain that they let this one not in: quicker than weighing each pair. */
    private List<Principal> mayAssume(EffectivePermissions who) {
        return trusting.lettingIn(
                who.actor(), arn -> who.granted(ASSUME).possible().contains(arn));
    }
}
