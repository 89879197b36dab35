package warden.core.azure.trim;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.azure.access.AccessRules;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.Subscription;
import warden.core.azure.publishing.AzurePublisher;
import warden.core.azure.role.ActionPattern;
import warden.core.document.Json;
import warden.core.pipeline.Needed;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;

/**
 * What was proven about a proposal, on a copy of the survey in which the principal holds nothing else.
 *
 * @param stillRefused what something else refuses on the copy: the network, a deny assignment
 */
record RoleProof(boolean coversNeeded, boolean withinNeeded, List<Needed> stillRefused) {
    private static final String ASSIGNMENTS = "role-assignment-list";
    private static final String DEFINITIONS = "role-definition-list";

    RoleProof {
        stillRefused = List.copyOf(stillRefused);
    }

    static RoleProof of(AzurePublisher publisher, RoleProposal proposal, List<Needed> needed) {
        Subscription before = publisher.account().subscription();
        AccessRules rules = new AccessRules(new Subscription(copy(before, proposal)));
        Caller who = Caller.principal(publisher.id());
        boolean covers = true;
        List<Needed> refused = new ArrayList<>();
        for (Needed each : needed) {
            List<Need> open = new ArrayList<>();
            covers &= rules.byRoles(who.objectId(), each.action(), RoleTrim.sample(each), open) == Truth.TRUE;
            Decision decision = rules.decide(who, each.action(), RoleTrim.sample(each), RequestContext.PLAIN, false);
            if (decision.outcome() == Decision.Outcome.DENY) {
                refused.add(each);
            }
        }
        return new RoleProof(covers, within(rules, who, needed), refused);
    }

    /** Asks for every action that the program knows, at every place that matters to the publisher. */
    private static boolean within(AccessRules rules, Caller who, List<Needed> needed) {
        List<String> places = new ArrayList<>(List.of(rules.subscription().id()));
        for (Needed each : needed) {
            places.add(each.on());
            ResourceId.accountIn(each.on()).ifPresent(account -> {
                places.add(account);
                places.add(ResourceId.container(account, "another-container"));
            });
        }
        for (String place : places.stream().distinct().toList()) {
            for (String action : RoleTrim.known()) {
                boolean isNeeded = needed.stream()
                        .anyMatch(each -> each.action().equalsIgnoreCase(action) && ResourceId.same(each.on(), place));
                String resource = ActionPattern.isData(action)
                                && ResourceId.containerIn(place).isPresent()
                        ? place + "/blobs/x"
                        : place;
                if (!isNeeded && rules.byRoles(who.objectId(), action, resource, new ArrayList<>()) == Truth.TRUE) {
                    return false;
                }
            }
        }
        return true;
    }

    private static Survey copy(Subscription before, RoleProposal proposal) {
        Survey survey = before.survey();
        List<Object> roles = new ArrayList<>();
        before.list(DEFINITIONS, before.id(), "").items().forEach(item -> roles.add(item.document()));
        List<Object> assigned = new ArrayList<>();
        for (int i = 0; i < proposal.given().size(); i++) {
            RoleProposal.Given given = proposal.given().get(i);
            String guid = "00000000-0000-4000-8000-00000000000" + i;
            roles.add(Json.object(
                    "id",
                    "/providers/Microsoft.Authorization/roleDefinitions/" + guid,
                    "properties",
                    Json.object(
                            "roleName",
                            given.name(),
                            "type",
                            "CustomRole",
                            "permissions",
                            List.of(Json.object(
                                    "actions",
                                    given.ofData() ? List.of() : given.actions(),
                                    "dataActions",
                                    given.ofData() ? given.actions() : List.of())))));
            for (String scope : given.scopes()) {
                assigned.add(Json.object(
                        "id",
                        "proposed-" + assigned.size(),
                        "properties",
                        Json.object(
                                "roleDefinitionId",
                                "x/" + guid,
                                "principalId",
                                proposal.principalId(),
                                "principalType",
                                "ServicePrincipal",
                                "scope",
                                scope)));
            }
        }
        Survey copy = survey.with(line(DEFINITIONS, before.spelled(DEFINITIONS, before.id()), roles));
        for (String of : List.of(before.id(), before.id() + "?atScope()")) {
            List<Object> kept = new ArrayList<>();
            before.list(ASSIGNMENTS, of, "").items().stream()
                    .filter(item -> item.text("principalId")
                            .filter(proposal.principalId()::equalsIgnoreCase)
                            .isEmpty())
                    .forEach(item -> kept.add(item.document()));
            if (of.equals(before.id())) {
                kept.addAll(assigned);
            }
            copy = copy.with(line(ASSIGNMENTS, before.spelled(ASSIGNMENTS, of), kept));
        }
        for (String single : List.copyOf(survey.subjects("role-assignment"))) {
            copy = copy.without("role-assignment", single);
        }
        return copy;
    }

    private static SurveyLine line(String aspect, String of, List<Object> items) {
        String body = Json.text(Json.object("value", items));
        return new SurveyLine("", 1, aspect, of, "", SurveyLine.Outcome.FOUND, body);
    }
}
