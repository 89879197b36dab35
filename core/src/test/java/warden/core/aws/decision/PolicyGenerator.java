package warden.core.aws.decision;

import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.aws.decision.NaiveEvaluator.Rule;
import warden.core.fixture.Seeded;
import warden.core.fixture.SurveyBuilder;

/** Makes bucket policies and requests that collide often. */
public final class PolicyGenerator {
    public static final String OUTSIDER = "arn:aws:iam::109876543210:user/otto";
    public static final List<String> WHO = List.of("anyone", OUTSIDER, "service:cloudfront.amazonaws.com");
    public static final List<String> KEYS = List.of("index.html", "public/a", "public/b/c", "private/x", "p");
    static final List<String> REFERERS = List.of("a", "ab", "b");

    private PolicyGenerator() {}

    static List<Rule> policy(Random random) {
        return Seeded.list(random, 1, 4, () -> rule(random));
    }

    private static Rule rule(Random random) {
        return new Rule(
                random.nextInt(3) > 0,
                random.nextInt(5) == 0,
                texts(random, "*", OUTSIDER, "109876543210", "arn:aws:iam::109876543210:user/maren"),
                random.nextInt(5) == 0,
                texts(random, "s3:GetObject", "s3:Get*", "s3:*", "s3:PutObject", "S3:getobject", "s3:?etObject", "*"),
                random.nextInt(5) == 0,
                texts(random, "/*", "/public/*", "/p*", "/private/?", "/index.html", "*").stream()
                        .map(rest -> "arn:aws:s3:::b" + rest)
                        .toList(),
                Seeded.of(
                        random,
                        "",
                        "",
                        "StringEquals",
                        "StringNotEquals",
                        "StringLike",
                        "StringNotLike",
                        "StringEqualsIfExists"),
                "aws:Referer",
                texts(random, "a", "a*", "b", "?"));
    }

    private static List<String> texts(Random random, String... from) {
        return Seeded.list(random, 1, 2, () -> Seeded.of(random, from));
    }

    /** Returns policies of fewer statements. */
    static Stream<List<Rule>> smaller(List<Rule> rules) {
        return Seeded.shorter(rules, 1);
    }

    static String json(Rule rule) {
        String condition = rule.operator().isEmpty()
                ? ""
                : ",'Condition':{'" + rule.operator() + "':{'" + rule.key() + "':" + list(rule.values()) + "}}";
        return "{'Effect':'" + (rule.allow() ? "Allow" : "Deny") + "','" + (rule.notPrincipal() ? "Not" : "")
                + "Principal':{'AWS':" + list(rule.principals()) + "},'" + (rule.notAction() ? "Not" : "") + "Action':"
                + list(rule.actions()) + ",'" + (rule.notResource() ? "Not" : "") + "Resource':"
                + list(rule.resources())
                + condition + "}";
    }

    private static String list(List<String> texts) {
        return texts.stream().collect(Collectors.joining("','", "['", "']"));
    }

    static SurveyBuilder survey(List<Rule> rules) {
        return SurveyBuilder.aSurvey()
                .bucket(
                        "b",
                        bucket -> bucket.policy(
                                rules.stream().map(PolicyGenerator::json).toArray(String[]::new)));
    }
}
