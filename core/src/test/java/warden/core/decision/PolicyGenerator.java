package warden.core.decision;

import java.util.List;
import java.util.stream.Collectors;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import warden.core.decision.NaiveEvaluator.Rule;
import warden.core.fixture.SurveyBuilder;

/** Makes bucket policies and requests that collide often. */
public final class PolicyGenerator {
    public static final String OUTSIDER = "arn:aws:iam::109876543210:user/otto";
    public static final List<String> WHO = List.of("anyone", OUTSIDER, "service:cloudfront.amazonaws.com");
    public static final List<String> KEYS = List.of("index.html", "public/a", "public/b/c", "private/x", "p");
    static final List<String> REFERERS = List.of("a", "ab", "b");

    private PolicyGenerator() {}

    static Arbitrary<List<Rule>> policies() {
        Arbitrary<List<String>> principals = Arbitraries.of(
                        "*", OUTSIDER, "109876543210", "arn:aws:iam::109876543210:user/maren")
                .list()
                .ofMinSize(1)
                .ofMaxSize(2);
        Arbitrary<List<String>> actions = Arbitraries.of(
                        "s3:GetObject", "s3:Get*", "s3:*", "s3:PutObject", "S3:getobject", "s3:?etObject", "*")
                .list()
                .ofMinSize(1)
                .ofMaxSize(2);
        Arbitrary<List<String>> resources = Arbitraries.of("/*", "/public/*", "/p*", "/private/?", "/index.html", "*")
                .map(rest -> "arn:aws:s3:::b" + rest)
                .list()
                .ofMinSize(1)
                .ofMaxSize(2);
        Arbitrary<String> operators = Arbitraries.of(
                "", "", "StringEquals", "StringNotEquals", "StringLike", "StringNotLike", "StringEqualsIfExists");
        Arbitrary<List<String>> values =
                Arbitraries.of("a", "a*", "b", "?").list().ofMinSize(1).ofMaxSize(2);
        Arbitrary<Boolean> mostly =
                Arbitraries.frequency(net.jqwik.api.Tuple.of(4, false), net.jqwik.api.Tuple.of(1, true));
        Arbitrary<Boolean> effects =
                Arbitraries.frequency(net.jqwik.api.Tuple.of(2, true), net.jqwik.api.Tuple.of(1, false));
        return Combinators.combine(effects, mostly, principals, mostly, actions, mostly, resources)
                .flatAs((allow, notPrincipal, who, notAction, what, notResource, on) -> Combinators.combine(
                                operators, values)
                        .as((operator, compared) -> new Rule(
                                allow,
                                notPrincipal,
                                who,
                                notAction,
                                what,
                                notResource,
                                on,
                                operator,
                                "aws:Referer",
                                compared)))
                .list()
                .ofMinSize(1)
                .ofMaxSize(4);
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
