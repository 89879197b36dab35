package warden.core.aws.decision;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.access.Ability;
import warden.core.access.Decision.Outcome;
import warden.core.access.Extent;
import warden.core.access.Truth;
import warden.core.aws.decision.NaiveEvaluator.Rule;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.reach.Grantee;
import warden.core.aws.reach.Reach;
import warden.core.aws.storage.Bucket;
import warden.core.fixture.Seeded;

class EvaluatorPropertiesTest {
    private static final Map<String, Ability> ACTIONS =
            Map.of("s3:GetObject", Ability.READ, "s3:PutObject", Ability.WRITE);

    private static void holds(long seed, int tries, Consumer<List<Rule>> property) {
        Seeded.holds(seed, tries, PolicyGenerator::policy, PolicyGenerator::smaller, property);
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

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void agreesWithANaiveEvaluator(long seed) {
        holds(seed, 100, EvaluatorPropertiesTest::agrees);
    }

    private static void agrees(List<Rule> rules) {
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

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void neverAllowsMoreForADenyAdded(long seed) {
        Seeded.holds(
                seed,
                50,
                random -> List.of(PolicyGenerator.policy(random), PolicyGenerator.policy(random)),
                made -> Seeded.smallerItems(made, PolicyGenerator::smaller),
                made -> allowsNoMore(made.get(0), made.get(1).get(0)));
    }

    private static void allowsNoMore(List<Rule> rules, Rule deny) {
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

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void setsAgreeWithSingleDecisions(long seed) {
        holds(seed, 75, EvaluatorPropertiesTest::setsAgree);
    }

    private static void setsAgree(List<Rule> rules) {
        Evaluator evaluator = new Evaluator(PolicyGenerator.survey(rules).account());
        Reach reach = new Reach(evaluator);
        Bucket bucket = evaluator.account().bucket("b");
        for (String who : PolicyGenerator.WHO) {
            Actor actor = Actor.parse(who).orElseThrow();
            ACTIONS.forEach((action, ability) -> {
                Extent extent = reach.extent(bucket, new Grantee(actor), ability);
                assertThat(extent.kind()).as(extent.why()).isNotEqualTo(Extent.Kind.UNKNOWN);
                extent.witness().ifPresent(witness -> assertThat(
                                evaluator.decide(Request.of(actor, witness)).outcome())
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

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void publicPoliciesAreThoseThatLetStrangersInSomewhere(long seed) {
        holds(seed, 25, EvaluatorPropertiesTest::isPublic);
    }

    private static void isPublic(List<Rule> rules) {
        Evaluator evaluator = new Evaluator(PolicyGenerator.survey(rules).account());
        Bucket bucket = evaluator.account().bucket("b");
        boolean anyoneAllowed = PolicyGenerator.KEYS.stream().anyMatch(key -> contexts().stream()
                .anyMatch(context -> outcome(evaluator, "anyone", "s3:GetObject", key, context) == Outcome.ALLOW));
        if (anyoneAllowed) {
            assertThat(bucket.hasPublicPolicy()).isEqualTo(Truth.TRUE);
        }
    }
}
