package warden.core.trim;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.account.Account;
import warden.core.algebra.Language;
import warden.core.decision.Evaluator;
import warden.core.identity.Principal;
import warden.core.pipeline.Needed;
import warden.core.policy.Arn;
import warden.core.policy.PolicyDocument;
import warden.core.policy.Statement;
import warden.core.power.Powers;
import warden.core.power.Shortfall;
import warden.core.survey.Survey;
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
        Optional<Powers> onCopy = onCopy(account, principal, policy);
        Optional<Shortfall> shortfall = onCopy.map(powers -> Shortfall.of(powers, needed));
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

    /** Returns the credential's powers in a copy of the survey in which it holds the proposed policy and no other. */
    static Optional<Powers> onCopy(Account account, Principal principal, MinimalPolicy policy) {
        String arn = principal.arn().toString();
        String aspect = principal.isRole() ? "iam-role" : "iam-user";
        String kind = principal.isRole() ? "Role" : "User";
        String boundary = principal.holdings().boundary().isPresent()
                        || principal.holdings().boundaryMissing().isPresent()
                ? account.survey()
                        .reading(aspect, arn)
                        .found()
                        .flatMap(answer -> answer.text("PermissionsBoundary", "PermissionsBoundaryArn"))
                        .map(limit -> ",\"PermissionsBoundary\":{\"PermissionsBoundaryArn\":\"" + limit + "\"}")
                        .orElse("")
                : "";
        String body = "{\"" + kind + "Name\":\"" + principal.name() + "\",\"" + kind + "Id\":\"" + principal.uniqueId()
                + "\",\"Arn\":\"" + arn + "\",\"" + kind
                + "PolicyList\":[{\"PolicyName\":\"proposed\",\"PolicyDocument\":"
                + policy.spelled() + "}],\"AttachedManagedPolicies\":[]" + tags(principal.tags()) + boundary + "}";
        Survey copy = account.survey()
                .with(new SurveyLine(
                        account.survey().header().file(),
                        principal.at().line(),
                        aspect,
                        arn,
                        "",
                        SurveyLine.Outcome.FOUND,
                        body));
        Evaluator evaluator = new Evaluator(new Account(copy));
        return Arn.parse(arn)
                .flatMap(parsed ->
                        evaluator.account().directory().principal(parsed).found())
                .map(same -> new Powers(evaluator, same));
    }

    private static String tags(Map<String, String> tags) {
        return ",\"Tags\":["
                + tags.entrySet().stream()
                        .map(tag -> "{\"Key\":" + quoted(tag.getKey()) + ",\"Value\":" + quoted(tag.getValue()) + "}")
                        .collect(Collectors.joining(","))
                + "]";
    }

    private static String quoted(String text) {
        return "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
    }
}
