package warden.core.aws.decision;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import warden.core.access.Decision.Outcome;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.fixture.Audited;
import warden.core.fixture.Seeded;
import warden.core.fixture.SurveyBuilder;

/** Policies that were damaged on their way: nothing crashes, and no damage opens a door without being told. */
class MutatedPoliciesTest {
    private static final int MUTANTS = Seeded.cases(1_000);

    /** Allowing statements only, so that a flipped letter in a name can narrow but not widen. */
    private static final List<String> ALLOWING = List.of(
            "{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':'*','Action':'s3:GetObject',"
                    + "'Resource':'arn:aws:s3:::b/public/*'}]}",
            "{'Version':'2012-10-17','Statement':[{'Sid':'Read','Effect':'Allow','Principal':{'AWS':"
                    + "'arn:aws:iam::210987654321:user/anna'},'Action':['s3:GetObject','s3:PutObject'],"
                    + "'Resource':['arn:aws:s3:::b/public/*','arn:aws:s3:::b/press/*']}]}",
            "{'Version':'2012-10-17','Id':'P','Statement':{'Effect':'Allow','Principal':{'CanonicalUser':"
                    + "'7c1e5a90b24d6f38'},'Action':'s3:ListBucket','Resource':'arn:aws:s3:::b','Condition':"
                    + "{'StringEquals':{'s3:prefix':'public/'}}}}");

    /** With what takes back; damaged in their form only, since another name in a deny is another policy. */
    private static final List<String> DENYING = List.of(
            "{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':"
                    + "['arn:aws:s3:::b','arn:aws:s3:::b/*']},{'Effect':'Deny','Principal':'*','Action':'s3:*',"
                    + "'Resource':['arn:aws:s3:::b','arn:aws:s3:::b/*'],'Condition':{'Bool':"
                    + "{'aws:SecureTransport':'false'}}}]}",
            "{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':"
                    + "'arn:aws:s3:::b/*'},{'Effect':'Deny','NotPrincipal':{'AWS':'arn:aws:iam::210987654321:root'},"
                    + "'NotAction':'s3:List*','Resource':'*'}]}");

    private static final List<Request> REQUESTS = requests();

    private static List<Request> requests() {
        List<Request> all = new ArrayList<>();
        Set<String> callers = Set.of(
                "anyone",
                "arn:aws:iam::210987654321:user/anna",
                "arn:aws:iam::109876543210:user/otto",
                "arn:aws:iam::210987654321:root");
        Map<String, ContextValue> plain = new HashMap<>();
        plain.put("aws:SecureTransport", ContextValue.Known.of("false"));
        plain.put("s3:prefix", ContextValue.Known.of("public/"));
        for (String caller : callers) {
            for (String action : List.of("s3:GetObject", "s3:PutObject", "s3:DeleteObject")) {
                for (String key : List.of("public/a", "press/b", "private/c")) {
                    all.add(new Request(
                            Actor.parse(caller).orElseThrow(), action, "arn:aws:s3:::b/" + key, Context.given(plain)));
                }
            }
            all.add(new Request(
                    Actor.parse(caller).orElseThrow(), "s3:ListBucket", "arn:aws:s3:::b", Context.given(plain)));
        }
        return all;
    }

    private static List<Boolean> allowed(SurveyBuilder survey) {
        Evaluator evaluator = new Evaluator(survey.account());
        return REQUESTS.stream()
                .map(request -> evaluator.decide(request).outcome() == Outcome.ALLOW)
                .toList();
    }

    private static SurveyBuilder withPolicy(String text) {
        return aSurvey().bucket("b", bucket -> bucket.policyText(text)).user("anna");
    }

    private static void assertNoNewDoor(String original, String mutant) {
        SurveyBuilder survey = withPolicy(mutant);
        List<Boolean> before = allowed(withPolicy(original));
        List<Boolean> after = allowed(survey);
        for (int i = 0; i < before.size(); i++) {
            if (after.get(i) && !before.get(i)) {
                assertThat(Audited.check("policy-invalid", survey).findings())
                        .as("%s is newly allowed by %s", REQUESTS.get(i), mutant)
                        .isNotEmpty();
                return;
            }
        }
    }

    private static String flipped(String text, Random random) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        for (int i = 0; i <= random.nextInt(3); i++) {
            bytes[random.nextInt(bytes.length)] ^= (byte) (1 << random.nextInt(7));
        }
        return new String(bytes, StandardCharsets.UTF_8);
    }

    @Test
    void aThousandFlippedBytesOpenNothing() {
        Random random = new Random(20261124);
        for (int i = 0; i < MUTANTS; i++) {
            String original = SurveyBuilder.json(ALLOWING.get(i % ALLOWING.size()));
            assertNoNewDoor(original, flipped(original, random));
        }
    }

    @Test
    void cutOffPoliciesOpenNothing() {
        for (String each : ALLOWING) {
            String original = SurveyBuilder.json(each);
            for (int length = 0; length < original.length(); length++) {
                assertNoNewDoor(original, original.substring(0, length));
            }
        }
        for (String each : DENYING) {
            String original = SurveyBuilder.json(each);
            for (int length = 0; length < original.length(); length++) {
                assertNoNewDoor(original, original.substring(0, length));
            }
        }
    }

    @Test
    void changedFormsOpenNothing() {
        for (String each : DENYING) {
            for (String[] change : List.of(
                    new String[] {"'Effect':'Deny'", "'Effect':'Deny','Effect':'Allow'"},
                    new String[] {"'Effect':'Deny'", "'Effect':'deny'"},
                    new String[] {"'Effect':'Deny'", "'Effect':1"},
                    new String[] {"'Effect':'Deny'", "'Effect':null"},
                    new String[] {"'Effect':'Deny'", "'Effekt':'Deny'"},
                    new String[] {"'Resource':", "'Resource':[],'Resource':"},
                    new String[] {"'Resource':", "'resource':"},
                    new String[] {"'Statement':[", "'Statement':[7,"},
                    new String[] {"'Statement':[", "'Statement':[[],"},
                    new String[] {"'Statement':[", "'Statement':[{},"},
                    new String[] {"'Principal':'*'", "'Principal':['*']"},
                    new String[] {"'Condition':{'Bool'", "'Condition':{'Boolean'"},
                    new String[] {"'Condition':{'Bool'", "'Condition':[],'Bool':{'Bool'"},
                    new String[] {"'false'", "false"},
                    new String[] {"'false'", "['false',[1]]"},
                    new String[] {"'2012-10-17'", "20121017"},
                    new String[] {"'NotAction':'s3:List*'", "'NotAction':{'s3':'List*'}"},
                    new String[] {"'NotPrincipal':{", "'NotPrincipal':{'AWS':7,"})) {
                String mutant = each.replace(change[0], change[1]);
                if (!mutant.equals(each)) {
                    assertNoNewDoor(SurveyBuilder.json(each), SurveyBuilder.json(mutant));
                }
            }
        }
    }

    @Test
    void monstersAreSurvived() {
        String original = SurveyBuilder.json(ALLOWING.get(0));
        List<String> monsters = List.of(
                "[".repeat(10_000),
                "[".repeat(10_000) + "]".repeat(10_000),
                "{\"Statement\":".repeat(10_000) + "1" + "}".repeat(10_000),
                "{\"Version\":\"2012-10-17\",\"Statement\":["
                        + "{\"Effect\":\"Allow\",\"Principal\":\"*\",\"Action\":\"s3:Nothing\",\"Resource\":\"x\"},"
                                .repeat(5_000)
                        + "{}]}",
                "{\"Version\":\"2012-10-17\",\"Statement\":{\"Effect\":\"Allow\",\"Principal\":\"*\",\"Action\":[\"a\""
                        + ",\"a\"".repeat(50_000) + "],\"Resource\":\"*\"}}",
                "\"" + "x".repeat(100_000) + "\"",
                "\u0000\uFFFF\uD800",
                "1e999999999",
                "nul",
                "");
        for (String monster : monsters) {
            assertNoNewDoor(original, monster);
            SurveyBuilder survey = withPolicy(monster);
            boolean told = !Audited.check("policy-invalid", survey).findings().isEmpty();
            assertThat(told).as("a word about %.40s", monster).isTrue();
        }
    }
}
