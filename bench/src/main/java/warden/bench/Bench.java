package warden.bench;

import java.io.InputStream;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import java.util.function.UnaryOperator;
import tools.jackson.databind.ObjectMapper;
import tools.jackson.databind.json.JsonMapper;
import warden.core.Providers;
import warden.core.access.Questions;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.reach.BucketAnswers;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.reach.Reach;
import warden.core.aws.storage.Bucket;
import warden.core.site.SiteFile;
import warden.core.survey.Survey;
import warden.gather.survey.SurveyFiles;

/** Runs one measurement by name and prints its figures. */
public final class Bench {
    private static final PrintStream OUT = System.out;
    private static final int QUESTIONS = 1_000_000;
    private static final int BATCH = 8_192;

    private Bench() {}

    /** Runs the measurement that the first argument names. */
    public static void main(String[] arguments) throws Exception {
        String name = arguments.length == 0 ? "" : arguments[0];
        switch (name) {
            case "questions" -> questions();
            case "matrix" -> matrix();
            case "hostile" -> hostile();
            case "survey" -> SurveyBench.run();
            case "subscription-survey" -> SurveyBench.subscription();
            case "organization-survey" -> SurveyBench.organization();
            case "inventory" -> InventoryBench.run();
            case "script" -> SurveyBench.script();
            case "start" -> StartBench.run();
            case "activity" -> PublishingBench.activity();
            case "activity-result" -> PublishingBench.result();
            case "folder" -> PublishingBench.folder();
            case "rules" -> Organisation.rules();
            case "organisation" -> Organisation.run(arguments.length > 1 ? arguments[1] : "");
            case "trim" -> Organisation.trim();
            case "subscription" -> Organisation.subscription(arguments.length > 1 ? arguments[1] : "");
            case "roles" -> roles();
            case "drift" -> Organisation.drift();
            case "plan" -> PlanBench.run();
            default ->
                OUT.println(
                        "name one of: questions, matrix, hostile, survey, script, start, activity, activity-result, folder, rules, organisation [N], trim");
        }
    }

    static double seconds(Runnable work) {
        long start = System.nanoTime();
        work.run();
        return (System.nanoTime() - start) / 1e9;
    }

    static void print(String text, Object... values) {
        OUT.println(spelled(text, values));
    }

    static String spelled(String text, Object... values) {
        return String.format(Locale.ROOT, text, values);
    }

    /** A million questions, against reading and writing the same lines with the JSON library alone. */
    private static void questions() throws Exception {
        StringBuilder lines = new StringBuilder(Surveys.noAccountBlock());
        for (int i = 0; i < 20; i++) {
            lines.append(Surveys.bucket("site-" + i, policy(5, i)));
        }
        Questions answers =
                new Questions(new BucketAnswers(List.of(new Evaluator(Surveys.account(lines.toString()))), false));
        ObjectMapper mapper = JsonMapper.builder().build();
        List<String> asked = new ArrayList<>(QUESTIONS);
        String[] who = {"anyone", "any-account", "arn:aws:iam::109876543210:root", "service:cloudfront.amazonaws.com"};
        String[] actions = {"s3:GetObject", "s3:PutObject", "s3:ListBucket"};
        for (int i = 0; i < QUESTIONS; i++) {
            asked.add(Surveys.json("{'id':'q" + i + "','who':'" + who[i % 4] + "','action':'" + actions[i % 3]
                    + "','on':'arn:aws:s3:::site-" + i % 20 + "/folder-" + i % 97
                    + "/page.html','context':{'aws:SecureTransport':'true','aws:SourceIp':'198.51.100." + i % 250
                    + "'}}"));
        }
        Spent.compare(
                "reading and writing a million lines as JSON",
                () -> Spent.on(() -> batched(asked, line -> mapper.writeValueAsString(mapper.readTree(line)))),
                "answering a million questions",
                () -> Spent.on(() -> batched(asked, answers::answer)),
                1,
                3);
    }

    /** The same of the second provider: a million questions of who may do what with the containers of twenty accounts. */
    private static void roles() throws Exception {
        Path file = Files.createTempFile("subscription", ".ndjson");
        StampedSubscription.write(file, 20);
        Survey survey = SurveyFiles.read(file.toString(), InputStream.nullInputStream());
        Files.delete(file);
        UnaryOperator<String> answers = Providers.open(List.of(survey), SiteFile.empty(), Optional.empty())
                .all()
                .get(0)
                .questions(false);
        ObjectMapper mapper = JsonMapper.builder().build();
        String[] who = {
            "anyone", "servicePrincipals/b3d1c0aa-4e2f-4b8a-9c55-1f7d2e100003", "any-account", "servicePrincipals/none"
        };
        String[] actions = {"read", "write", "delete"};
        List<String> asked = new ArrayList<>(QUESTIONS);
        for (int i = 0; i < QUESTIONS; i++) {
            asked.add(Surveys.json("{'id':'q" + i + "','who':'" + who[i % 4]
                    + "','action':'Microsoft.Storage/storageAccounts/blobServices/containers/blobs/" + actions[i % 3]
                    + "','on':'/subscriptions/0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90/resourceGroups/quayside-rg/providers/Microsoft.Storage/storageAccounts/harbour"
                    + (100_000 + i % 20) + "/blobServices/default/containers/$web/blobs/folder-" + i % 97
                    + "/page.html','context':{'secureTransport':true,'sourceIp':'198.51.100." + i % 250 + "'}}"));
        }
        Spent.compare(
                "reading and writing a million lines as JSON",
                () -> Spent.on(() -> batched(asked, line -> mapper.writeValueAsString(mapper.readTree(line)))),
                "answering a million questions",
                () -> Spent.on(() -> batched(asked, answers::apply)),
                1,
                3);
    }

    private interface Step {
        String apply(String line);
    }

    private static long batched(List<String> lines, Step step) {
        long written = 0;
        for (int from = 0; from < lines.size(); from += BATCH) {
            List<String> out = lines.subList(from, Math.min(lines.size(), from + BATCH)).parallelStream()
                    .map(step::apply)
                    .toList();
            for (String line : out) {
                written += line.length();
            }
        }
        return written;
    }

    /** Returns a policy of so many statements: prefixes, conditions, other accounts, denies. */
    private static String policy(int statements, int seed) {
        Random random = new Random(seed);
        List<String> all = new ArrayList<>();
        String arn = "arn:aws:s3:::site-" + seed;
        for (int i = 0; i < statements; i++) {
            String effect = i % 4 == 3 ? "Deny" : "Allow";
            String principal =
                    i % 3 == 0 ? "'*'" : "{'AWS':'arn:aws:iam::" + (100_000_000_000L + random.nextInt(5)) + ":root'}";
            String action = i % 2 == 0 ? "'s3:GetObject'" : "['s3:PutObject','s3:DeleteObject','s3:ListBucket']";
            String condition =
                    switch (i % 4) {
                        case 0 -> "";
                        case 1 ->
                            ",'Condition':{'StringLike':{'aws:Referer':'https://h" + random.nextInt(9)
                                    + ".example/*'}}";
                        case 2 ->
                            ",'Condition':{'IpAddress':{'aws:SourceIp':'198.51." + random.nextInt(99) + ".0/24'}}";
                        default -> ",'Condition':{'Bool':{'aws:SecureTransport':'false'}}";
                    };
            all.add("{'Effect':'" + effect + "','Principal':" + principal + ",'Action':" + action + ",'Resource':['"
                    + arn + "','" + arn + "/folder-" + random.nextInt(20) + "*']" + condition + "}");
        }
        return Surveys.json("{'Version':'2012-10-17','Statement':[" + String.join(",", all) + "]}");
    }

    /** The matrix of 1,000 buckets with policies of 20 statements. */
    private static void matrix() throws Exception {
        StringBuilder lines = new StringBuilder(Surveys.noAccountBlock());
        for (int i = 0; i < 1_000; i++) {
            lines.append(Surveys.bucket("site-" + i, policy(20, i)));
        }
        Spent spent = Spent.median(
                0,
                () -> Spent.on(() -> {
                    Account account = Surveys.account(lines.toString());
                    BucketMatrix matrix = new BucketMatrix(new Reach(new Evaluator(account)));
                    account.buckets().parallelStream().forEach(bucket -> matrix.of(bucket, List.of()));
                }));
        print("matrix of 1000 buckets, 20 statements each: %s (bound 5 s on 2 cores)", spent);
    }

    /** Policies at the provider's size limit that are made to be hard; each within 2 seconds, or "too complex". */
    private static void hostile() {
        List<String> policies = new ArrayList<>();
        String many = "*a?b*".repeat(40);
        for (String effect : new String[] {"Allow", "Deny"}) {
            policies.add(document(effect, "Resource", pattern -> many + pattern, 90));
            policies.add(
                    document(effect, "NotResource", pattern -> "?".repeat(pattern % 40) + "*" + "?a".repeat(60), 130));
            policies.add(document(effect, "Resource", pattern -> "*" + "ab?".repeat(50) + "*" + pattern + "*", 100));
        }
        double worst = 0;
        for (String policy : policies) {
            String kind =
                    policy.length() + " characters, " + policy.substring(60, 75).replaceAll("[^A-Za-z]", "");
            String[] words = new String[1];
            double taken = seconds(() -> {
                Account account = Surveys.account(Surveys.noAccountBlock() + Surveys.bucket("b", policy));
                Evaluator evaluator = new Evaluator(account);
                Bucket bucket = account.bucket("b");
                words[0] = new BucketMatrix(new Reach(evaluator))
                        .of(bucket, List.of()).rows().get(0).abilities().values().stream()
                                .map(extent -> extent.kind().word()
                                        + (extent.why().startsWith("too complex") ? " (too complex)" : ""))
                                .toList()
                                .toString();
                evaluator.decide(new Request(
                        new Actor.Anyone(), "s3:GetObject", bucket.object("ab".repeat(400)), Context.empty()));
            });
            worst = Math.max(worst, taken);
            print("%s: %.2f s, %s", kind, taken, words[0]);
        }
        print("worst %.2f s (bound 2 s each)", worst);
    }

    private interface Pattern {
        String at(int number);
    }

    private static String document(String effect, String element, Pattern pattern, int count) {
        List<String> statements = new ArrayList<>();
        int size = 0;
        for (int i = 0; i < count && size < 19_000; i++) {
            String statement = Surveys.json("{'Effect':'" + (i % 2 == 0 ? "Allow" : effect)
                    + "','Principal':'*','Action':'s3:*','" + element + "':'arn:aws:s3:::b/" + pattern.at(i) + "'}");
            size += statement.length() + 1;
            statements.add(statement);
        }
        return Surveys.json("{'Version':'2012-10-17','Statement':[") + String.join(",", statements) + "]}";
    }
}
