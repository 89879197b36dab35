package warden.core.decision;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import warden.core.decision.Decision.Outcome;
import warden.core.decision.NaiveEvaluator.Rule;
import warden.core.policy.Actor;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.policy.Truth;
import warden.core.reach.Ability;
import warden.core.reach.Extent;
import warden.core.reach.Grantee;
import warden.core.reach.Reach;
import warden.core.storage.Bucket;

class EvaluatorPropertiesTest {
    private static final Map<String, Ability> ACTIONS =
            Map.of("s3:GetObject", Ability.READ, "s3:PutObject", Ability.WRITE);

    @Provide
    Arbitrary<List<Rule>> policies() {
        return PolicyGenerator.policies();
    }

    private static Outcome outcome(
            Evaluator evaluator, String who, String action, String key, Map<String, String> context) {
        Map<String, ContextValue> values = new java.util.HashMap<>();
        context.forEach((name, value) -> values.put(name, ContextValue.Known.of(value)));
        return evaluator
                .decide(new Request(
                        Actor.parse(who).orElseThrow(), action, "arn:aws:s3:::b/" + key, Context.given(values)))
                .outcome();
    }

    private static List<Map<String, String>> contexts() {
        List<Map<String, String>> contexts = new ArrayList<>(List.of(Map.of()));
        PolicyGenerator.REFERERS.forEach(referer -> contexts.add(Map.of("aws:Referer", referer)));
        return contexts;
    }

    @Property(tries = 400)
    void agreesWithANaiveEvaluator(@ForAll("policies") List<Rule> rules) {
        Evaluator evaluator = new Evaluator(PolicyGenerator.survey(rules).account());
        for (String who : PolicyGenerator.WHO) {
            for (String action : ACTIONS.keySet()) {
                for (String key : PolicyGenerator.KEYS) {
                    for (Map<String, String> context : contexts()) {
                        boolean expected = NaiveEvaluator.allows(rules, who, action, "arn:aws:s3:::b/" + key, context);
                        assertThat(outcome(evaluator, who, action, key, context))
                                .as("%s %s %s %s", who, action, key, context)
                                .isEqualTo(expected ? Outcome.ALLOW : Outcome.DENY);
                    }
                }
            }
        }
    }

    @Property(tries = 200)
    void neverAllowsMoreForADenyAdded(@ForAll("policies") List<Rule> rules, @ForAll("policies") List<Rule> more) {
        Rule deny = more.get(0);
        List<Rule> longer = new ArrayList<>(rules);
        longer.add(new Rule(
                false,
                deny.notPrincipal(),
                deny.principals(),
                deny.notAction(),
                deny.actions(),
                deny.notResource(),
                deny.resources(),
                deny.operator(),
                deny.key(),
                deny.values()));
        Evaluator before = new Evaluator(PolicyGenerator.survey(rules).account());
        Evaluator after = new Evaluator(PolicyGenerator.survey(longer).account());
        for (String who : PolicyGenerator.WHO) {
            for (String key : PolicyGenerator.KEYS) {
                if (outcome(after, who, "s3:GetObject", key, Map.of()) == Outcome.ALLOW) {
                    assertThat(outcome(before, who, "s3:GetObject", key, Map.of()))
                            .isEqualTo(Outcome.ALLOW);
                }
            }
        }
    }

    @Property(tries = 300)
    void setsAgreeWithSingleDecisions(@ForAll("policies") List<Rule> rules) {
        Evaluator evaluator = new Evaluator(PolicyGenerator.survey(rules).account());
        Reach reach = new Reach(evaluator);
        Bucket bucket = evaluator.account().bucket("b");
        for (String who : PolicyGenerator.WHO) {
            Actor actor = Actor.parse(who).orElseThrow();
            ACTIONS.forEach((action, ability) -> {
                Extent extent = reach.extent(bucket, new Grantee(actor), ability);
                assertThat(extent.kind()).as(extent.why()).isNotEqualTo(Extent.Kind.UNKNOWN);
                extent.witness().ifPresent(witness -> assertThat(
                                evaluator.decide(witness.request()).outcome())
                        .isEqualTo(Outcome.ALLOW));
                boolean sampled = PolicyGenerator.KEYS.stream().anyMatch(key -> contexts().stream()
                        .anyMatch(context -> outcome(evaluator, who, action, key, context) == Outcome.ALLOW));
                boolean all = PolicyGenerator.KEYS.stream().allMatch(key -> contexts().stream()
                        .allMatch(context -> outcome(evaluator, who, action, key, context) == Outcome.ALLOW));
                if (extent.kind() == Extent.Kind.NONE) {
                    assertThat(sampled).as("%s %s", who, action).isFalse();
                }
                if (extent.kind() == Extent.Kind.ALL && ability == Ability.WRITE) {
                    assertThat(all).as("%s %s", who, action).isTrue();
                }
            });
        }
    }

    @Property(tries = 100)
    void publicPoliciesAreThoseThatLetStrangersInSomewhere(@ForAll("policies") List<Rule> rules) {
        Evaluator evaluator = new Evaluator(PolicyGenerator.survey(rules).account());
        Bucket bucket = evaluator.account().bucket("b");
        boolean anyoneAllowed = PolicyGenerator.KEYS.stream().anyMatch(key -> contexts().stream()
                .anyMatch(context -> outcome(evaluator, "anyone", "s3:GetObject", key, context) == Outcome.ALLOW));
        if (anyoneAllowed) {
            assertThat(bucket.hasPublicPolicy()).isEqualTo(Truth.TRUE);
        }
    }
}
