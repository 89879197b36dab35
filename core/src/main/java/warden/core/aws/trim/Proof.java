package warden.core.aws.trim;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.algebra.Language;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.identity.Principal;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.permission.Shortfall;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.Statement;
import warden.core.aws.reach.Reach;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.document.Pointer;
import warden.core.pipeline.Needed;
import warden.core.survey.SurveyLine;

/**
 * What was proven about a proposed policy: over all actions and resources, by the algebra of sets, and on a copy of the survey in which the
 * credential holds nothing else.
 *
 * @param coversNeeded every request that is needed is allowed by the policy
 * @param withinNeeded every request that the policy allows is needed
 * @param stillRefused what something else refuses on the copy: the bucket's policy, a boundary, the organization
 * @param stillOpen true when, on the copy, something could go either way
 */
public record Proof(boolean coversNeeded, boolean withinNeeded, List<Needed> stillRefused, boolean stillOpen) {
    public Proof {
        stillRefused = List.copyOf(stillRefused);
    }

    static Proof of(Account account, Principal principal, MinimalPolicy policy, List<Needed> needed) {
        PolicyDocument document = policy.document();
        boolean covers = document.problems().isEmpty();
        boolean within = document.problems().isEmpty() && actionsAreNeeded(document, needed);
        for (String action : needed.stream().map(Needed::action).collect(Collectors.toSet())) {
            Language allowed = MinimalPolicy.allowed(document, action);
            Language wanted = MinimalPolicy.wanted(needed, action);
            covers &= wanted.isSubsetOf(allowed);
            within &= allowed.isSubsetOf(wanted);
        }
        Optional<EffectivePermissions> onCopy = onCopy(account, principal, policy);
        Optional<Shortfall> shortfall = onCopy.map(permissions -> Shortfall.of(permissions, needed));
        return new Proof(
                covers,
                within,
                shortfall.map(Shortfall::missing).orElse(List.of()),
                shortfall.isEmpty() || !shortfall.get().needs().isEmpty());
    }

    private static boolean actionsAreNeeded(PolicyDocument document, List<Needed> needed) {
        Set<String> names = needed.stream()
                .map(each -> each.action().toLowerCase(java.util.Locale.ROOT))
                .collect(Collectors.toSet());
        Language actions = Language.none();
        for (Statement statement : document.statements()) {
            actions = actions.union(statement.actions().language());
        }
        return actions.isSubsetOf(Language.of(names));
    }

    /** Returns the credential's permissions in a copy of the survey in which it holds the proposed policy and no other. */
    static Optional<EffectivePermissions> onCopy(Account account, Principal principal, MinimalPolicy policy) {
        String arn = principal.arn().toString();
        String aspect = principal.aspect();
        String kind = principal.isRole() ? "Role" : "User";
        JsonPart today =
                account.survey().reading(aspect, arn).found().orElse(new JsonPart.JsonObject(Pointer.ROOT, Map.of()));
        Map<String, JsonPart> members = new LinkedHashMap<>();
        members.put(kind + "Name", text(principal.name()));
        members.put(kind + "Id", text(principal.uniqueId()));
        members.put("Arn", text(arn));
        Map<String, JsonPart> proposed = new LinkedHashMap<>();
        proposed.put("PolicyName", text("proposed"));
        proposed.put("PolicyDocument", policy.json());
        members.put(kind + "PolicyList", list(object(proposed)));
        members.put("AttachedManagedPolicies", list());
        for (String kept : List.of("Tags", "PermissionsBoundary", "AssumeRolePolicyDocument")) {
            today.find(kept).ifPresent(part -> members.put(kept, part));
        }
        String body = JsonSpelling.of(object(members));
        Account copy = account.with(new SurveyLine(
                account.survey().header().file(),
                principal.at().line(),
                aspect,
                arn,
                "",
                SurveyLine.Outcome.FOUND,
                body));
        Reach reach = new Reach(new Evaluator(copy));
        return Arn.parse(arn)
                .flatMap(parsed -> reach.evaluator()
                        .account()
                        .directory()
                        .principal(parsed)
                        .found())
                .map(same -> new EffectivePermissions(reach, same));
    }

    private static JsonPart text(String value) {
        return new JsonPart.JsonText(Pointer.ROOT, value);
    }

    private static JsonPart object(Map<String, JsonPart> members) {
        return new JsonPart.JsonObject(Pointer.ROOT, members);
    }

    private static JsonPart list(JsonPart... items) {
        return new JsonPart.JsonArray(Pointer.ROOT, List.of(items));
    }
}
